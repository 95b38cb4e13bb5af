import { faultOfPast, type Day } from '@heron/core/calendar'
import { checkState, gapsOf, unclaimedDue, usualLayout, type CheckLayout, type CheckState } from '@heron/core/ledger'
import { showMoney } from '@heron/core/money'
import type { EntityManager } from 'typeorm'
import { matterScope, nameFor } from '../platform/access'
import { audit } from '../platform/audit'
import { instant, type Ctx } from '../platform/context'
import { row, rows, work } from '../platform/database'
import { errno, fieldFault, notFound, refused } from '../platform/problem'
import { BankAccount, CheckNumber } from './entities'
import { payeeOf, payeeOpen } from './payees'
import { bankAccount } from './ledgers'
import type { Paging } from './queries'
import { CheckLayout as CheckLayoutRow, CheckOut, Unclaimed } from './check-entities'

const open = (ctx: Ctx) => `(l.matter_id IS NULL OR ${matterScope(ctx.actor, 'm', 'trust')})`
const ledgerName = (ctx: Ctx) =>
  `CASE l.kind WHEN 'firm' THEN 'Firm money for bank charges' WHEN 'foundation' THEN 'Interest for the bar foundation' ELSE CONCAT(${nameFor(ctx.actor)}, COALESCE(CONCAT(', ', m.number), '')) END`

interface Numbered {
  number: number
  upTo: number | null
  paymentId: number | null
  state: CheckState
  out: 'printed' | 'by hand' | null
  day: Day | null
  paidOn: Day | null
  payee: string
  ledgerId: number | null
  ledger: string
  amount: number | null
  words: string
}
/** What the bank has paid: matched with a line, or of before the account was reconciled here and not marked as in transit then. */
const paidOn = `COALESCE(
    (SELECT x.line_day FROM bank_match_entry k JOIN bank_match x ON x.id = k.match_id WHERE k.entry_id = e.id),
    (SELECT e.day FROM bank_start s WHERE s.bank_account_id = n.bank_account_id AND e.day < s.day AND NOT EXISTS (SELECT 1 FROM bank_start_entry y WHERE y.entry_id = e.id)))`

/** Every number of an account, the newest first, with runs of numbers that nobody accounts for where they are missing. */
export async function register(ctx: Ctx, f: Paging & { bankAccountId: number; state: '' | CheckState }) {
  const m = ctx.db.manager
  await bankAccount(m, f.bankAccountId)
  const { staleDays } = (await m.findOne(BankAccount, { select: { staleDays: true, id: true }, where: { id: f.bankAccountId } }))!
  const used = await m.find(CheckNumber, {
    select: { number: true, bankAccountId: true },
    where: { bankAccountId: f.bankAccountId },
    order: { number: 'ASC' },
  })
  const found = await rows<Numbered & { kept: number; is: 'posted' | 'void' | null; reversed: string }>(
    m,
    `SELECT n.number, NULL AS upTo, p.id AS paymentId, COALESCE(c2.how, c3.how) AS \`out\`, COALESCE(p.written_on, p.day, fp.written_on, fp.day) AS day, ${paidOn} AS paidOn, COALESCE(p.payee_name, fp.payee_name, '') AS payee, l.id AS ledgerId, COALESCE(${ledgerName(ctx)}, IF(fp.id IS NULL, '', 'The firm’s own money')) AS ledger, COALESCE(p.amount, fp.amount) AS amount, COALESCE(p.state, fp.state) AS \`is\`,
            COALESCE(v.reason, n.spoiled) AS words, (l.id IS NOT NULL AND NOT ${open(ctx)}) OR NOT ${payeeOpen(ctx, 'vc')} AS kept
       FROM check_number n LEFT JOIN payment_out p ON p.id = n.payment_id LEFT JOIN firm_payment fp ON fp.id = n.firm_payment_id LEFT JOIN client_ledger l ON l.id = p.ledger_id LEFT JOIN contact c ON c.id = l.client_id LEFT JOIN matter m ON m.id = l.matter_id
       LEFT JOIN check_out c2 ON c2.payment_id = p.id LEFT JOIN firm_check_out c3 ON c3.firm_payment_id = fp.id ${payeeOf('fp', 'vc')} LEFT JOIN bank_entry e ON e.journal_id = COALESCE(p.journal_id, fp.journal_id) AND e.bank_account_id = n.bank_account_id
       LEFT JOIN journal_reversal v ON v.journal_id = COALESCE(p.journal_id, fp.journal_id)
      WHERE n.bank_account_id = ?`,
    [f.bankAccountId],
  )
  const today = ctx.clock.today()
  const all: Numbered[] = found.map(({ kept, is, reversed: _r, ...n }) => {
    const state = checkState({ day: n.day, state: is, paidOn: n.paidOn }, today, staleDays)
    // Of a matter that is closed to the reader the number is accounted for, and nothing else is told.
    return kept
      ? { ...n, state, payee: '', ledger: 'Not open to you', ledgerId: null, paymentId: null, amount: null, words: '', out: null }
      : { ...n, state }
  })
  for (const g of gapsOf(used.map((u) => u.number)))
    all.push({ number: g.from, upTo: g.to, paymentId: null, state: 'missing', out: null, day: null, paidOn: null, payee: '', ledgerId: null, ledger: '', amount: null, words: 'No check with this number is known' }) // prettier-ignore
  const list = all.filter((n) => !f.state || n.state === f.state).sort((a, b) => b.number - a.number)
  return { rows: list.slice((f.page - 1) * f.size, f.page * f.size), total: list.length }
}

/** A blank check that was torn or misprinted: its number is accounted for and never used. */
export const spoilNumber = (ctx: Ctx, input: { bankAccountId: number; number: number; reason: string }): Promise<void> =>
  work(ctx, async (m) => {
    const bank = await bankAccount(m, input.bankAccountId)
    try {
      await m.insert(CheckNumber, {
        bankAccountId: bank.id,
        number: input.number,
        paymentId: null,
        firmPaymentId: null,
        usedAt: instant(ctx.clock.now()),
        spoiled: input.reason,
      })
    } catch (error) {
      if (errno(error) === 1062) throw refused('check-number-used', `Check ${input.number} of this account is accounted for already.`)
      throw error
    }
    await m.update(BankAccount, { id: bank.id, nextCheck: input.number }, { nextCheck: input.number + 1 })
    await audit(m, ctx, {
      kind: 'spoiled',
      text: `Check ${input.number} of ${bank.name} spoiled: ${input.reason}`,
      subject: 'account',
      subjectId: bank.id,
    })
  })

export async function layoutOf(m: EntityManager, bankAccountId: number): Promise<{ layout: CheckLayout; numbers: boolean }> {
  const kept = await m.findOne(CheckLayoutRow, { select: { layout: true, numbers: true, bankAccountId: true }, where: { bankAccountId } })
  return kept
    ? { layout: { ...usualLayout, ...(JSON.parse(kept.layout) as CheckLayout) }, numbers: Boolean(kept.numbers) }
    : { layout: usualLayout, numbers: true }
}
export const setLayout = (ctx: Ctx, input: { bankAccountId: number; layout: CheckLayout; numbers: boolean }): Promise<void> =>
  work(ctx, async (m) => {
    const bank = await bankAccount(m, input.bankAccountId)
    await m.upsert(CheckLayoutRow, { bankAccountId: bank.id, layout: JSON.stringify(input.layout), numbers: input.numbers }, ['bankAccountId']) // prettier-ignore
    await audit(m, ctx, { kind: 'set up', text: `Layout of checks of ${bank.name} changed`, subject: 'account', subjectId: bank.id })
  })

/** Money of checks that nobody cashed, with when it is due to the state; what is due first comes first. */
export async function unclaimed(ctx: Ctx) {
  const list = await rows<{ paymentId: number; checkNo: number | null; day: Day; payee: string; address: string; ledgerId: number; ledger: string; amount: number; lastContact: Day | null; note: string; days: number }>(
    ctx.db.manager,
    `SELECT p.id AS paymentId, p.check_no AS checkNo, p.day, p.payee_name AS payee, p.payee_address AS address, l.id AS ledgerId, ${ledgerName(ctx)} AS ledger, p.amount, u.last_contact AS lastContact, u.note, b.unclaimed_days AS days
       FROM unclaimed u JOIN payment_out p ON p.id = u.payment_id JOIN client_ledger l ON l.id = p.ledger_id JOIN bank_account b ON b.id = l.bank_account_id LEFT JOIN contact c ON c.id = l.client_id LEFT JOIN matter m ON m.id = l.matter_id
      WHERE u.settled_on IS NULL AND ${open(ctx)} ORDER BY p.id LIMIT 1000`,
  ) // prettier-ignore
  return list
    .map(({ days, ...u }) => ({ ...u, dueOn: unclaimedDue({ checkDay: u.day, lastContact: u.lastContact }, days) }))
    .sort((a, b) => (a.dueOn < b.dueOn ? -1 : a.dueOn > b.dueOn ? 1 : a.paymentId - b.paymentId))
}
async function lockUnclaimed(m: EntityManager, ctx: Ctx, id: number) {
  const found = await row<{ amount: number; payee: string; matterId: number | null; settledOn: Day | null }>(
    m,
    `SELECT p.amount, p.payee_name AS payee, l.matter_id AS matterId, u.settled_on AS settledOn FROM unclaimed u JOIN payment_out p ON p.id = u.payment_id JOIN client_ledger l ON l.id = p.ledger_id LEFT JOIN matter m ON m.id = l.matter_id
      WHERE u.payment_id = ? AND ${open(ctx)} FOR UPDATE`,
    [id],
  )
  if (!found) throw notFound('unclaimed money')
  if (found.settledOn) throw refused('changed-meanwhile', 'It was settled before.')
  return found
}
export const noteContact = (ctx: Ctx, id: number, lastContact: Day | null, note: string): Promise<void> =>
  work(ctx, async (m) => {
    const wrong = lastContact ? faultOfPast(lastContact, ctx.clock.today()) : null
    if (wrong) throw fieldFault('lastContact', wrong)
    await lockUnclaimed(m, ctx, id)
    await m.update(Unclaimed, { paymentId: id }, { lastContact, note })
  })
export const settleUnclaimed = (ctx: Ctx, id: number, day: Day, words: string): Promise<void> =>
  work(ctx, async (m) => {
    const wrong = faultOfPast(day, ctx.clock.today())
    if (wrong) throw fieldFault('day', wrong)
    const u = await lockUnclaimed(m, ctx, id)
    await m.update(Unclaimed, { paymentId: id }, { settledOn: day, settled: words })
    await audit(m, ctx, { kind: 'settled', text: `Unclaimed ${showMoney(u.amount)} for ${u.payee}: ${words}`, matterId: u.matterId, subject: 'payment out', subjectId: id }) // prettier-ignore
  })

/** Checks up to a day that wait to be printed have left the house; for books that begin in the middle, such as the demo firm's. */
export async function makeBankChecksOut(ctx: Ctx, upTo: Day): Promise<void> {
  const waiting = await rows<{ id: number }>(ctx.db.manager, `SELECT p.id FROM payment_out p WHERE p.method = 'check' AND p.state = 'posted' AND p.day <= ? AND NOT EXISTS (SELECT 1 FROM check_out o WHERE o.payment_id = p.id)`, [upTo]) // prettier-ignore
  await ctx.db.query(`INSERT INTO firm_check_out (firm_payment_id, how, user_id, at) SELECT p.id, 'printed', ?, ? FROM firm_payment p WHERE p.method = 'check' AND p.state = 'posted' AND p.day <= ? AND NOT EXISTS (SELECT 1 FROM firm_check_out o WHERE o.firm_payment_id = p.id)`, [ctx.actor.id, instant(ctx.clock.now()), upTo]) // prettier-ignore
  for (const p of waiting) await ctx.db.manager.insert(CheckOut, { paymentId: p.id, how: 'printed', userId: ctx.actor.id, at: instant(ctx.clock.now()) }) // prettier-ignore
}
