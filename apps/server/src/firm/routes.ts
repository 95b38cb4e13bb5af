import { meOf, signIn, signOut, signOutEverywhere } from '../platform/auth'
import { sessionOf } from '../platform/queries'
import { answerOf } from '../platform/database'
import { download } from '../platform/files'
import { done, routes } from '../platform/routes'
import { demoPassword } from './demo'
import { endLeave, handOver, holdings } from './absence'
import { absences, people } from './people-queries'
import { auditFile } from './audit-log'
import { auditLog, background, backups, areas, mailSettings } from './queries'
import { settleJob } from './background'
import { wantBackup } from './backups'
import { changeArea, changeFee, fees, makeArea, makeFee, setActivities, setKinds } from './areas'
import { firstSetUp } from './first'
import { changeMail, tryMail } from './mail'
import { changeLetterhead, letterhead, letterheadSample } from './letterhead'
import { addRate, changePerson, makePerson, setPassword } from './people'
import { changeFirm, firmSettings, setHolidays } from './settings'
import { find, waiting, waterline } from './shell'
import { Firm, UserAccount } from '../platform/shared-entities'

const s = routes.shell
export const shellRoutes = {
  session: s.session.handler(async ({ context }) => {
    const { db, clock } = context.ctx
    const firm = await db.manager.findOne(Firm, { select: { name: true, demo: true, id: true }, where: { id: 1 } })
    const signedIn = await sessionOf(db, clock, context.token)
    const people = firm?.demo
      ? await db.manager.find(UserAccount, {
          select: { name: true, title: true, email: true, id: true },
          where: { active: true },
          order: { id: 'ASC' },
        })
      : null
    return {
      firm: firm?.name ?? 'Astute Heron',
      empty: !firm,
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
  act: s.act.handler(async ({ context, input }) => {
    const found = await answerOf(context.ctx, input.key)
    return { done: found !== null, answer: found?.answer ?? null }
  }),
  waterline: s.waterline.handler(({ context }) => waterline(context.ctx)),
  find: s.find.handler(({ context, input }) => find(context.ctx, input.q)),
  waiting: s.waiting.handler(({ context }) => waiting(context.ctx)),
}

const f = routes.firm
export const firmRoutes = {
  setUp: f.setUp.handler(({ context, input }) => done(firstSetUp(context.ctx, input))),
  get: f.get.handler(({ context }) => firmSettings(context.ctx)),
  change: f.change.handler(({ context, input }) => done(changeFirm(context.ctx, input))),
  setHolidays: f.setHolidays.handler(({ context, input }) => done(setHolidays(context.ctx, input.holidays))),
  people: f.people.handler(({ context }) => people(context.ctx)),
  makePerson: f.makePerson.handler(({ context, input }) => makePerson(context.ctx, input)),
  changePerson: f.changePerson.handler(({ context, input: { id, ...own } }) => done(changePerson(context.ctx, id, own))),
  setPassword: f.setPassword.handler(({ context, input }) => done(setPassword(context.ctx, input.id, input.password))),
  addRate: f.addRate.handler(({ context, input: { id, ...own } }) => addRate(context.ctx, id, own)),
  areas: f.areas.handler(({ context }) => areas(context.ctx)),
  makeArea: f.makeArea.handler(({ context, input }) => makeArea(context.ctx, input)),
  changeArea: f.changeArea.handler(({ context, input: { id, ...own } }) => done(changeArea(context.ctx, id, own))),
  setKinds: f.setKinds.handler(({ context, input }) => done(setKinds(context.ctx, input.kinds))),
  fees: f.fees.handler(({ context }) => fees(context.ctx)),
  makeFee: f.makeFee.handler(({ context, input }) => makeFee(context.ctx, input)),
  changeFee: f.changeFee.handler(({ context, input: { id, ...own } }) => done(changeFee(context.ctx, id, own))),
  setActivities: f.setActivities.handler(({ context, input }) => done(setActivities(context.ctx, input.activities))),
  absences: f.absences.handler(({ context }) => absences(context.ctx)),
  holdings: f.holdings.handler(({ context, input }) => holdings(context.ctx, input.id, input)),
  handOver: f.handOver.handler(({ context, input: { id, ...own } }) => handOver(context.ctx, id, own)),
  endLeave: f.endLeave.handler(({ context, input }) => endLeave(context.ctx, input.id)),
}

const u = routes.setUp
export const setUpFirmRoutes = {
  log: u.log.handler(({ context, input }) => auditLog(context.ctx, input)),
  logFile: u.logFile.handler(({ context, input }) => auditFile(context.ctx, input)),
  mail: u.mail.handler(({ context }) => mailSettings(context.ctx)),
  changeMail: u.changeMail.handler(({ context, input }) => done(changeMail(context.ctx, input))),
  tryMail: u.tryMail.handler(({ context }) => tryMail(context.ctx)),
  letterhead: u.letterhead.handler(({ context }) => letterhead(context.ctx)),
  changeLetterhead: u.changeLetterhead.handler(({ context, input }) => done(changeLetterhead(context.ctx, input))),
  letterheadPdf: u.letterheadPdf.handler(async ({ context, input }) =>
    download(await letterheadSample(context.ctx, input), 'letterhead.pdf', 'application/pdf'),
  ),
  backups: u.backups.handler(({ context }) => backups(context.ctx)),
  background: u.background.handler(({ context }) => background(context.ctx)),
  settleJob: u.settleJob.handler(({ context, input }) => done(settleJob(context.ctx, input.id, input.what))),
  backUp: u.backUp.handler(({ context }) => wantBackup(context.ctx)),
}
