import { download } from '../../platform/files'
import { done, routes } from '../../platform/routes'
import { bookLine, bookTrustLine } from './booking'
import { markInTransit, matchPairs, nameLine, partMatch, proposals } from './matching'
import { accountsAtBank, agreeToMonth, askReopening, closeMonth, monthReport, monthsToClose, refuseMonth, startOf, workOn } from './months'
import { monthRequests } from './month-queries'
import { refusePair } from './refused'
import { bookByRules, linesByRules, removeRule, saveRule } from './rules'
import { rulesOf } from './queries'
import { readStatement, takeStatement } from './statements'

const b = routes.bank
export const bankRoutes = {
  accounts: b.accounts.handler(({ context }) => accountsAtBank(context.ctx)),
  read: b.read.handler(async ({ context, input }) =>
    readStatement(context.ctx, input.id, new Uint8Array(await input.file.arrayBuffer()), input.columns),
  ),
  take: b.take.handler(({ context, input }) => takeStatement(context.ctx, input)),
  work: b.work.handler(({ context, input }) => workOn(context.ctx, input.id, input.to)),
  months: b.months.handler(({ context, input }) => monthsToClose(context.ctx, input.id)),
  start: b.start.handler(({ context, input }) => startOf(context.ctx, input.id)),
  proposals: b.proposals.handler(({ context, input }) => proposals(context.ctx, input.id)),
  rules: b.rules.handler(({ context }) => rulesOf(context.ctx.db.manager)),
  saveRule: b.saveRule.handler(({ context, input }) => saveRule(context.ctx, input)),
  removeRule: b.removeRule.handler(({ context, input }) => done(removeRule(context.ctx, input.id))),
  byRules: b.byRules.handler(({ context, input }) => linesByRules(context.ctx, input.id)),
  bookByRules: b.bookByRules.handler(({ context, input }) => bookByRules(context.ctx, input.id, input.lineIds)),
  refusePair: b.refusePair.handler(({ context, input }) => done(refusePair(context.ctx, input.id, input))),
  match: b.match.handler(({ context, input }) => matchPairs(context.ctx, input)),
  part: b.part.handler(({ context, input }) => done(partMatch(context.ctx, input.id))),
  name: b.name.handler(({ context, input }) => done(nameLine(context.ctx, input.id, input.words))),
  wasOpen: b.wasOpen.handler(({ context, input }) => done(markInTransit(context.ctx, input.id, input.inTransit))),
  book: b.book.handler(({ context, input }) => bookLine(context.ctx, input)),
  bookTrust: b.bookTrust.handler(({ context, input }) => bookTrustLine(context.ctx, input)),
  close: b.close.handler(({ context, input }) => closeMonth(context.ctx, input)),
  reopen: b.reopen.handler(({ context, input }) => done(askReopening(context.ctx, input.id, input.reason))),
  requests: b.requests.handler(({ context }) => monthRequests(context.ctx)),
  agree: b.agree.handler(({ context, input }) => agreeToMonth(context.ctx, input.id)),
  refuse: b.refuse.handler(({ context, input }) => done(refuseMonth(context.ctx, input.id))),
  report: b.report.handler(async ({ context, input }) => {
    const { data, name } = await monthReport(context.ctx, input.id)
    return download(data, name, 'application/pdf')
  }),
}
