import { IsNull, Not } from 'typeorm'
import { area } from '../platform/area'
import { amountFor, may } from '../platform/context'
import { trustActRoutes } from './acts/routes'
import { addUpDays } from './books/sums'
import { postAllDue } from './books/templates'
import { covers, waitsForSecond } from './acts/queries'
import { bankRoutes } from './bank/routes'
import { DepositSheet, ledgerEntities } from './entities'
import { booksRoutes, checkRoutes, setUpAccounts, trustRoutes } from './routes'
import { lastCheck, runStandingCheck } from './standing-check'
import { actEntities } from './acts/entities'
import { bankEntities } from './bank/entities'
import { bookEntities, JournalTemplate } from './books/entities'
import { checkEntities } from './check-entities'
import { draftsOfMoney, heldFor } from './account-queries'

declare module '../platform/area' {
  interface ActSubjects {
    'payment out': true
    'deposit sheet': true
    receipt: true
    ledger: true
    journal: true
    account: true
    'vendor payment': true
  }
}

export const ledger = area({
  name: 'ledger',
  entities: [...ledgerEntities, ...actEntities, ...bankEntities, ...bookEntities, ...checkEntities],
  appendOnly: [
    'journal',
    'journal_line',
    'bank_entry',
    'ledger_entry',
    'clearing_override',
    'journal_posting',
    'journal_reversal',
    'check_number',
    'bank_statement',
    'bank_line',
    'reconciliation',
    'reconciliation_reopened',
    'receipt_owner',
    'bank_did',
    'cover_landed',
    'cover_repaid',
    'trust_interest',
    'check_out',
    'cash_shift',
    'moved_in',
    'transfer_sheet',
    'bank_settlement',
    'firm_check_out',
  ],
  migrations: [
    { name: '0056-receipt-fee', file: new URL('./migrations/0056-receipt-fee.sql', import.meta.url) },
    { name: '0041-statements', file: new URL('./migrations/0041-statements.sql', import.meta.url) },
    { name: '0042-trust-acts', file: new URL('./migrations/0042-trust-acts.sql', import.meta.url) },
    { name: '0043-checks', file: new URL('./migrations/0043-checks.sql', import.meta.url) },
    { name: '0044-books', file: new URL('./migrations/0044-books.sql', import.meta.url) },
    { name: '0046-reopening', file: new URL('./migrations/0046-reopening.sql', import.meta.url) },
    { name: '0047-firm-payments', file: new URL('./migrations/0047-firm-payments.sql', import.meta.url) },
    { name: '0049-moving-in', file: new URL('./migrations/0049-moving-in.sql', import.meta.url) },
    { name: '0050-transfer-sheets', file: new URL('./migrations/0050-transfer-sheets.sql', import.meta.url) },
    { name: '0051-refunds', file: new URL('./migrations/0051-refunds.sql', import.meta.url) },
    { name: '0055-bank-rules', file: new URL('./migrations/0055-bank-rules.sql', import.meta.url) },
    { name: '0058-settlements', file: new URL('./migrations/0058-settlements.sql', import.meta.url) },
    { name: '0062-account-settings', file: new URL('./migrations/0062-account-settings.sql', import.meta.url) },
    { name: '0065-posting', file: new URL('./migrations/0065-posting.sql', import.meta.url) },
    { name: '0069-bank-days', file: new URL('./migrations/0069-bank-days.sql', import.meta.url) },
    { name: '0070-open-entries', file: new URL('./migrations/0070-open-entries.sql', import.meta.url) },
    { name: '0073-closings', file: new URL('./migrations/0073-closings.sql', import.meta.url) },
    { name: '0060-firm-print-jobs', file: new URL('./migrations/0060-firm-print-jobs.sql', import.meta.url) },
    { name: '0052-journal-templates', file: new URL('./migrations/0052-journal-templates.sql', import.meta.url) },
  ],
  kept: ['matter_figure', 'ledger_day', 'bank_closed', 'bank_open_entry'],
  routes: {
    trust: trustRoutes,
    books: booksRoutes,
    setUp: setUpAccounts,
    bank: bankRoutes,
    trustActs: trustActRoutes,
    checks: checkRoutes,
  },
  schedules: [
    { name: 'post journals that recur', at: '13 * * * *', atStart: true, run: (base) => postAllDue(base) },
    { name: 'add up the days of accounts', at: '*/5 * * * *', atStart: true, run: (base) => addUpDays(base) },
    {
      // The books are compared by themselves; a difference is an error in the log, too.
      name: 'compare the books',
      at: '*/15 * * * *',
      atStart: true,
      run: async (base, warn) => {
        const found = await runStandingCheck(base)
        if (!found.ok) warn({ found }, 'the trust records do not agree')
      },
    },
    {
      // Once a night, and after every start, by each entry.
      name: 'compare every entry of the books',
      at: '37 2 * * *',
      atStart: true,
      run: async (base, warn) => {
        const found = await runStandingCheck(base, { whole: true })
        if (!found.ok) warn({ found }, 'the trust records do not agree, by every entry')
      },
    },
  ],
  acts: {
    'payment out': { part: 'trust', beyond: 'trust.see' },
    'deposit sheet': { part: 'trust', beyond: 'trust.see' },
    receipt: { part: 'trust', beyond: 'trust.see' },
    ledger: { part: 'trust', beyond: 'trust.see' },
    journal: { part: 'money', beyond: 'books.see' },
    account: { part: null, beyond: 'firm.set-up' },
    'vendor payment': { part: null, beyond: 'books.see' },
  },
  openEnds: async (m, ctx, id) => {
    const held = (await heldFor(m, id))!.held
    const text = `${amountFor(ctx.actor)(held)} is held in trust. Pay it out or bill against it first.`
    return [held ? { key: 'trust', text, blocks: true } : null]
  },
  work: ['client_ledger', 'deposit_receipt'],
  waiting: async (ctx) => {
    const agree = may(ctx.actor, 'trust.approve') ? await waitsForSecond(ctx) : 0
    const stoppedJournals = may(ctx.actor, 'books.post')
      ? await ctx.db.manager.countBy(JournalTemplate, { fault: Not(''), nextOn: Not(IsNull()) })
      : 0
    if (!may(ctx.actor, 'trust.post')) return { sheets: null, covers: 0, agree, stoppedJournals }
    return {
      stoppedJournals,
      sheets: await ctx.db.manager.countBy(DepositSheet, { state: 'draft' }),
      covers: (await covers(ctx)).filter((c) => c.inTransit).length,
      agree,
    }
  },
  waterline: async (ctx) => {
    const drafts = may(ctx.actor, 'trust.post') ? await draftsOfMoney(ctx) : null
    const check = may(ctx.actor, 'trust.see') ? await lastCheck(ctx) : null
    return { drafts: drafts?.n ?? 0, trust: check && { at: check.at, ok: check.ok } }
  },
})
