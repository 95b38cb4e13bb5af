import { done, routes } from '../platform/routes'
import { arrangementEffect, changeArrangement, earnPortion } from './arrangement'
import { arrangementOf, walls } from './team-queries'
import { setBilling } from './payers'
import { addParty, changeMatter, changeParty, removeParty, setFields } from './change'
import { closeMatter, closing, removeMatter, reopenMatter } from './closing'
import { exportMatters } from './list'
import { facets, matters, totals } from './list-queries'
import { openMatter } from './open'
import { log, matter, news, recent, setting } from './queries'
import { placeMatter } from './placing'
import { setStage } from './stages'
import { raiseWalls } from './walls'
import { follow, leaveTeam, screenPerson, setAccess, setTeam, unscreen } from './team'

const r = routes.matters
export const matterRoutes = {
  list: r.list.handler(({ context, input }) => matters(context.ctx, input)),
  totals: r.totals.handler(({ context, input }) => totals(context.ctx, input)),
  exported: r.exported.handler(({ context, input }) => exportMatters(context.ctx, input)),
  facets: r.facets.handler(({ context }) => facets(context.ctx)),
  setting: r.setting.handler(({ context }) => setting(context.ctx)),
  get: r.get.handler(({ context, input }) => matter(context.ctx, input.id)),
  recent: r.recent.handler(({ context }) => recent(context.ctx)),
  open: r.open.handler(({ context, input }) => openMatter(context.ctx, input)),
  change: r.change.handler(({ context, input }) => done(changeMatter(context.ctx, input))),
  setFields: r.setFields.handler(({ context, input }) => done(setFields(context.ctx, input.id, input.fields))),
  place: r.place.handler(({ context, input }) => placeMatter(context.ctx, input)),
  setStage: r.setStage.handler(({ context, input }) => done(setStage(context.ctx, input.id, input.stageId))),
  arrangement: r.arrangement.handler(({ context, input }) => arrangementOf(context.ctx, input.id)),
  arrangementEffect: r.arrangementEffect.handler(({ context, input }) => arrangementEffect(context.ctx, input)),
  changeArrangement: r.changeArrangement.handler(({ context, input }) => done(changeArrangement(context.ctx, input))),
  setBilling: r.setBilling.handler(({ context, input }) => done(setBilling(context.ctx, input))),
  setTeam: r.setTeam.handler(({ context, input: { id, ...own } }) => done(setTeam(context.ctx, id, own))),
  leaveTeam: r.leaveTeam.handler(({ context, input }) => done(leaveTeam(context.ctx, input.id, input.userId))),
  setAccess: r.setAccess.handler(({ context, input }) => done(setAccess(context.ctx, input.id, input.staff))),
  screen: r.screen.handler(({ context, input }) => done(screenPerson(context.ctx, input.id, input.userId, input.reason))),
  unscreen: r.unscreen.handler(({ context, input }) => done(unscreen(context.ctx, input.id, input.userId))),
  follow: r.follow.handler(({ context, input }) => done(follow(context.ctx, input.id, input.on))),
  addParty: r.addParty.handler(({ context, input: { id, ...party } }) => addParty(context.ctx, id, party)),
  changeParty: r.changeParty.handler(({ context, input: { id, ...party } }) => done(changeParty(context.ctx, id, party))),
  removeParty: r.removeParty.handler(({ context, input }) => done(removeParty(context.ctx, input.id))),
  earnPortion: r.earnPortion.handler(({ context, input }) => done(earnPortion(context.ctx, input.id, input.day))),
  closing: r.closing.handler(({ context, input }) => closing(context.ctx, input.id)),
  close: r.close.handler(({ context, input: { id, ...own } }) => done(closeMatter(context.ctx, id, own))),
  reopen: r.reopen.handler(({ context, input }) => reopenMatter(context.ctx, input.id, input.reason)),
  remove: r.remove.handler(({ context, input }) => done(removeMatter(context.ctx, input.id))),
  log: r.log.handler(({ context, input }) => log(context.ctx, input.id, input)),
  news: r.news.handler(({ context, input }) => news(context.ctx, input.id, input.after)),
}

const u = routes.setUp
export const wallRoutes = {
  walls: u.walls.handler(({ context }) => walls(context.ctx)),
  raiseWalls: u.raiseWalls.handler(({ context, input }) => raiseWalls(context.ctx, input)),
}
