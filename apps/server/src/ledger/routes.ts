import { download } from '../platform/files'
import { done, routes } from '../platform/routes'
import { changeAccount, changeBank, makeAccount, makeBank, setClearing, setTrustRules } from './accounts'
import { accountsSetUp, remembered } from './account-queries'
import { aging } from './check-queries'
import { accountLines, enterJournal, journal } from './books/journals'
import { trialBalance, journalTemplates } from './books/journal-queries'
import { trustRecords, wholeBooks } from './books/archive'
import { exportJournals } from './books/export'
import { bookFile } from './books/files'
import { balanceSheet, cashFlow, incomeStatement, taxes } from './books/statements'
import { keepTemplate, removeTemplate } from './books/templates'
import { closePeriod, closeYear, openYear, setYears } from './books/years'
import { years } from './books/year-queries'
import { checkPdf, jobPdf } from './check-pdf'
import { sampleCheck, layoutOf, register, unclaimed } from './payment-queries'
import { noteContact, setLayout, settleUnclaimed, spoilNumber } from './checks'
import { approvePayment, draftPayment, dropPayment, payNow, postPayment, reissueIn, voidPayment } from './payments-out'
import { makePrintJob, tellOutcomes, writtenByHand } from './print-jobs'
import { toPrint, jobPayments, printJobs } from './print-queries'
import { accounts, ledger, ledgers, paymentsOut, sheet, sheets } from './queries'
import { depositSlip, receiptPdf } from './receipts'
import { changeSheet, makeSheet, postSheet } from './sheets'
import { lastCheck, runStandingCheck } from './standing-check'

const t = routes.trust
export const trustRoutes = {
  accounts: t.accounts.handler(({ context }) => accounts(context.ctx)),
  check: t.check.handler(({ context }) => lastCheck(context.ctx)),
  runCheck: t.runCheck.handler(({ context }) => runStandingCheck(context.ctx)),
  ledgers: t.ledgers.handler(({ context, input }) => ledgers(context.ctx, input)),
  ledger: t.ledger.handler(({ context, input }) => ledger(context.ctx, input)),
  sheets: t.sheets.handler(({ context, input }) => sheets(context.ctx, input)),
  sheet: t.sheet.handler(({ context, input }) => sheet(context.ctx, input.id)),
  makeSheet: t.makeSheet.handler(({ context, input }) => makeSheet(context.ctx, input)),
  changeSheet: t.changeSheet.handler(({ context, input: { id, version, ...sheet } }) => done(changeSheet(context.ctx, id, sheet, version))),
  postSheet: t.postSheet.handler(({ context, input }) => postSheet(context.ctx, input.id)),
  remembered: t.remembered.handler(({ context }) => remembered(context.ctx)),
  slip: t.slip.handler(({ context, input }) => depositSlip(context.ctx, input.id)),
  receiptPdf: t.receiptPdf.handler(async ({ context, input }) => {
    const pdf = await receiptPdf(context.ctx, input.id)
    return download(pdf.data, pdf.name, 'application/pdf')
  }),
  payments: t.payments.handler(({ context, input }) => paymentsOut(context.ctx, input)),
  draftPayment: t.draftPayment.handler(({ context, input }) => draftPayment(context.ctx, input)),
  dropPayment: t.dropPayment.handler(({ context, input }) => done(dropPayment(context.ctx, input.id))),
  approvePayment: t.approvePayment.handler(({ context, input }) => done(approvePayment(context.ctx, input.id))),
  postPayment: t.postPayment.handler(({ context, input }) => postPayment(context.ctx, input.id)),
  pay: t.pay.handler(({ context, input }) => payNow(context.ctx, input)),
  voidPayment: t.voidPayment.handler(({ context, input }) => voidPayment(context.ctx, input.id, input)),
  checkPdf: t.checkPdf.handler(async ({ context, input }) => {
    const pdf = await checkPdf(context.ctx, input.id)
    return download(pdf.data, pdf.name, 'application/pdf')
  }),
}

const k = routes.checks
export const checkRoutes = {
  register: k.register.handler(({ context, input }) => register(context.ctx, input)),
  spoil: k.spoil.handler(({ context, input }) => done(spoilNumber(context.ctx, input))),
  toPrint: k.toPrint.handler(({ context, input }) => toPrint(context.ctx, 'trust', input.bankAccountId)),
  byHand: k.byHand.handler(({ context, input }) => done(writtenByHand(context.ctx, 'trust', input.paymentIds))),
  jobs: k.jobs.handler(({ context }) => printJobs(context.ctx, 'trust')),
  makeJob: k.makeJob.handler(({ context, input }) => makePrintJob(context.ctx, 'trust', input.paymentIds)),
  jobPdf: k.jobPdf.handler(async ({ context, input }) => {
    const pdf = await jobPdf(context.ctx, await jobPayments(context.ctx, 'trust', input.id))
    return download(pdf.data, pdf.name, 'application/pdf')
  }),
  outcomes: k.outcomes.handler(({ context, input }) => tellOutcomes(context.ctx, 'trust', input.id, input.outcomes, reissueIn)),
  layout: k.layout.handler(({ context, input }) => layoutOf(context.ctx.db.manager, input.bankAccountId)),
  setLayout: k.setLayout.handler(({ context, input }) => done(setLayout(context.ctx, input))),
  sample: k.sample.handler(async ({ context, input }) => {
    const pdf = await sampleCheck(context.ctx, input.bankAccountId)
    return download(pdf.data, pdf.name, 'application/pdf')
  }),
  unclaimed: k.unclaimed.handler(({ context }) => unclaimed(context.ctx)),
  contact: k.contact.handler(({ context, input }) => done(noteContact(context.ctx, input.id, input.lastContact, input.note))),
  claimed: k.claimed.handler(({ context, input }) => done(settleUnclaimed(context.ctx, input.id, input.day, input.words))),
}

const s = routes.setUp
export const setUpAccounts = {
  accounts: s.accounts.handler(({ context }) => accountsSetUp(context.ctx)),
  makeBank: s.makeBank.handler(({ context, input }) => makeBank(context.ctx, input)),
  changeBank: s.changeBank.handler(({ context, input: { id, ...own } }) => done(changeBank(context.ctx, id, own))),
  setTrustRules: s.setTrustRules.handler(({ context, input }) => done(setTrustRules(context.ctx, input))),
  makeAccount: s.makeAccount.handler(({ context, input }) => makeAccount(context.ctx, input)),
  changeAccount: s.changeAccount.handler(({ context, input: { id, ...own } }) => done(changeAccount(context.ctx, id, own))),
  setClearing: s.setClearing.handler(({ context, input }) => done(setClearing(context.ctx, input.clearing))),
}

const b = routes.books
export const booksRoutes = {
  trialBalance: b.trialBalance.handler(({ context, input }) => trialBalance(context.ctx, input.asOf, input.closing === 'with')),
  account: b.account.handler(({ context, input }) =>
    accountLines(context.ctx, input.id, { ...input, to: input.to ?? context.ctx.clock.today() }),
  ),
  journal: b.journal.handler(({ context, input }) => journal(context.ctx, input.id)),
  incomeStatement: b.incomeStatement.handler(({ context, input }) => incomeStatement(context.ctx, input)),
  balanceSheet: b.balanceSheet.handler(({ context, input }) => balanceSheet(context.ctx, input.asOf)),
  cashFlow: b.cashFlow.handler(({ context, input }) => cashFlow(context.ctx, input.from, input.to)),
  taxes: b.taxes.handler(({ context, input }) => taxes(context.ctx, input.from, input.to)),
  file: b.file.handler(({ context, input }) => bookFile(context.ctx, input)),
  archive: b.archive.handler(({ context, input }) => wholeBooks(context.ctx, input.to)),
  trustRecords: b.trustRecords.handler(({ context, input }) => trustRecords(context.ctx, input.bankAccountId, input.from, input.to)),
  years: b.years.handler(({ context }) => years(context.ctx)),
  setYears: b.setYears.handler(({ context, input }) => done(setYears(context.ctx, input))),
  closePeriod: b.closePeriod.handler(({ context, input }) => done(closePeriod(context.ctx, input.day, input.reason))),
  closeYear: b.closeYear.handler(({ context, input }) => closeYear(context.ctx, input.to, input.net)),
  openYear: b.openYear.handler(({ context, input }) => openYear(context.ctx, input.to, input.reason)),
  templates: b.templates.handler(({ context }) => journalTemplates(context.ctx)),
  keepTemplate: b.keepTemplate.handler(({ context, input }) => keepTemplate(context.ctx, input)),
  removeTemplate: b.removeTemplate.handler(({ context, input }) => done(removeTemplate(context.ctx, input.id))),
  enter: b.enter.handler(({ context, input }) => enterJournal(context.ctx, input)),
  export: b.export.handler(async ({ context, input }) => {
    const to = input.to ?? context.ctx.clock.today()
    return download(Buffer.from(await exportJournals(context.ctx, to)), `journal-${to}.txt`, 'text/plain; charset=utf-8')
  }),
  aging: b.aging.handler(({ context, input }) => aging(context.ctx, input.asOf)),
}
