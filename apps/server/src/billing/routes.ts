import { creditNote, previewNote, voidBill, writeOff } from './corrections'
import { applyCredit, creditToTrust, payerStands, refundCredit, unapply } from './credits'
import { credits, transferAhead, transfers } from './payment-queries'
import { makeTransfer } from './transfers'
import { payBillFromTrust, payBill, receivePayment, reversePayment } from './payments'
import { download } from '../platform/files'
import { done, routes } from '../platform/routes'
import { issueBill } from './issue'
import { addLine, mergeLines, moveLine, partLines, splitLine, takeLineOut } from './review'
import { billLetters, proposeLetter, saveBillLetter, sendBill } from './delivery'
import { chargeInterest, dispute, overdue, remind } from './overdue'
import { ledesCheck, ledesFile } from './ledes'
import { setReminderRule } from './overdue/reminding'
import { reminderRule } from './overdue/queries'
import { billPdf } from './pdf'
import { changeClientBillTerms, changeMatterBillTerms, clientBillTerms, matterBillTerms } from './terms'
import { receiptLetter, receiptPdf, sendReceipt, sendStatement, statement, statementLetter, statementPdf } from './statements'
import { draftSettlementPayments, previewSettlement, settle, settlementPdf, settlements, withdrawSettlement } from './settlements'
import { beginPaying, cardEvent, openPaying } from './cards'
import { endPayLink, makePayLink } from './pay-links'
import { payLinksOf } from './card-queries'
import { changeBillLook } from './look'
import { billLook } from './issue-queries'
import { comment } from './comments'
import { runOf, runs, startIssuing, startRun } from './runs'
import { feeShares, setFeeShares } from './fee-shares'
import { approve, changeLine, dropPreBill, makePreBill, setDiscount } from './pre-bills'
import { bill, bills, preBill, preBills, unbilled } from './queries'

const b = routes.billing
const asPdf = (pdf: { data: Buffer; name: string }) => download(pdf.data, pdf.name, 'application/pdf')
export const billingRoutes = {
  list: b.list.handler(({ context, input }) => bills(context.ctx, input)),
  preBills: b.preBills.handler(({ context, input }) => preBills(context.ctx, input)),
  startRun: b.startRun.handler(({ context, input }) => startRun(context.ctx, input)),
  startIssuing: b.startIssuing.handler(({ context, input }) => startIssuing(context.ctx, input)),
  runs: b.runs.handler(({ context }) => runs(context.ctx)),
  run: b.run.handler(({ context, input: { id, ...page } }) => runOf(context.ctx, id, page)),
  overdue: b.overdue.handler(({ context, input }) => overdue(context.ctx, input)),
  reminderRule: b.reminderRule.handler(({ context }) => reminderRule(context.ctx)),
  setReminderRule: b.setReminderRule.handler(({ context, input }) => done(setReminderRule(context.ctx, input))),
  remind: b.remind.handler(({ context, input }) => remind(context.ctx, input.billIds)),
  chargeInterest: b.chargeInterest.handler(({ context, input }) => chargeInterest(context.ctx, input)),
  dispute: b.dispute.handler(({ context, input: { id, ...own } }) => done(dispute(context.ctx, id, own))),
  matterTerms: b.matterTerms.handler(({ context, input }) => matterBillTerms(context.ctx, input.id)),
  changeMatterTerms: b.changeMatterTerms.handler(({ context, input: { id, ...own } }) => done(changeMatterBillTerms(context.ctx, id, own))),
  clientTerms: b.clientTerms.handler(({ context, input }) => clientBillTerms(context.ctx, input.id)),
  changeClientTerms: b.changeClientTerms.handler(({ context, input: { id, ...own } }) => done(changeClientBillTerms(context.ctx, id, own))),
  letters: b.letters.handler(({ context }) => billLetters(context.ctx)),
  saveLetter: b.saveLetter.handler(({ context, input }) => done(saveBillLetter(context.ctx, input))),
  letter: b.letter.handler(({ context, input }) => proposeLetter(context.ctx, input.id, 'bill')),
  send: b.send.handler(({ context, input: { id, ...written } }) => done(sendBill(context.ctx, id, 'bill', written))),
  statement: b.statement.handler(({ context, input }) => statement(context.ctx, input)),
  statementPdf: b.statementPdf.handler(async ({ context, input }) => asPdf(await statementPdf(context.ctx, input))),
  statementLetter: b.statementLetter.handler(({ context, input }) => statementLetter(context.ctx, input)),
  sendStatement: b.sendStatement.handler(({ context, input: { name, email, subject, body, ...asked } }) =>
    done(sendStatement(context.ctx, asked, { name, email, subject, body })),
  ),
  receiptPdf: b.receiptPdf.handler(async ({ context, input }) => asPdf(await receiptPdf(context.ctx, input.id))),
  receiptLetter: b.receiptLetter.handler(({ context, input }) => receiptLetter(context.ctx, input.id)),
  sendReceipt: b.sendReceipt.handler(({ context, input: { id, ...written } }) => done(sendReceipt(context.ctx, id, written))),
  settlements: b.settlements.handler(({ context, input }) => settlements(context.ctx, input.matterId)),
  previewSettlement: b.previewSettlement.handler(({ context, input }) => previewSettlement(context.ctx, input)),
  settle: b.settle.handler(({ context, input }) => settle(context.ctx, input)),
  withdrawSettlement: b.withdrawSettlement.handler(({ context, input }) => done(withdrawSettlement(context.ctx, input.id))),
  draftSettlementPayments: b.draftSettlementPayments.handler(({ context, input }) => draftSettlementPayments(context.ctx, input)),
  settlementPdf: b.settlementPdf.handler(async ({ context, input }) => asPdf(await settlementPdf(context.ctx, input.id))),
  look: b.look.handler(({ context }) => billLook(context.ctx)),
  changeLook: b.changeLook.handler(({ context, input }) => done(changeBillLook(context.ctx, input))),
  payLinks: b.payLinks.handler(({ context, input }) => payLinksOf(context.ctx, input.id)),
  makePayLink: b.makePayLink.handler(({ context, input }) => makePayLink(context.ctx, input.id, context.origin)),
  endPayLink: b.endPayLink.handler(({ context, input }) => done(endPayLink(context.ctx, input.id))),
  unbilled: b.unbilled.handler(({ context, input }) => unbilled(context.ctx, input)),
  makePreBill: b.makePreBill.handler(({ context, input }) => makePreBill(context.ctx, input.matterId, input.workTo)),
  preBill: b.preBill.handler(({ context, input }) => preBill(context.ctx, input.id)),
  changeLine: b.changeLine.handler(({ context, input: { id, ...edit } }) => done(changeLine(context.ctx, id, edit))),
  splitLine: b.splitLine.handler(({ context, input }) => done(splitLine(context.ctx, input))),
  mergeLines: b.mergeLines.handler(({ context, input }) => done(mergeLines(context.ctx, input))),
  partLines: b.partLines.handler(({ context, input }) => done(partLines(context.ctx, input))),
  moveLine: b.moveLine.handler(({ context, input }) => done(moveLine(context.ctx, input))),
  addLine: b.addLine.handler(({ context, input }) => done(addLine(context.ctx, input))),
  takeLineOut: b.takeLineOut.handler(({ context, input }) => done(takeLineOut(context.ctx, input))),
  setDiscount: b.setDiscount.handler(({ context, input }) => done(setDiscount(context.ctx, input.id, input))),
  feeShares: b.feeShares.handler(({ context, input }) => feeShares(context.ctx, input.id)),
  setFeeShares: b.setFeeShares.handler(({ context, input }) => done(setFeeShares(context.ctx, input.id, input.shares))),
  approve: b.approve.handler(({ context, input }) => done(approve(context.ctx, input.id, input.approved, input.seen))),
  comment: b.comment.handler(({ context, input }) => comment(context.ctx, input.id, input.text)),
  drop: b.drop.handler(({ context, input }) => done(dropPreBill(context.ctx, input.id))),
  issue: b.issue.handler(({ context, input }) => issueBill(context.ctx, input.id, input.day, input.seen)),
  get: b.get.handler(({ context, input }) => bill(context.ctx, input.id)),
  pdf: b.pdf.handler(async ({ context, input }) => {
    const pdf = await billPdf(context.ctx, input.id)
    return download(pdf.data, pdf.name, 'application/pdf')
  }),
  ledesCheck: b.ledesCheck.handler(({ context, input }) => ledesCheck(context.ctx, input.id)),
  ledes: b.ledes.handler(({ context, input }) => ledesFile(context.ctx, input.id)),
  pay: b.pay.handler(({ context, input }) => payBill(context.ctx, input)),
  receive: b.receive.handler(({ context, input }) => receivePayment(context.ctx, input)),
  payer: b.payer.handler(({ context, input }) => payerStands(context.ctx, input.id)),
  credits: b.credits.handler(({ context, input }) => credits(context.ctx, input)),
  applyCredit: b.applyCredit.handler(({ context, input: { id, ...own } }) => applyCredit(context.ctx, id, own)),
  unapply: b.unapply.handler(({ context, input: { id, ...own } }) => unapply(context.ctx, id, own)),
  refund: b.refund.handler(({ context, input: { id, ...own } }) => refundCredit(context.ctx, id, own)),
  toTrust: b.toTrust.handler(({ context, input: { id, ...own } }) => creditToTrust(context.ctx, id, own)),
  previewNote: b.previewNote.handler(({ context, input: { id, ...own } }) => previewNote(context.ctx, id, own)),
  creditNote: b.creditNote.handler(({ context, input: { id, ...own } }) => creditNote(context.ctx, id, own)),
  writeOff: b.writeOff.handler(({ context, input: { id, ...own } }) => writeOff(context.ctx, id, own)),
  void: b.void.handler(({ context, input: { id, ...own } }) => voidBill(context.ctx, id, own)),
  reversePayment: b.reversePayment.handler(({ context, input }) => reversePayment(context.ctx, input.id, input.day, input.reason)),
}

/** Paying a bill from trust is an act of both books; it stands with the bills, which know what is owed. */
export const billsFromTrust = {
  payBill: routes.trust.payBill.handler(({ context, input }) => payBillFromTrust(context.ctx, input)),
  transferAhead: routes.trust.transferAhead.handler(({ context, input }) => transferAhead(context.ctx, input)),
  makeTransfer: routes.trust.makeTransfer.handler(({ context, input }) => makeTransfer(context.ctx, input)),
  transfers: routes.trust.transfers.handler(({ context, input }) => transfers(context.ctx, input)),
}

const p = routes.paying
/** What payers and the card processor reach without signing in. */
export const payingRoutes = {
  open: p.open.handler(({ context, input }) => openPaying(context.ctx, input.token)),
  begin: p.begin.handler(({ context, input }) => beginPaying(context.ctx, input.token)),
  event: p.event.handler(({ context, input }) => done(cardEvent(context.ctx, input))),
}
