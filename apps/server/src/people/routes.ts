import { done, routes } from '../platform/routes'
import { checkConflicts, conflictCheck, decideHit } from './conflicts'
import { changeContact, contact, contacts, makeContact } from './service'

const p = routes.people
export const peopleRoutes = {
  list: p.list.handler(({ context, input }) => contacts(context.ctx, input)),
  get: p.get.handler(({ context, input }) => contact(context.ctx, input.id)),
  make: p.make.handler(({ context, input }) => makeContact(context.ctx, input)),
  change: p.change.handler(({ context, input: { id, ...own } }) => done(changeContact(context.ctx, id, own))),
  checkConflicts: p.checkConflicts.handler(({ context, input }) => checkConflicts(context.ctx, input.terms, input.ours)),
  getCheck: p.getCheck.handler(({ context, input }) => conflictCheck(context.ctx, input.id)),
  decideHit: p.decideHit.handler(({ context, input }) => done(decideHit(context.ctx, input.id, input.decision, input.note))),
}
