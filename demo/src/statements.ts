import { mkdir, writeFile } from 'node:fs/promises'
import { join } from 'node:path'
import { addDays, daysInMonth, dayOf, parts, type Day } from '@heron/core/calendar'
import { closeMonth, markInTransit, matchPairs, monthAt, proposals, readStatement, takeStatement } from '@heron/server/ledger'
import { rows } from '@heron/server/platform'
import type { Stage } from './stage'

interface Moved {
  day: Day
  amount: number
  check: string
  text: string
}

/** What the bank saw of an account in a span: checks some days after they were written, all else on its day. */
async function seen(stage: Stage, bankId: number, from: Day, to: Day): Promise<Moved[]> {
  const book = await rows<{ id: number; day: Day; amount: number; kind: string; reference: string; text: string; turned: number }>(
    stage.base.db.manager,
    `SELECT e.id, e.day, e.amount, e.kind, e.reference, e.text, EXISTS (SELECT 1 FROM journal_reversal v WHERE e.journal_id IN (v.journal_id, v.reversal_id)) AS turned
       FROM bank_entry e WHERE e.bank_account_id = ? AND e.day BETWEEN ? AND ? ORDER BY e.day, e.id`,
    [bankId, addDays(from, -30), to],
  )
  return book
    .filter((e) => !e.turned)
    .map((e): Moved => {
      const paidOut = e.kind === 'check' && e.amount < 0
      return {
        day: paidOut ? addDays(e.day, 3 + (e.id % 6)) : e.day,
        amount: e.amount,
        check: paidOut ? e.reference : '',
        text: e.kind === 'deposit' ? 'DEPOSIT' : e.kind === 'wire' ? 'WIRE IN' : paidOut ? 'CHECK' : e.kind.toUpperCase(),
      }
    })
    .filter((e) => e.day >= from && e.day <= to)
    .sort((a, b) => (a.day < b.day ? -1 : a.day > b.day ? 1 : 0))
}
const compact = (day: Day) => day.replaceAll('-', '')
const dollars = (cents: number) => (cents / 100).toFixed(2)
function ofx(account: string, from: Day, to: Day, lines: readonly Moved[], closing: number): string {
  const list = lines.map(
    (l, i) =>
      `<STMTTRN><TRNTYPE>${l.check ? 'CHECK' : l.amount > 0 ? 'CREDIT' : 'DEBIT'}<DTPOSTED>${compact(l.day)}120000<TRNAMT>${dollars(l.amount)}<FITID>${compact(l.day)}${String(i + 1).padStart(4, '0')}${l.check ? `<CHECKNUM>${l.check}` : ''}<NAME>${l.text}</STMTTRN>`,
  )
  return `OFXHEADER:100\r\nDATA:OFXSGML\r\nVERSION:102\r\nSECURITY:NONE\r\nENCODING:USASCII\r\nCHARSET:1252\r\nCOMPRESSION:NONE\r\nOLDFILEUID:NONE\r\nNEWFILEUID:NONE\r\n\r\n<OFX><SIGNONMSGSRSV1><SONRS><STATUS><CODE>0<SEVERITY>INFO</STATUS><DTSERVER>${compact(to)}<LANGUAGE>ENG</SONRS></SIGNONMSGSRSV1><BANKMSGSRSV1><STMTTRNRS><TRNUID>0<STATUS><CODE>0<SEVERITY>INFO</STATUS><STMTRS><CURDEF>USD<BANKACCTFROM><BANKID>000000013<ACCTID>${account}<ACCTTYPE>CHECKING</BANKACCTFROM><BANKTRANLIST><DTSTART>${compact(from)}<DTEND>${compact(to)}\r\n${list.join('\r\n')}\r\n</BANKTRANLIST><LEDGERBAL><BALAMT>${dollars(closing)}<DTASOF>${compact(to)}</LEDGERBAL></STMTRS></STMTTRNRS></BANKMSGSRSV1></OFX>\r\n`
}
const sumOf = (list: readonly { amount: number }[]) => list.reduce((n, l) => n + l.amount, 0)

/**
 * Statements of the pooled trust account: the month before last is read, matched and closed; that of the last month lies in a
 * folder to be read, with a charge, a deposit that the bank took a cent wrong, and a check that it paid under another number.
 */
export async function layStatements(stage: Stage, bankId: number, staleCheck: string, folder: string): Promise<void> {
  const orla = stage.as('Orla Petrakis')
  const [y, mo] = parts(stage.today)
  const last = addDays(dayOf(y, mo, 1), -1)
  const monthOf = (end: Day): [from: Day, to: Day] => {
    const [a, b] = parts(end)
    return [dayOf(a, b, 1), dayOf(a, b, daysInMonth(a, b))]
  }
  const [from, to] = monthOf(addDays(monthOf(last)[0], -1))
  const account = '100200304471'
  const lines = await seen(stage, bankId, from, to)
  const book = (await rows<{ n: number }>(stage.base.db.manager, `SELECT COALESCE(SUM(amount), 0) AS n FROM bank_entry WHERE bank_account_id = ? AND day < ?`, [bankId, from]))[0]!.n // prettier-ignore
  // What had been written before and came in within this month was outstanding at its beginning.
  const early = await seen(stage, bankId, addDays(from, -30), addDays(from, -1))
  const before = await rows<{ amount: number; reference: string; day: Day; kind: string }>(
    stage.base.db.manager,
    `SELECT e.amount, e.reference, e.day, e.kind FROM bank_entry e WHERE e.bank_account_id = ? AND e.day BETWEEN ? AND ? AND e.kind = 'check' AND e.amount < 0 AND NOT EXISTS (SELECT 1 FROM journal_reversal v WHERE e.journal_id IN (v.journal_id, v.reversal_id))`,
    [bankId, addDays(from, -30), addDays(from, -1)],
  )
  // A check of long ago that nobody cashed is outstanding besides.
  const stale = await rows<{ id: number; amount: number }>(stage.base.db.manager, `SELECT id, amount FROM bank_entry WHERE bank_account_id = ? AND kind = 'check' AND reference = ?`, [bankId, staleCheck]) // prettier-ignore
  const opening = book - sumOf(before.filter((b) => !early.some((e) => e.check === b.reference))) - sumOf(stale)
  const closing = opening + sumOf(lines)
  const first = new TextEncoder().encode(ofx(account, from, to, lines, closing))
  const read = await readStatement(orla, bankId, first, '')
  await takeStatement(orla, {
    id: bankId,
    fileId: read.fileId,
    fileName: `pooled-${to.slice(0, 7)}.ofx`,
    columns: null,
    accepted: '',
    closing: null,
  })
  for (const e of stale) await markInTransit(orla, e.id, true)
  const likely = (await proposals(orla, bankId)).rows.filter((p) => !p.difference)
  if (likely.length) await matchPairs(orla, { id: bankId, named: '', pairs: likely.map((p) => ({ lineIds: p.lines.map((l) => l.id), entryIds: p.entries.map((e) => e.id) })) }) // prettier-ignore
  const month = await monthAt(orla, bankId, to)
  if (month.figures && !month.stops.length)
    await closeMonth(orla, { id: bankId, to, seen: { bank: month.figures.bank, book: month.figures.book } })

  const [nextFrom, nextTo] = monthOf(last)
  const next = await seen(stage, bankId, nextFrom, nextTo)
  const deposit = next.find((l) => l.text === 'DEPOSIT')
  if (deposit) deposit.amount += 1
  const check = next.filter((l) => l.check).at(-1)
  if (check) check.check = String(Number(check.check) + 5000)
  next.push({ day: nextTo, amount: -18_50, check: '', text: 'MONTHLY SERVICE CHARGE' })
  await mkdir(folder, { recursive: true })
  await writeFile(join(folder, `pooled-${nextTo.slice(0, 7)}.ofx`), ofx(account, nextFrom, nextTo, next, closing + sumOf(next)))
}
