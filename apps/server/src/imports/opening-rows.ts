import { faultOfPast, readDay, showDay, type Day } from '@heron/core/calendar'
import { openingKinds, type AccountRole, type OpeningKind } from '@heron/core/ledger'
import { readMoney } from '@heron/core/money'
import type { OpeningOwner } from '../ledger'
import type { Row } from './importer'
import { key, known, type Ready } from './opening-queries'

/** The books of a firm as of a day: balances, client ledgers, what is in transit, and what is unpaid and unbilled. */
export const columns: [key: string, label: string, needed: boolean, known: string[]][] = [
  ['what', 'What', true, ['kind of row', 'row', 'type']],
  ['asOf', 'As of', true, ['as at', 'day of moving in', 'opening date']],
  ['account', 'Account', false, ['account number', 'bank', 'bank account', 'gl account']],
  ['client', 'Client', false, ['client name', 'payer', 'owner']],
  ['matter', 'Matter', false, ['matter number', 'file number']],
  ['number', 'Number', false, ['check number', 'bill number', 'invoice number', 'reference']],
  ['day', 'Date', false, ['dated', 'issued', 'written on']],
  ['due', 'Due', false, ['due date', 'due on']],
  ['name', 'Name', false, ['payee', 'vendor', 'person', 'timekeeper']],
  ['amount', 'Amount', false, ['balance', 'open', 'total']],
  ['debit', 'Debit', false, []],
  ['credit', 'Credit', false, []],
  ['costs', 'Costs in it', false, ['of it costs']],
  ['tax', 'Tax in it', false, ['of it tax']],
  ['hours', 'Hours', false, ['time', 'quantity']],
  ['rate', 'Rate', false, ['hourly rate']],
  ['kind', 'Kind of cost', false, ['cost code', 'cost kind']],
  ['text', 'Text', false, ['description', 'memo', 'details']],
]
/** Accounts whose balance comes with rows of their own. */
const withRows: Partial<Record<AccountRole, string>> = {
  receivable: 'bill',
  payables: 'vendor',
  'costs advanced': 'cost',
  'client credits': 'credit',
  'work in progress': 'time',
  'unbilled fees': 'time',
  'firm money in trust': 'ledger, with “the firm” as its client',
}
const notBrought: readonly AccountRole[] = ['due from clients', 'opening clearing']

/** Kinds of rows that bear a day of their own. */
const datedKinds: ReadonlySet<OpeningKind> = new Set<OpeningKind>(['check', 'deposit', 'bill', 'credit', 'vendor', 'cost', 'time'])
type Known = Awaited<ReturnType<typeof known>>

const special: Record<string, OpeningOwner> = {
  'the firm': { kind: 'firm' },
  firm: { kind: 'firm' },
  unidentified: { kind: 'unidentified' },
  'bar foundation': { kind: 'foundation' },
}

/** Reads one row; what is wrong with it is told at its column. */
export function readRow(r: Row, k: Known, today: Day, fault: (column: string, text: string) => void): Ready | null {
  const what = key(r.get('what')) as OpeningKind
  if (!openingKinds.includes(what)) {
    fault(
      'what',
      `${r.get('what') || 'Nothing'} is no kind of row. Write ${openingKinds.slice(0, -1).join(', ')} or ${openingKinds.at(-1)}`,
    )
    return null
  }
  let ok = true
  const wrong = (column: string, text: string) => {
    fault(column, text)
    ok = false
  }
  const dayOf = (field: string, needed: string) => {
    const text = r.get(field)
    const day = text ? readDay(text, today) : null
    if (text && !day) wrong(field, `${text} is not a date. Write it like 2026-10-31`)
    else if (!day && needed) wrong(field, needed)
    return day
  }
  const moneyOf = (field: string) => {
    const text = r.get(field)
    const amount = text ? readMoney(text) : 0
    if (amount === null) wrong(field, `${text} is not an amount`)
    else if (Math.abs(amount) > 100_000_000_000) wrong(field, 'One row holds at most $1,000,000,000.00')
    return amount ?? 0
  }
  const asOf = dayOf('asOf', 'Give the day of the books')
  if (asOf) {
    const past = faultOfPast(asOf, today)
    if (past || asOf > today) wrong('asOf', past ?? `${r.get('asOf')} is ahead`)
  }
  const dated = datedKinds.has(what)
  const day = dayOf('day', dated ? 'Give its date' : '')
  if (dated && day && asOf && day > asOf) wrong('day', `${showDay(day)} is after the day of the books`)
  if (dated && day && faultOfPast(day, today)) wrong('day', faultOfPast(day, today)!)
  const dueText = dayOf('due', '')
  const both = r.get('debit') || r.get('credit')
  const amount = both && what === 'account' ? moneyOf('debit') - moneyOf('credit') : moneyOf('amount')
  if (!amount && what !== 'time' && what !== 'statement') wrong(both ? 'debit' : 'amount', 'Give the amount')
  if (amount < 0 && what !== 'account' && what !== 'statement')
    wrong(
      'amount',
      what === 'ledger' ? 'A client ledger is never below zero. Mend the books that are brought' : 'Give an amount above zero',
    )
  const text = r.get('text').trim()
  if (text.length > 190) wrong('text', 'Keep it under 190 characters')
  const out: Ready = {
    asOf: asOf ?? today,
    row: { what, amount, bankAccountId: null },
    number: r.get('number').trim(),
    day: day ?? asOf ?? today,
    due: dueText ?? day ?? today,
    name: r.get('name').trim(),
    text,
    fees: 0,
    costs: 0,
    tax: 0,
    hours: r.get('hours').trim(),
    rate: null,
  }
  const matterText = r.get('matter')
  const matter = matterText ? k.matter(matterText) : undefined
  if (matterText && !matter) wrong('matter', `There is no matter ${matterText}`)
  if (matter) out.matterId = matter.id
  const oneContact = (field: string, said: string) => {
    const found = k.contact(said)
    if (found.length === 1) return found[0]!
    wrong(
      field,
      found.length
        ? `More than one on record is called ${said}. Write # and the number of the one meant`
        : `Nobody on record is called ${said}. Import contacts first`,
    )
    return undefined
  }
  const owner = (): OpeningOwner | undefined => {
    const said = r.get('client')
    if (special[key(said)]) return special[key(said)]
    const clientId = said ? oneContact('client', said) : matter?.clientId
    if (!said && !matter) wrong('client', 'Give the client, or the matter')
    if (clientId === undefined) return undefined
    if (matter && clientId !== matter.clientId) wrong('matter', `${matterText} is a matter of another client`)
    return { kind: 'client', clientId, matterId: matter?.id ?? null }
  }
  const banked = what === 'ledger' || what === 'check' || what === 'deposit' || what === 'statement'
  if (banked) {
    const bank = k.bank(r.get('account'))
    if (!bank)
      wrong(
        'account',
        r.get('account') ? `${r.get('account')} is no bank account. Write its number in the chart, or its name` : 'Give the bank account',
      )
    else {
      out.row.bankAccountId = bank.id
      if (what === 'ledger' && bank.kind === 'operating') wrong('account', `${bank.name} is the firm’s own. Its balance is a row “account”`)
      const named = r.get('client') || matterText
      if (
        what === 'ledger' ||
        (what === 'check' && bank.kind !== 'operating') ||
        (what === 'deposit' && bank.kind !== 'operating' && named)
      ) {
        const whose = owner()
        if (whose) out.owner = whose
        if (whose && bank.kind === 'separate' && !(whose.kind === 'client' && (bank.clientId === null || whose.clientId === bank.clientId)))
          wrong('client', `${bank.name} is one client’s alone`)
        if (whose?.kind === 'unidentified' && what === 'check') wrong('client', 'No check is drawn on money whose owner is not known')
        if (whose?.kind === 'firm') out.row.firmMoney = true
      }
    }
  }
  if (what === 'check') {
    if (!/^\d{1,8}$/.test(out.number) || Number(out.number) < 1) wrong('number', 'Give the number of the check')
    if (!out.name) wrong('name', 'Say to whom it was written')
    if (out.name.length > 160) wrong('name', 'Keep it under 160 characters')
  }
  if (what === 'account') {
    const account = k.account(r.get('account'))
    const bank = k.bank(r.get('account'))
    if (bank && bank.kind !== 'operating') wrong('account', `${bank.name} comes with its rows “ledger”`)
    else if (bank) out.row.bankAccountId = bank.id
    else if (!account)
      wrong('account', r.get('account') ? `There is no account ${r.get('account')}. Add it to the chart first` : 'Give the account')
    else if (k.banks.some((b) => b.liability === account.id)) wrong('account', `${account.name} comes with the rows “ledger”`)
    else if (account.role && withRows[account.role]) wrong('account', `${account.name} comes with rows “${withRows[account.role]}”`)
    else if (account.role && notBrought.includes(account.role))
      wrong('account', `${account.name} is not brought; it follows from the rest, or is entered afterwards`)
    else out.account = account.id
  }
  if (what === 'bill') {
    if (!matter) wrong('matter', matterText ? `There is no matter ${matterText}` : 'Give the matter')
    if (!out.number || out.number.length > 20) wrong('number', 'Give the number of the bill, up to 20 characters')
    const said = r.get('client')
    const payerId = said ? oneContact('client', said) : matter?.clientId
    if (payerId !== undefined) out.payerId = payerId
    out.costs = moneyOf('costs')
    out.tax = moneyOf('tax')
    out.fees = amount - out.costs - out.tax
    if (out.costs < 0 || out.tax < 0 || out.fees < 0) wrong('costs', 'Costs and tax are parts of the amount')
    const who = r.get('name') ? k.person(r.get('name')) : matter?.leadId
    if (who === undefined && matter) wrong('name', `${r.get('name')} is nobody of the firm`)
    else if (who !== undefined) out.userId = who
    if (dueText && day && dueText < day) wrong('due', 'It would be due before it was issued')
  }
  if (what === 'credit') {
    const said = r.get('client')
    const payerId = said ? oneContact('client', said) : matter?.clientId
    if (!said && !matter) wrong('client', 'Say who has paid more than was owed')
    if (payerId !== undefined) out.payerId = payerId
    if (out.number.length > 60) wrong('number', 'Keep it under 60 characters')
  }
  if (what === 'vendor') {
    const id = r.get('name') ? oneContact('name', r.get('name')) : undefined
    if (!r.get('name')) wrong('name', 'Say who the vendor is')
    if (id !== undefined) out.contactId = id
    if (out.number.length > 60) wrong('number', 'Keep it under 60 characters')
    if (dueText && day && dueText < day) wrong('due', 'It would be due before it was written')
    if (r.get('account')) {
      const account = k.account(r.get('account'))
      if (!account || account.kind !== 'expense') wrong('account', 'Give the expense that it was, or leave it out')
      else out.account = account.id
    }
  }
  if (what === 'cost' || what === 'time') {
    if (!matter) wrong('matter', matterText ? `There is no matter ${matterText}` : 'Give the matter')
    else if (!matter.open) wrong('matter', `${matterText} is closed, or for practice`)
  }
  if (what === 'cost') {
    const kind = k.kind(r.get('kind'))
    if (!kind) wrong('kind', r.get('kind') ? `${r.get('kind')} is no kind of cost that is paid to somebody` : 'Give the kind of cost')
    else out.kindId = kind
    if (!out.name) wrong('name', 'Say to whom it was paid')
    if (out.name.length > 160) wrong('name', 'Keep it under 160 characters')
  }
  if (what === 'time') {
    const who = r.get('name') ? k.person(r.get('name')) : matter?.leadId
    if (who === undefined && matter) wrong('name', `${r.get('name')} is nobody of the firm`)
    else if (who !== undefined) out.userId = who
    if (!/^\d{1,2}(?:\.\d{1,2})?$/.test(out.hours) || Number(out.hours) <= 0 || Number(out.hours) > 24)
      wrong('hours', 'Give hours such as 1.5, up to 24')
    const rate = r.get('rate') ? readMoney(r.get('rate')) : null
    if (r.get('rate') && (rate === null || rate < 0 || rate > 1_000_000)) wrong('rate', 'Give a rate by the hour')
    out.rate = rate
    if (!text) wrong('text', 'Say what was done')
  }
  return ok ? out : null
}
