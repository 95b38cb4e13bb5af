import { SaxesParser } from 'saxes'
import { isDay, type Day } from '../calendar'
import type { Cents } from '../money'
import { checkNumber, emptyStatement, fault, mostOfStatement, odd, oneText, readCents, type Statement } from './statement'

/** The day of an OFX date as it is written (`20261103120000[-5:EST]`), whatever zone stands behind it. Null for anything else. */
export function ofxDay(text: string): Day | null {
  const t = text.trim()
  if (!/^\d{8}/.test(t)) return null
  const day = `${t.slice(0, 4)}-${t.slice(4, 6)}-${t.slice(6, 8)}`
  return isDay(day) ? day : null
}

/**
 * Cents of an OFX amount: a comma or a point before the decimals. Where both stand, the last is the decimal sign and the other must
 * stand before groups of three. A comma before exactly three digits could be either, and is not read.
 */
export function ofxAmount(text: string): Cents | null {
  const t = text.slice(0, 40).trim()
  const [comma, point] = [t.lastIndexOf(','), t.lastIndexOf('.')]
  if (comma < 0) return readCents(t)
  if (point < 0) return /,\d{3}$/.test(t) ? null : readCents(t, ',')
  const [decimal, group] = comma > point ? ([',', '.'] as const) : (['.', ','] as const)
  const whole = t.slice(0, Math.max(comma, point))
  if (
    !/^[+-]?\d{1,3}$/.test(whole.split(group)[0]!) ||
    whole
      .split(group)
      .slice(1)
      .some((g) => !/^\d{3}$/.test(g))
  )
    return null
  return readCents(whole.split(group).join('') + t.slice(Math.max(comma, point)), decimal)
}

/** Parts in which fields are looked for; a field belongs to the nearest of these around it. */
const parts = new Set('OFX SONRS STATUS STMTTRNRS CCSTMTTRNRS STMTRS CCSTMTRS BANKACCTFROM CCACCTFROM BANKACCTTO CCACCTTO BANKTRANLIST BANKTRANLISTP STMTTRN STMTTRNP PAYEE CURRENCY ORIGCURRENCY LEDGERBAL AVAILBAL BALLIST BAL INVSTMTRS IMAGEDATA'.split(' ')) // prettier-ignore
const mostDepth = 60

/** Puts statements together from the parts and fields of a file, in whichever notation they came. */
class Builder {
  readonly statements: Statement[] = []
  private stack: string[] = []
  private now: Statement | null = null
  private fields = new Map<string, string>()
  private refused = ''
  /** Of the statement at hand: its end as written, and the ledger's balance with its day. */
  private end: Day | null = null
  private balance: { amount: Cents | null; day: Day | null } = { amount: null, day: null }

  constructor(private readonly format: 'OFX 1' | 'OFX 2') {}

  private around(): string {
    for (let i = this.stack.length - 1; i >= 0; i -= 1) if (parts.has(this.stack[i]!)) return this.stack[i]!
    return ''
  }

  open(name: string) {
    // One that nobody closed ends where the next begins.
    if (name === 'STMTTRN' && this.stack.includes(name)) this.close(name)
    if (this.stack.length >= mostDepth) throw new RangeError('Parts lie too deep within one another')
    this.stack.push(name)
    if (name === 'STMTRS' || name === 'CCSTMTRS') {
      this.now = emptyStatement(this.format)
      this.end = null
      this.balance = { amount: null, day: null }
    }
    if (name === 'STMTTRN') this.fields = new Map()
    if (name === 'INVSTMTRS') this.refused = 'This is a statement of investments, and no bank account’s.'
  }

  field(name: string, value: string) {
    const at = this.around()
    const s = this.now
    if (at === 'STATUS' && !s && name === 'SEVERITY' && value === 'ERROR')
      this.refused ||= 'The bank answered with an error instead of a statement.'
    if (!s) return
    if (at === 'STMTTRN' || at === 'PAYEE') this.fields.set(at === 'PAYEE' ? `PAYEE.${name}` : name, value)
    else if (at === 'CURRENCY' && this.stack.includes('STMTTRN')) this.fields.set(`CURRENCY.${name}`, value)
    else if ((at === 'STMTRS' || at === 'CCSTMTRS') && name === 'CURDEF') s.currency = value.toUpperCase().slice(0, 3)
    else if (at === 'BANKACCTFROM' || at === 'CCACCTFROM') {
      if (name === 'ACCTID') s.account = value.slice(0, 40)
      if (name === 'BANKID') s.bank = value.slice(0, 40)
    } else if (at === 'BANKTRANLIST' && name === 'DTSTART') s.from = this.day(s, name, value)
    else if (at === 'BANKTRANLIST' && name === 'DTEND') this.end = s.to = this.day(s, name, value)
    else if (at === 'LEDGERBAL' && name === 'BALAMT') {
      this.balance.amount = ofxAmount(value)
      if (this.balance.amount === null) fault(s, `The balance “${value.slice(0, 30)}” cannot be read.`)
    } else if (at === 'LEDGERBAL' && name === 'DTASOF') this.balance.day = this.day(s, name, value)
  }

  private day(s: Statement, name: string, value: string): Day | null {
    const day = ofxDay(value)
    if (!day) fault(s, `${name} “${value.slice(0, 30)}” is no date.`)
    return day
  }

  close(name: string) {
    const at = this.stack.lastIndexOf(name)
    // What was never opened closes nothing; what was left open within it ends with it.
    if (at < 0) return
    const left = this.stack.splice(at)
    if (left.includes('STMTTRN')) this.line()
    if (left.includes('STMTRS') || left.includes('CCSTMTRS')) this.ended()
  }

  private line() {
    const s = this.now
    const f = this.fields
    this.fields = new Map()
    if (!s || !f.size) return
    if (s.lines.length >= mostOfStatement.lines) throw new RangeError('This statement has too many lines')
    const get = (name: string) => (f.get(name) ?? '').trim()
    const said = `Line ${s.lines.length + s.faults.length + 1}`
    const day = ofxDay(get('DTPOSTED'))
    const amount = ofxAmount(get('TRNAMT'))
    if (!day) return fault(s, `${said}: “${get('DTPOSTED').slice(0, 30)}” is no date.`)
    if (amount === null) return fault(s, `${said}: the amount “${get('TRNAMT').slice(0, 30)}” cannot be read with certainty.`)
    const other = get('CURRENCY.CURSYM').toUpperCase()
    if (other && s.currency && other !== s.currency)
      return fault(s, `${said} is in ${other.slice(0, 3)}, and the account is in ${s.currency}.`)
    if (get('CORRECTFITID'))
      odd(s, `The bank ${get('CORRECTACTION') === 'DELETE' ? 'takes back' : 'replaces'} its line ${get('CORRECTFITID').slice(0, 60)}.`)
    if (amount === 0) return odd(s, 'Lines of nothing were left out.')
    s.lines.push({
      day,
      amount,
      bankId: get('FITID').slice(0, 255),
      check: checkNumber(get('CHECKNUM')),
      reference: (get('REFNUM') || (checkNumber(get('CHECKNUM')) ? '' : get('CHECKNUM'))).slice(0, 60),
      kind: get('TRNTYPE').slice(0, 30),
      text: oneText(get('NAME') || get('PAYEE.NAME'), get('MEMO')),
      details: [],
    })
  }

  private ended() {
    const s = this.now
    this.now = null
    if (!s) return
    const { amount, day } = this.balance
    if (!this.end && day) s.to = day
    if (amount !== null && (!this.end || !day || day === this.end)) s.closing = amount
    else if (amount !== null)
      odd(s, `The balance in the file is of ${day}, and the statement ends on ${this.end}: it is not the closing balance.`)
    this.statements.push(s)
  }

  done(): Statement[] {
    // A file that breaks off within a statement is told as broken, with what was read of it.
    if (this.now) {
      if (this.stack.includes('STMTTRN')) this.line()
      const s = this.now
      this.ended()
      fault(s, 'The file breaks off in the middle.')
    }
    if (!this.statements.length) {
      const s = emptyStatement(this.format)
      fault(s, this.refused || 'There is no statement of a bank account in this file.')
      return [s]
    }
    return this.statements
  }
}

const entities: Record<string, string> = { amp: '&', lt: '<', gt: '>', nbsp: ' ', quot: '"', apos: "'" }
const unescaped = (text: string) => text.replace(/&(#?\w{1,8});/g, (whole, name: string) => {
  const code = /^#\d{1,6}$/.test(name) ? Number(name.slice(1)) : NaN
  return entities[name.toLowerCase()] ?? (code > 31 && code < 0x10ffff ? String.fromCodePoint(code) : whole)
}) // prettier-ignore

/** OFX 1 (SGML): a field ends where the next mark begins, whether or not it is closed. */
export function readOfx1(text: string): Statement[] {
  const b = new Builder('OFX 1')
  let at = text.indexOf('<')
  while (at >= 0) {
    const end = text.indexOf('>', at)
    if (end < 0) break
    const name = text
      .slice(at + 1, Math.min(end, at + 80))
      .trim()
      .toUpperCase()
    const next = text.indexOf('<', end)
    const value = text.slice(end + 1, Math.min(next < 0 ? text.length : next, end + 2000)).trim()
    if (name.startsWith('/')) b.close(name.slice(1))
    else if (/^[A-Z][\w.]*$/.test(name)) {
      if (value) b.field(name, unescaped(value))
      else if (parts.has(name) || /(?:RS|MSGSRSV\d)$/.test(name)) b.open(name)
    }
    at = next
  }
  return b.done()
}

/** OFX 2 (XML). No entity is ever fetched or put in besides those of XML itself; what is not well formed is refused. */
export function readOfx2(text: string): Statement[] {
  const b = new Builder('OFX 2')
  const parser = new SaxesParser({})
  let value = ''
  let broken = ''
  parser.on('error', (e) => (broken ||= e.message))
  parser.on('doctype', () => (broken ||= 'a document type'))
  parser.on('opentag', ({ name }) => {
    value = ''
    b.open(name.toUpperCase())
  })
  parser.on('text', (t) => (value = (value + t).slice(0, 2000)))
  parser.on('cdata', (t) => (value = (value + t).slice(0, 2000)))
  parser.on('closetag', ({ name }) => {
    const n = name.toUpperCase()
    if (value.trim() && !parts.has(n)) b.field(n, value.trim())
    value = ''
    b.close(n)
  })
  for (let at = 0; at < text.length && !broken; at += 1_000_000) parser.write(text.slice(at, at + 1_000_000))
  if (!broken) parser.close()
  const found = b.done()
  if (broken) fault(found[0]!, `The file is not well formed, and was not taken: ${broken.slice(0, 120)}.`)
  return found
}
