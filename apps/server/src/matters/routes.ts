import { done, routes } from '../platform/routes'
import { addParty, earnPortion, openMatter, screenPerson, setBilling, setStage } from './open'
import { log, matter, matters, setting } from './queries'

const r = routes.matters
export const matterRoutes = {
  list: r.list.handler(({ context, input }) => matters(context.ctx, input)),
  setting: r.setting.handler(({ context }) => setting(context.ctx)),
  get: r.get.handler(({ context, input }) => matter(context.ctx, input.id)),
  open: r.open.handler(({ context, input }) => openMatter(context.ctx, input)),
  setStage: r.setStage.handler(({ context, input }) => done(setStage(context.ctx, input.id, input.stageId))),
  setBilling: r.setBilling.handler(({ context, input }) => done(setBilling(context.ctx, input.id, input.billToId))),
  addParty: r.addParty.handler(({ context, input: { id, ...party } }) => addParty(context.ctx, id, party)),
  screen: r.screen.handler(({ context, input }) => done(screenPerson(context.ctx, input.id, input.userId))),
  earnPortion: r.earnPortion.handler(({ context, input }) => done(earnPortion(context.ctx, input.id, input.day))),
  log: r.log.handler(({ context, input }) => log(context.ctx, input.id, input)),
}
