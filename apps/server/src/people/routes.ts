import { done, routes } from '../platform/routes'
import { conflictPdf } from './check-pdf'
import { checkConflicts, conflictCheck, decideHit } from './conflicts'
import { conflictChecks } from './conflict-queries'
import { changeEnquiry, checkEnquiry, declineEnquiry, enquiry, makeEnquiry, takeUpEnquiry } from './enquiries'
import { enquiries } from './queries'
import { exportContacts, readCardFile } from './exchange'
import { mergeContacts, mergePreview } from './merge'
import { changeContact, makeContact, relate, unrelate } from './service'
import { alike, contact, contactKindsOf, contacts, contactsNear } from './contact-queries'

const p = routes.people
export const peopleRoutes = {
  near: p.near.handler(({ context, input }) => contactsNear(context.ctx, input.q)),
  list: p.list.handler(({ context, input }) => contacts(context.ctx, input)),
  get: p.get.handler(({ context, input }) => contact(context.ctx, input.id)),
  kinds: p.kinds.handler(({ context }) => contactKindsOf(context.ctx.db.manager)),
  make: p.make.handler(({ context, input }) => makeContact(context.ctx, input)),
  change: p.change.handler(({ context, input: { id, ...own } }) => done(changeContact(context.ctx, id, own))),
  relate: p.relate.handler(({ context, input: { id, ...own } }) => relate(context.ctx, id, own)),
  unrelate: p.unrelate.handler(({ context, input }) => done(unrelate(context.ctx, input.id))),
  alike: p.alike.handler(({ context, input }) => alike(context.ctx, input.id)),
  mergePreview: p.mergePreview.handler(({ context, input }) => mergePreview(context.ctx, input.id, input.otherId)),
  merge: p.merge.handler(({ context, input }) => mergeContacts(context.ctx, input.id, input.otherId)),
  exported: p.exported.handler(({ context, input }) => exportContacts(context.ctx, input)),
  readCards: p.readCards.handler(async ({ context, input }) =>
    readCardFile(context.ctx, new Uint8Array(await input.file.arrayBuffer()), input.tryOnly),
  ),
  checks: p.checks.handler(({ context, input }) => conflictChecks(context.ctx, input)),
  checkConflicts: p.checkConflicts.handler(({ context, input }) =>
    checkConflicts(context.ctx, input.terms, input.ours, input.about, input.replaces),
  ),
  getCheck: p.getCheck.handler(({ context, input }) => conflictCheck(context.ctx, input.id)),
  checkPdf: p.checkPdf.handler(({ context, input }) => conflictPdf(context.ctx, input.id)),
  decideHit: p.decideHit.handler(({ context, input }) => done(decideHit(context.ctx, input.id, input.decision, input.note))),
  enquiries: p.enquiries.handler(({ context, input }) => enquiries(context.ctx, input)),
  getEnquiry: p.getEnquiry.handler(({ context, input }) => enquiry(context.ctx, input.id)),
  makeEnquiry: p.makeEnquiry.handler(({ context, input }) => makeEnquiry(context.ctx, input)),
  changeEnquiry: p.changeEnquiry.handler(({ context, input: { id, ...own } }) => done(changeEnquiry(context.ctx, id, own))),
  checkEnquiry: p.checkEnquiry.handler(({ context, input }) => checkEnquiry(context.ctx, input.id)),
  decline: p.decline.handler(({ context, input }) => done(declineEnquiry(context.ctx, input.id, input.reason))),
  takeUp: p.takeUp.handler(({ context, input }) => done(takeUpEnquiry(context.ctx, input.id))),
}
