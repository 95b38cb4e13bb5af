import { SaxesParser } from 'saxes'
import { isDay, type Day } from '../calendar'
import type { Cents } from '../money'
import {
  checkNumber,
  emptyStatement,
  fault,
  mostOfStatement,
  odd,
  oneText,
  readCents,
  type Statement,
  type StatementDetail,
} from './statement'

/** The day of an ISO date or moment as it is written; zones are left where they are. */
const isoDay = (text: string): Day | null => {
  const day = text.trim().slice(0, 10)
  return isDay(day) ? day : null
}

interface Amount {
  text: string
  currency: string
}
interface Entry {
  amount: Amount | null
  credit: boolean | null
  status: string
  booked: Day | null
  value: Day | null
  bookedSaid: string
  ref: string
  serviceRef: string
  code: string[]
  info: string
  details: Detail[]
}
interface Detail {
  amount: Amount | null
  credit: boolean | null
  /** References by what they are. */
  refs: Map<string, string>
  check: string
  parties: string[]
  words: string[]
}
interface Balance {
  code: string
  amount: Amount | null
  credit: boolean | null
  day: Day | null
}
const newEntry = (): Entry => ({ amount: null, credit: null, status: '', booked: null, value: null, bookedSaid: '', ref: '', serviceRef: '', code: [], info: '', details: [] }) // prettier-ignore
const newDetail = (): Detail => ({ amount: null, credit: null, refs: new Map(), check: '', parties: [], words: [] })

/** The references of a transaction, the payer's own first. */
const refKinds = ['EndToEndId', 'TxId', 'InstrId', 'AcctSvcrRef']
const refOf = (d: Detail): string => refKinds.map((k) => d.refs.get(k)).find(Boolean) ?? ''

const mostDepth = 60
const statementTypes = /^urn:iso:std:iso:20022:tech:xsd:camt\.053\.001\.(\d\d)$/

/**
 * ISO 20022 camt.053.001.02 to .08. One line for each booked entry, with the bank's own reference (`AcctSvcrRef`, else `NtryRef`) as
 * its id and its transactions kept under it. Days are those written. No entity but XML's own is ever put in.
 */
export function readCamt(text: string): Statement[] {
  const out: Statement[] = []
  const path: string[] = []
  let s: Statement | null = null
  let entry: Entry | null = null
  let detail: Detail | null = null
  let balance: Balance | null = null
  let balances: Balance[] = []
  let value = ''
  let currency = ''
  let broken = ''
  let version = ''
  let left = 0
  let last = ''

  const inCents = (a: Amount | null, credit: boolean | null): Cents | null => {
    if (!a || credit === null) return null
    const cents = readCents(a.text)
    // The sign stands in its own field; a minus in front of it would say the same thing twice, or the opposite.
    return cents === null || a.text.trim().startsWith('-') ? null : credit || cents === 0 ? cents : -cents
  }
  const under = (...names: string[]) => names.every((n, i) => path[path.length - names.length + i] === n)

  function endEntry(at: Statement, e: Entry) {
    if (at.lines.length >= mostOfStatement.lines) throw new RangeError('This statement has too many lines')
    const said = `Entry ${at.lines.length + at.faults.length + 1}`
    if (e.status !== 'BOOK') {
      left += 1
      return
    }
    const day = e.booked ?? (e.bookedSaid ? null : e.value)
    if (!day) return fault(at, `${said} has no day on which it was booked.`)
    const amount = inCents(e.amount, e.credit)
    if (amount === null) return fault(at, `${said}: the amount “${(e.amount?.text ?? '').slice(0, 30)}” cannot be read with certainty.`)
    if (at.currency && e.amount!.currency && e.amount!.currency !== at.currency) return fault(at, `${said} is in ${e.amount!.currency}, and the account is in ${at.currency}.`) // prettier-ignore
    if (amount === 0) return odd(at, 'Entries of nothing were left out.')
    const details = e.details.map((d): StatementDetail => ({
      amount: d.amount && (!at.currency || d.amount.currency === at.currency) ? inCents(d.amount, d.credit ?? e.credit) : null,
      reference: d.check || refOf(d),
      text: oneText(...d.parties, ...d.words),
    })) // prettier-ignore
    const checks = [...new Set(e.details.map((d) => checkNumber(d.check)).filter(Boolean))]
    const alone = e.details.length === 1 ? e.details[0]! : null
    at.lines.push({
      day,
      amount,
      bankId: (e.serviceRef || e.ref).slice(0, 255),
      check: checks.length === 1 && e.details.length === 1 ? checks[0]! : '',
      reference: alone ? refOf(alone) : '',
      kind: e.code.join('-').slice(0, 60),
      text: oneText(e.info, ...(alone ? [...alone.parties, ...alone.words] : [])),
      details: details.slice(0, mostOfStatement.details),
    })
  }

  function endStatement(at: Statement) {
    const of = (code: string) => balances.filter((b) => b.code === code)
    const amount = (b: Balance | undefined) => (b ? inCents(b.amount, b.credit) : null)
    const byDay = (list: Balance[]) => [...list].sort((a, b) => ((a.day ?? '') < (b.day ?? '') ? -1 : 1))
    const closing = byDay(of('CLBD')).at(-1)
    const opening = byDay(of('OPBD'))[0] ?? byDay(of('PRCD'))[0]
    for (const b of [opening, closing])
      if (b && amount(b) === null) fault(at, `The balance “${(b.amount?.text ?? '').slice(0, 30)}” cannot be read.`)
    at.opening = amount(opening)
    if (!at.to && closing?.day) at.to = closing.day
    if (closing && at.to && closing.day && closing.day !== at.to)
      odd(at, `The closing balance in the file is of ${closing.day}, and the statement ends on ${at.to}: it is not taken for its closing balance.`) // prettier-ignore
    else at.closing = amount(closing)
    if (left) odd(at, `${left} not booked yet ${left === 1 ? 'was' : 'were'} left out.`)
    out.push(at)
  }

  const parser = new SaxesParser({ xmlns: true })
  parser.on('error', (e) => (broken ||= e.message))
  parser.on('doctype', () => (broken ||= 'a document type'))
  parser.on('opentag', (tag) => {
    if (path.length >= mostDepth) throw new RangeError('Parts lie too deep within one another')
    path.push(tag.local)
    value = ''
    if (path.length === 1) version = tag.uri
    currency = ''
    for (const a of Object.values(tag.attributes)) if (a.local === 'Ccy') currency = a.value.slice(0, 3)
    if (tag.local === 'Stmt' && under('BkToCstmrStmt', 'Stmt')) {
      s = emptyStatement('camt.053')
      balances = []
      left = 0
    } else if (s && tag.local === 'Ntry' && under('Stmt', 'Ntry')) entry = newEntry()
    else if (entry && tag.local === 'TxDtls' && entry.details.length < mostOfStatement.details) detail = newDetail()
    else if (s && !entry && tag.local === 'Bal' && under('Stmt', 'Bal')) balance = { code: '', amount: null, credit: null, day: null }
  })
  const keep = (t: string) => (value = (value + t).slice(0, 2000))
  parser.on('text', keep)
  parser.on('cdata', keep)
  parser.on('closetag', (tag) => {
    const v = value.trim()
    const name = tag.local
    if (s) field(name, v)
    if (name === 'Ntry' && entry && s && under('Stmt', 'Ntry')) {
      endEntry(s, entry)
      entry = null
    } else if (name === 'TxDtls' && detail && entry) {
      entry.details.push(detail)
      detail = null
    } else if (name === 'Bal' && balance && s) {
      balances.push(balance)
      balance = null
    } else if (name === 'Stmt' && s && under('BkToCstmrStmt', 'Stmt')) {
      endStatement(s)
      s = null
    }
    path.pop()
    value = ''
    last = name
  })
  function field(name: string, v: string) {
    if (!s || !v) return
    if (balance) {
      if (name === 'Cd' && under('Tp', 'CdOrPrtry', 'Cd')) balance.code = v
      else if (name === 'Amt' && under('Bal', 'Amt')) balance.amount = { text: v, currency }
      else if (name === 'CdtDbtInd' && under('Bal', 'CdtDbtInd')) balance.credit = v === 'CRDT' ? true : v === 'DBIT' ? false : null
      else if ((name === 'Dt' || name === 'DtTm') && under('Bal', 'Dt', name)) balance.day = isoDay(v)
      return
    }
    if (detail) {
      if (name === 'Amt' && (under('TxDtls', 'Amt') || (under('TxAmt', 'Amt') && !detail.amount))) detail.amount = { text: v, currency }
      else if (name === 'CdtDbtInd' && under('TxDtls', 'CdtDbtInd')) detail.credit = v === 'CRDT'
      else if (name === 'ChqNb') detail.check = v
      else if (path.at(-2) === 'Refs' && refKinds.includes(name) && v !== 'NOTPROVIDED')
        detail.refs.set(name, v.slice(0, 60)) // prettier-ignore
      else if (name === 'Nm' && (path.includes('RltdPties') || path.includes('Dbtr') || path.includes('Cdtr'))) detail.parties.push(v)
      else if (name === 'Ustrd' || name === 'AddtlTxInf') detail.words.push(v)
      return
    }
    if (entry) {
      if (name === 'Amt' && under('Ntry', 'Amt')) entry.amount = { text: v, currency }
      else if (name === 'CdtDbtInd' && under('Ntry', 'CdtDbtInd')) entry.credit = v === 'CRDT' ? true : v === 'DBIT' ? false : null
      else if (name === 'Sts' && under('Ntry', 'Sts')) entry.status = entry.status || v
      else if (name === 'Cd' && under('Ntry', 'Sts', 'Cd')) entry.status = v
      else if ((name === 'Dt' || name === 'DtTm') && under('Ntry', 'BookgDt', name)) {
        entry.bookedSaid = v
        entry.booked = isoDay(v)
      } else if ((name === 'Dt' || name === 'DtTm') && under('Ntry', 'ValDt', name)) entry.value = isoDay(v)
      else if (name === 'NtryRef' && under('Ntry', 'NtryRef')) entry.ref = v
      else if (name === 'AcctSvcrRef' && under('Ntry', 'AcctSvcrRef')) entry.serviceRef = v
      else if (path.includes('BkTxCd') && (name === 'Cd' || name === 'SubFmlyCd') && entry.code.length < 4) entry.code.push(v)
      else if (name === 'AddtlNtryInf') entry.info = oneText(entry.info, v)
      return
    }
    if (under('Acct', 'Id', 'IBAN') || under('Id', 'Othr', 'Id')) {
      if (path.includes('Acct') && !path.includes('RltdAcct') && !path.includes('Svcr') && !path.includes('Ownr'))
        s.account ||= v.slice(0, 40)
    } else if (under('Stmt', 'Acct', 'Ccy')) s.currency = v.slice(0, 3)
    else if (under('Stmt', 'FrToDt', 'FrDtTm')) s.from = isoDay(v)
    else if (under('Stmt', 'FrToDt', 'ToDtTm')) s.to = isoDay(v)
    else if (path.includes('Svcr') && ['BIC', 'BICFI', 'MmbId'].includes(name)) s.bank ||= v.slice(0, 40)
    else if (name === 'LastPgInd' && v === 'false') odd(s, 'This is one page of a statement of several.')
  }
  for (let at = 0; at < text.length && !broken; at += 1_000_000) parser.write(text.slice(at, at + 1_000_000))
  if (!broken) parser.close()
  void last
  const known = statementTypes.exec(version)
  const found = out.length ? out : [emptyStatement('camt.053')]
  if (broken) fault(found[0]!, `The file is not well formed, and was not taken: ${broken.slice(0, 120)}.`)
  else if (!out.length)
    fault(found[0]!, /camt\.05[24]/.test(version) ? 'This is a report or notice of single movements (camt.052 or camt.054), and no statement.' : 'There is no statement in this file.') // prettier-ignore
  else if (!known || Number(known[1]) < 2 || Number(known[1]) > 8)
    for (const f of found) odd(f, `The file calls itself “${version.slice(0, 80)}”; camt.053.001.02 to .08 are known here.`)
  return found
}
