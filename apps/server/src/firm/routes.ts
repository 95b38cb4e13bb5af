import { meOf, sessionOf, signIn, signOut, signOutEverywhere } from '../platform/auth'
import { row, rows } from '../platform/database'
import { done, routes } from '../platform/routes'
import { demoPassword } from './demo'
import { find, waiting, waterline } from './shell'

const s = routes.shell
export const shellRoutes = {
  session: s.session.handler(async ({ context }) => {
    const { db, clock } = context.ctx
    const firm = await row<{ name: string; demo: number }>(db.manager, `SELECT name, demo FROM firm`)
    const signedIn = await sessionOf(db, clock, context.token)
    const people = firm?.demo
      ? await rows<{ name: string; title: string; email: string }>(
          db.manager,
          `SELECT name, title, email FROM user_account WHERE active ORDER BY id`,
        )
      : null
    return {
      firm: firm?.name ?? 'Astute Heron',
      today: clock.today(),
      me: signedIn && meOf(signedIn),
      demo: people && { people, password: demoPassword },
    }
  }),
  signIn: s.signIn.handler(async ({ context, input }) => {
    const found = await signIn(context.ctx.db, context.ctx.clock, input.email, input.password, context.address)
    context.setToken(found.token)
    return meOf(found)
  }),
  signOut: s.signOut.handler(({ context }) => {
    context.setToken(null)
    return done(signOut(context.ctx.db, context.token ?? ''))
  }),
  signOutEverywhere: s.signOutEverywhere.handler(({ context }) => {
    context.setToken(null)
    return done(signOutEverywhere(context.ctx.db, context.ctx.actor.id))
  }),
  waterline: s.waterline.handler(({ context }) => waterline(context.ctx)),
  find: s.find.handler(({ context, input }) => find(context.ctx, input.q)),
  waiting: s.waiting.handler(({ context }) => waiting(context.ctx)),
}
