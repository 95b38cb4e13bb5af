import { addDays, type Day, showDayInWords } from '@heron/core/calendar'
import { type CheckLayout, type CheckPart, type CheckState, checkState, unclaimedDue, usualLayout } from '@heron/core/ledger'
import { moneyInWords, showAmount } from '@heron/core/money'
import type { EntityManager } from 'typeorm'
import { matterScope, nameFor } from '../platform/access'
import { type Ctx, instant } from '../platform/context'
import { row, rows } from '../platform/database'
import { makePdf } from '../platform/pdf'
import { CheckLayout as CheckLayoutRow } from './check-entities'
import { BankAccount } from './entities'
import { bankAccount } from './ledgers'
import { payeeOf, payeeOpen } from './payees'
import { limit, type Paging } from './queries'

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

/** Checks of an account that were posted and that the bank has not paid, with the day of each, found by what is open in the bank book. */
const unpaid = (bank: number) => {
  const of = (payment: string, key: string) => `SELECT n.number, COALESCE(p.written_on, p.day) AS day
      FROM bank_open_entry o JOIN bank_entry e ON e.id = o.entry_id JOIN ${payment} p ON p.journal_id = e.journal_id AND p.state = 'posted'
      JOIN check_number n ON n.${key} = p.id AND n.bank_account_id = o.bank_account_id
     WHERE o.bank_account_id = ${bank} AND NOT EXISTS (
       SELECT 1 FROM bank_start s WHERE s.bank_account_id = o.bank_account_id AND o.day < s.day AND NOT EXISTS (SELECT 1 FROM bank_start_entry y WHERE y.entry_id = o.entry_id))`
  return `(${of('payment_out', 'payment_id')} UNION ALL ${of('firm_payment', 'firm_payment_id')})`
}

/** The numbers of a state, as SQL: each by what tells it soonest, since of all numbers only a page is looked at in full. */
function numbersOf(bank: number, state: '' | CheckState, staleBefore: Day): string {
  const own = `SELECT n.number, CAST(NULL AS SIGNED) AS upTo FROM check_number n`
  // Runs of numbers that nobody accounts for, between the lowest and the highest used.
  const missing = `SELECT g.number + 1 AS number, g.next - 1 AS upTo FROM (SELECT number, LEAD(number) OVER (ORDER BY number) AS next FROM check_number WHERE bank_account_id = ${bank}) g WHERE g.next > g.number + 1`
  const voided = (payment: string, key: string) =>
    `${own} JOIN ${payment} p ON p.id = n.${key} WHERE n.bank_account_id = ${bank} AND p.state = 'void'`
  const open = (which: string) => `SELECT u.number, CAST(NULL AS SIGNED) AS upTo FROM ${unpaid(bank)} u ${which}`
  const posted = (payment: string, key: string) =>
    `${own} JOIN ${payment} p ON p.id = n.${key} LEFT JOIN ${unpaid(bank)} u ON u.number = n.number WHERE n.bank_account_id = ${bank} AND p.state = 'posted' AND u.number IS NULL`
  const either = (of: (payment: string, key: string) => string) =>
    `${of('payment_out', 'payment_id')} UNION ALL ${of('firm_payment', 'firm_payment_id')}`
  const ways: Record<'' | CheckState, string> = {
    '': `${own} WHERE n.bank_account_id = ${bank} UNION ALL ${missing}`,
    missing,
    spoiled: `${own} WHERE n.bank_account_id = ${bank} AND n.payment_id IS NULL AND n.firm_payment_id IS NULL`,
    void: either(voided),
    stale: open(`WHERE u.day < '${staleBefore}'`),
    outstanding: open(`WHERE u.day >= '${staleBefore}'`),
    paid: either(posted),
  }
  return `(${ways[state]}) k`
}

/** What became of some numbers of an account. */
async function numbered(ctx: Ctx, bank: number, numbers: readonly number[], staleDays: number): Promise<Numbered[]> {
  if (!numbers.length) return []
  const found = await rows<Numbered & { kept: number; is: 'posted' | 'void' | null; reversed: string }>(
    ctx.db.manager,
    `SELECT n.number, NULL AS upTo, p.id AS paymentId, COALESCE(c2.how, c3.how) AS \`out\`, COALESCE(p.written_on, p.day, fp.written_on, fp.day) AS day, ${paidOn} AS paidOn, COALESCE(p.payee_name, fp.payee_name, '') AS payee, l.id AS ledgerId, COALESCE(${ledgerName(ctx)}, IF(fp.id IS NULL, '', 'The firm’s own money')) AS ledger, COALESCE(p.amount, fp.amount) AS amount, COALESCE(p.state, fp.state) AS \`is\`,
            COALESCE(v.reason, n.spoiled) AS words, (l.id IS NOT NULL AND NOT ${open(ctx)}) OR NOT ${payeeOpen(ctx, 'vc')} AS kept
       FROM check_number n LEFT JOIN payment_out p ON p.id = n.payment_id LEFT JOIN firm_payment fp ON fp.id = n.firm_payment_id LEFT JOIN client_ledger l ON l.id = p.ledger_id LEFT JOIN contact c ON c.id = l.client_id LEFT JOIN matter m ON m.id = l.matter_id
       LEFT JOIN check_out c2 ON c2.payment_id = p.id LEFT JOIN firm_check_out c3 ON c3.firm_payment_id = fp.id ${payeeOf('fp', 'vc')} LEFT JOIN bank_entry e ON e.journal_id = COALESCE(p.journal_id, fp.journal_id) AND e.bank_account_id = n.bank_account_id
       LEFT JOIN journal_reversal v ON v.journal_id = COALESCE(p.journal_id, fp.journal_id)
      WHERE n.bank_account_id = ? AND n.number IN (?)`,
    [bank, numbers],
  )
  const today = ctx.clock.today()
  return found.map(({ kept, is, reversed: _r, ...n }) => {
    const state = checkState({ day: n.day, state: is, paidOn: n.paidOn }, today, staleDays)
    // Of a matter that is closed to the reader the number is accounted for, and nothing else is told.
    return kept
      ? { ...n, state, payee: '', ledger: 'Not open to you', ledgerId: null, paymentId: null, amount: null, words: '', out: null }
      : { ...n, state }
  })
}

/** Every number of an account, the newest first, with runs of numbers that nobody accounts for where they are missing. */
export async function register(ctx: Ctx, f: Paging & { bankAccountId: number; state: '' | CheckState }) {
  const m = ctx.db.manager
  await bankAccount(m, f.bankAccountId)
  const { staleDays } = (await m.findOne(BankAccount, { select: { staleDays: true, id: true }, where: { id: f.bankAccountId } }))!
  const bank = Number(f.bankAccountId)
  const numbers = numbersOf(bank, f.state, addDays(ctx.clock.today(), -staleDays))
  const total = await row<{ n: number }>(m, `SELECT COUNT(*) AS n FROM ${numbers}`)
  const page = await rows<{ number: number; upTo: number | null }>(m, `SELECT k.number, k.upTo FROM ${numbers} ORDER BY k.number DESC ${limit(f)}`) // prettier-ignore
  const used = page.filter((k) => k.upTo === null).map((k) => k.number)
  const told = new Map<number, Numbered>()
  for (let at = 0; at < used.length; at += 2_000)
    for (const n of await numbered(ctx, bank, used.slice(at, at + 2_000), staleDays)) told.set(n.number, n)
  return {
    rows: page.map((k): Numbered => k.upTo === null ? told.get(k.number)! : { number: k.number, upTo: k.upTo, paymentId: null, state: 'missing', out: null, day: null, paidOn: null, payee: '', ledgerId: null, ledger: '', amount: null, words: 'No check with this number is known' }), // prettier-ignore
    total: total!.n,
  }
}

/** How checks of an account are laid out: as kept, else as usual. */
export async function layoutOf(m: EntityManager, bankAccountId: number): Promise<{ layout: CheckLayout; numbers: boolean }> {
  const kept = await m.findOne(CheckLayoutRow, { select: { layout: true, numbers: true, bankAccountId: true }, where: { bankAccountId } })
  return kept
    ? { layout: { ...usualLayout, ...(JSON.parse(kept.layout) as CheckLayout) }, numbers: Boolean(kept.numbers) }
    : { layout: usualLayout, numbers: true }
}

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

/** A check that was not cashed, locked until it is settled. */
export const lockedUnclaimed = (m: EntityManager, ctx: Ctx, id: number) =>
  row<{ amount: number; payee: string; matterId: number | null; settledOn: Day | null }>(
    m,
    `SELECT p.amount, p.payee_name AS payee, l.matter_id AS matterId, u.settled_on AS settledOn FROM unclaimed u JOIN payment_out p ON p.id = u.payment_id JOIN client_ledger l ON l.id = p.ledger_id LEFT JOIN matter m ON m.id = l.matter_id
      WHERE u.payment_id = ? AND ${open(ctx)} FOR UPDATE`,
    [id],
  )

/** Checks up to a day that were never made out. */
export const checksToMakeOut = (ctx: Ctx, upTo: Day) =>
  rows<{ id: number }>(
    ctx.db.manager,
    `SELECT p.id FROM payment_out p WHERE p.method = 'check' AND p.state = 'posted' AND p.day <= ? AND NOT EXISTS (SELECT 1 FROM check_out o WHERE o.payment_id = p.id)`,
    [upTo],
  )

/** Checks of the firm’s own up to a day count as made out. */
export const firmChecksMadeOut = (ctx: Ctx, upTo: Day) =>
  ctx.db.query(
    `INSERT INTO firm_check_out (firm_payment_id, how, user_id, at) SELECT p.id, 'printed', ?, ? FROM firm_payment p WHERE p.method = 'check' AND p.state = 'posted' AND p.day <= ? AND NOT EXISTS (SELECT 1 FROM firm_check_out o WHERE o.firm_payment_id = p.id)`,
    [ctx.actor.id, instant(ctx.clock.now()), upTo],
  )

/** The next number is taken; LAST_INSERT_ID keeps it for this connection alone. */
export const takeNumber = (m: EntityManager, bankAccountId: number) =>
  m.query(`UPDATE bank_account SET next_check = LAST_INSERT_ID(next_check) + 1 WHERE id = ?`, [bankAccountId])

/** The day on which a check that was spoiled is voided and written anew: its own, or today where that is in what is closed. */
export async function dayOfAnew(m: EntityManager, ctx: Ctx, bankAccountId: number, own: Day): Promise<Day> {
  const closed = await row(
    m,
    `SELECT 1 FROM firm f WHERE f.books_closed_to >= ? UNION SELECT 1 FROM bank_closed r WHERE r.bank_account_id = ? AND r.to_day >= ?`,
    [own, bankAccountId, own],
  )
  return closed ? ctx.clock.today() : own
}

export interface Check {
  bankId: number
  checkNo: number | null
  day: Day
  payee: string
  address: string
  amount: number
  memo: string
  state: string
  firm: string
  firmAddress: string
  bank: string
  client: string | null
  /** What the account is for, as it stands under the firm's name. */
  purpose: string
}

export const checkSql = `SELECT p.check_no AS checkNo, p.day, p.payee_name AS payee, p.payee_address AS address, p.amount, p.memo, p.state, f.name AS firm, f.address AS firmAddress,
    b.id AS bankId, b.bank, CONCAT(c.name, COALESCE(CONCAT(', ', m.number), '')) AS client, 'Client trust account' AS purpose
  FROM payment_out p JOIN client_ledger l ON l.id = p.ledger_id JOIN bank_account b ON b.id = l.bank_account_id
  LEFT JOIN contact c ON c.id = l.client_id LEFT JOIN matter m ON m.id = l.matter_id JOIN firm f`

const points = (mm: number) => Math.round(mm * 283.465) / 100

/** Room to the right of a part, in millimetres, so that long names break within the check. */
const widths: Record<CheckPart, number> = {
  number: 28,
  date: 58,
  payee: 138,
  amount: 40,
  words: 172,
  address: 95,
  memo: 95,
  firm: 95,
  signature: 75,
}

/** One check on a Letter page: its parts where the layout has them, and the stubs below. */
function pageOf(p: Check, { layout, numbers }: { layout: CheckLayout; numbers: boolean }, first: boolean): object[] {
  const text: Record<CheckPart, string> = {
    number: numbers && p.checkNo ? `No. ${p.checkNo}` : '',
    date: showDayInWords(p.day),
    payee: `Pay to the order of  ${p.payee}`,
    amount: `$ **${showAmount(p.amount)}`,
    words: `${moneyInWords(p.amount)} dollars ${'*'.repeat(12)}`,
    address: p.address,
    memo: `${p.bank}\nMemo: ${p.memo}`,
    firm: `${p.firm}\n${p.purpose}\n${p.firmAddress}`,
    signature: '________________________________\nAuthorized signature',
  }
  const small: readonly CheckPart[] = ['address', 'memo', 'firm', 'signature']
  const placed = (Object.keys(text) as CheckPart[])
    .filter((part) => text[part])
    .map((part) => ({
      absolutePosition: { x: points(layout[part].x), y: points(layout[part].y) },
      columns: [
        {
          width: points(Math.min(widths[part], 212 - layout[part].x)),
          text: text[part],
          ...(small.includes(part) ? { style: 'small' } : { bold: part === 'amount' }),
        },
      ],
    }))
  const lowest = Math.max(...Object.values(layout).map((at) => at.y))
  const stub = (title: string, at: number) => ({
    absolutePosition: { x: points(15), y: points(at) },
    stack: [
      { text: title, style: 'small', margin: [0, 0, 0, 6] },
      {
        table: {
          widths: [points(120), points(62)],
          body: [
            [
              `${numbers && p.checkNo ? `Check ${p.checkNo}, ` : ''}${showDayInWords(p.day)}`,
              { text: `$${showAmount(p.amount)}`, alignment: 'right' },
            ],
            [`To ${p.payee}`, ''],
            [`For ${p.memo || '—'}`, { text: p.client ?? '', alignment: 'right' }],
          ],
        },
        layout: 'lightHorizontalLines',
      },
    ],
  })
  // Stubs stand below the check, where there is room for them.
  const below = Math.max(100, lowest + 30)
  const stubs = [stub('Stub for the payee', below), stub('Stub for the firm', below + 70)].slice(
    0,
    below + 110 < 270 ? 2 : below < 220 ? 1 : 0,
  )
  return [{ text: ' ', ...(first ? {} : { pageBreak: 'before' }) }, ...placed, ...stubs]
}

/** Checks on paper, each by the layout of its account. */
export async function checksPdf(ctx: Ctx, list: readonly Check[], title: string): Promise<Buffer> {
  const layouts = new Map<number, Awaited<ReturnType<typeof layoutOf>>>()
  for (const p of list) if (!layouts.has(p.bankId)) layouts.set(p.bankId, await layoutOf(ctx.db.manager, p.bankId))
  return makePdf({
    pageSize: 'LETTER',
    pageMargins: [20, 20, 20, 20],
    info: { title, creationDate: new Date(`${list[0]!.day}T12:00:00Z`) },
    content: list.flatMap((p, i) => pageOf(p, layouts.get(p.bankId)!, i === 0)),
  } as never)
}

/** A check with made-up words, so that the layout can be tried on the firm's own paper. */
export async function sampleCheck(ctx: Ctx, bankAccountId: number): Promise<{ data: Buffer; name: string }> {
  const bank = await bankAccount(ctx.db.manager, bankAccountId)
  const own = await row<Pick<Check, 'firm' | 'firmAddress' | 'bank' | 'purpose'>>(ctx.db.manager, `SELECT f.name AS firm, f.address AS firmAddress, b.bank, IF(b.kind = 'operating', 'Operating account', 'Client trust account') AS purpose FROM firm f JOIN bank_account b ON b.id = ?`, [bankAccountId]) // prettier-ignore
  const sample: Check = { ...own!, bankId: bank.id, checkNo: 1234, day: ctx.clock.today(), payee: 'Somebody with a Rather Long Name & Company', address: '1 Long Street\nHarrow Sound', amount: 123_456_78, memo: 'A sample, not a check', state: 'posted', client: 'A client' } // prettier-ignore
  return { data: await checksPdf(ctx, [sample], 'Sample of a check'), name: 'check-sample.pdf' }
}

/** What the firm is called, and whether separate trust money goes through the pooled account. */
export const firmRules = (m: EntityManager) =>
  row<{ name: string; viaPooled: number }>(m, `SELECT name, separate_trust_via_pooled AS viaPooled FROM firm`)

/** The bank of a ledger. */
export const bankOfLedger = (m: EntityManager, ledgerId: number) =>
  row<{ id: number }>(m, `SELECT bank_account_id AS id FROM client_ledger WHERE id = ?`, [ledgerId])

/** A payment of the firm’s own, locked until it is voided. */
export const lockedFirmPayment = (m: EntityManager, id: number) =>
  row<{
    bankId: number
    state: string
    day: Day
    checkNo: number | null
    amount: number
    payee: string
    journalId: number
  }>(
    m,
    `SELECT bank_account_id AS bankId, state, day, check_no AS checkNo, amount, payee_name AS payee, journal_id AS journalId FROM firm_payment WHERE id = ? FOR UPDATE`,
    [id],
  )

/** What stands on checks of the firm’s own. */
export const firmChecks = (ctx: Ctx, ids: readonly number[]) =>
  rows<Check>(
    ctx.db.manager,
    `SELECT p.check_no AS checkNo, p.day, p.payee_name AS payee, p.payee_address AS address, p.amount, p.memo, p.state, f.name AS firm, f.address AS firmAddress, b.id AS bankId, b.bank, NULL AS client, 'Operating account' AS purpose
       FROM firm_payment p ${payeeOf('p')} JOIN bank_account b ON b.id = p.bank_account_id JOIN firm f WHERE ${payeeOpen(ctx)} AND p.id IN (?) AND p.state = 'posted' AND p.method = 'check' ORDER BY p.check_no`,
    [ids],
  )

/** What stands on a check, where its matter is open to whoever asks. */
export const checkSeen = (ctx: Ctx, id: number) =>
  row<Check>(ctx.db.manager, `${checkSql} WHERE p.id = ? AND (l.matter_id IS NULL OR ${matterScope(ctx.actor, 'm', 'trust')})`, [id])

/** What stands on posted checks, in the order of their numbers. */
export const checksSeen = (ctx: Ctx, ids: readonly number[]) =>
  rows<Check>(
    ctx.db.manager,
    `${checkSql} WHERE p.id IN (?) AND p.state = 'posted' AND (l.matter_id IS NULL OR ${matterScope(ctx.actor, 'm', 'trust')}) ORDER BY p.check_no`,
    [ids],
  )
