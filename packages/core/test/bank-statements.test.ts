import type { Day } from '@heron/core/calendar'
import {
  csvAmount,
  csvDay,
  decodeStatement,
  formatOf,
  freshLines,
  guessCsv,
  ofxAmount,
  ofxDay,
  ownDifference,
  readCents,
  readStatements,
  type CsvMatch,
} from '@heron/core/bank'
import fc from 'fast-check'
import { describe, expect, it } from 'vitest'

const bytes = (text: string) => new TextEncoder().encode(text)
const one = (text: string | Uint8Array, match: CsvMatch | null = null) =>
  readStatements(typeof text === 'string' ? bytes(text) : text, match)[0]!
const brief = (s: ReturnType<typeof one>) => s.lines.map((l) => [l.day, l.amount, l.bankId, l.check, l.text])

const ofx1 = (
  inner: string,
  head = 'OFXHEADER:100\nDATA:OFXSGML\nVERSION:102\nSECURITY:NONE\nENCODING:USASCII\nCHARSET:1252\nCOMPRESSION:NONE\nOLDFILEUID:NONE\nNEWFILEUID:NONE\n\n',
) =>
  `${head}<OFX><SIGNONMSGSRSV1><SONRS><STATUS><CODE>0<SEVERITY>INFO</STATUS><DTSERVER>20261201<LANGUAGE>ENG</SONRS></SIGNONMSGSRSV1><BANKMSGSRSV1><STMTTRNRS><TRNUID>0<STATUS><CODE>0<SEVERITY>INFO</STATUS><STMTRS><CURDEF>USD<BANKACCTFROM><BANKID>000000013<ACCTID>00998871<ACCTTYPE>CHECKING</BANKACCTFROM>${inner}</STMTRS></STMTTRNRS></BANKMSGSRSV1></OFX>`
const list1 = `<BANKTRANLIST><DTSTART>20261101<DTEND>20261130
<STMTTRN><TRNTYPE>CHECK<DTPOSTED>20261103235959[-5:EST]<TRNAMT>-1250.00<FITID>A1<CHECKNUM>001041<NAME>Harbor Survey &amp; Sons<MEMO>
<STMTTRN><TRNTYPE>DEP<DTPOSTED>20261130000000[+12:NZT]<TRNAMT>+5000.5<FITID>A2<NAME>DEPOSIT</STMTTRN>
<STMTTRN><TRNTYPE>SRVCHG<DTPOSTED>20261130<TRNAMT>-25,00<FITID>A3<PAYEE><NAME>The bank<ADDR1>x<CITY>y</PAYEE><MEMO>Monthly charge</STMTTRN>
</BANKTRANLIST><LEDGERBAL><BALAMT>13725.50<DTASOF>20261130</LEDGERBAL><AVAILBAL><BALAMT>99.00<DTASOF>20261130</AVAILBAL>`

describe('OFX 1', () => {
  it('is read with fields that nobody closed, days as they are written, and its own letters', () => {
    const s = one(ofx1(list1))
    expect(s).toMatchObject({
      format: 'OFX 1',
      account: '00998871',
      bank: '000000013',
      currency: 'USD',
      from: '2026-11-01',
      to: '2026-11-30',
      opening: null,
      closing: 13_725_50,
      faults: [],
      oddities: [],
    })
    expect(brief(s)).toEqual([
      ['2026-11-03', -1250_00, 'A1', '1041', 'Harbor Survey & Sons'],
      ['2026-11-30', 5000_50, 'A2', '', 'DEPOSIT'],
      ['2026-11-30', -25_00, 'A3', '', 'The bank · Monthly charge'],
    ])
    const west = one(Uint8Array.from(Array.from(ofx1(list1.replace('DEPOSIT', 'CAF\u00c9 \u0080')), (c) => c.charCodeAt(0))))
    expect(west.lines[1]!.text).toBe('CAFÉ €')
    // The same with every field closed, in lower case, on one line, behind a mark of UTF-8.
    const closed = ofx1(list1)
      .replace(/<(\w+)>([^<\n]+)/g, '<$1>$2</$1>')
      .replaceAll('\n<', '<')
    expect(brief(one(`\uFEFF${closed}`))).toEqual(brief(s))
  })
  it('takes a balance of another day for no closing balance, and leaves out what is pending', () => {
    const other = one(ofx1(list1.replace('<DTASOF>20261130</LEDGERBAL>', '<DTASOF>20261202</LEDGERBAL>')))
    expect([other.closing, other.oddities.length]).toEqual([null, 1])
    const pending = one(
      ofx1(
        `${list1}<BANKTRANLISTP><DTASOF>20261130<STMTTRNP><TRNTYPE>DEBIT<DTTRAN>20261129<TRNAMT>-7.00<NAME>x</STMTTRNP></BANKTRANLISTP>`,
      ),
    )
    expect(pending.lines).toHaveLength(3)
  })
  it('names what cannot be read, and takes no guess', () => {
    const faults = (from: string, to: string) => one(ofx1(list1.replace(from, to))).faults
    expect(faults('-1250.00', '-1,250')).toHaveLength(1)
    expect(faults('-1250.00', '-1250.005')).toHaveLength(1)
    expect(faults('-1250.00', '')).toHaveLength(1)
    expect(faults('20261103235959', '20261303235959')).toHaveLength(1)
    expect(faults('<BALAMT>13725.50', '<BALAMT>n/a')).toHaveLength(1)
    expect(faults('<FITID>A2', '<CURRENCY><CURRATE>1.1<CURSYM>CAD</CURRENCY><FITID>A2')).toHaveLength(1)
    expect(faults('<FITID>A2', '<ORIGCURRENCY><CURRATE>1.1<CURSYM>CAD</ORIGCURRENCY><FITID>A2')).toEqual([])
    expect(one(ofx1(list1).split('<FITID>A2')[0]!).faults.at(-1)).toContain('breaks off')
    expect(one(ofx1('').replaceAll('STMTRS>', 'OTHERRS>')).faults).toHaveLength(1)
    expect(
      one(ofx1(`${list1}`).replace('<STMTTRN><TRNTYPE>DEP', '<STMTTRN><CORRECTFITID>A0<CORRECTACTION>DELETE<TRNTYPE>DEP')).oddities,
    ).toEqual(['The bank takes back its line A0.'])
  })
  it('gives each account of a file a statement of its own', () => {
    const two = ofx1(list1).replace(
      '</STMTTRNRS></BANKMSGSRSV1>',
      `</STMTTRNRS><STMTTRNRS><STMTRS><CURDEF>USD<BANKACCTFROM><BANKID>1<ACCTID>77<ACCTTYPE>SAVINGS</BANKACCTFROM>${list1}</STMTRS></STMTTRNRS></BANKMSGSRSV1>`,
    )
    expect(readStatements(bytes(two), null).map((s) => [s.account, s.lines.length])).toEqual([
      ['00998871', 3],
      ['77', 3],
    ])
  })
})

const ofx2 = (head: string, inner = list1) => {
  const closed = inner.replace(/<MEMO>\n/, '</STMTTRN>').replace(/<([A-Z0-9]+)>([^<\n]+)/g, '<$1>$2</$1>')
  return `${head}<OFX><BANKMSGSRSV1><STMTTRNRS><STMTRS><CURDEF>USD</CURDEF><BANKACCTFROM><BANKID>000000013</BANKID><ACCTID>00998871</ACCTID></BANKACCTFROM>${closed}</STMTRS></STMTTRNRS></BANKMSGSRSV1></OFX>`
}
describe('OFX 2', () => {
  const head = '<?xml version="1.0" encoding="UTF-8" standalone="no"?><?OFX OFXHEADER="200" VERSION="211"?>'
  it('says the same as OFX 1', () => {
    const s = one(ofx2(head))
    expect(s.format).toBe('OFX 2')
    expect(brief(s)).toEqual(brief(one(ofx1(list1))))
    expect(s.closing).toBe(13_725_50)
  })
  it('puts in no entity of its own making, and refuses what is not well formed', () => {
    const bomb = '<!DOCTYPE x [<!ENTITY a "aaaaaaaaaa"><!ENTITY b "&a;&a;&a;&a;&a;&a;&a;&a;"><!ENTITY f SYSTEM "file:///etc/passwd">]>'
    for (const text of [
      ofx2(head + bomb).replace('DEPOSIT', '&b;&f;'),
      ofx2(head).replace('</OFX>', ''),
      ofx2(head).replace('</STMTRS>', '</STMTR>'),
      ofx2(head).replace('DEPOSIT', '&nope;'),
    ]) {
      const s = one(text)
      expect(s.faults.length, text.slice(-60)).toBeGreaterThan(0)
      expect(JSON.stringify(s)).not.toContain('root:')
    }
    expect(one(head + '<OFX>'.repeat(5000)).faults).toHaveLength(1)
  })
})

const camt = (v: string, body: string, more = '') =>
  `<?xml version="1.0" encoding="UTF-8"?><Document xmlns="urn:iso:std:iso:20022:tech:xsd:camt.053.001.${v}"><BkToCstmrStmt><GrpHdr><MsgId>m</MsgId><CreDtTm>2026-12-01T06:00:00+01:00</CreDtTm></GrpHdr><Stmt><Id>1</Id><FrToDt><FrDtTm>2026-11-01T00:00:00-05:00</FrDtTm><ToDtTm>2026-11-30T23:59:59-05:00</ToDtTm></FrToDt><Acct><Id><Othr><Id>00998871</Id></Othr></Id><Ccy>USD</Ccy><Ownr><Id><OrgId><Othr><Id>OWNER</Id></Othr></OrgId></Id></Ownr><Svcr><FinInstnId><BICFI>HARBUS33</BICFI></FinInstnId></Svcr></Acct>${more}${body}</Stmt></BkToCstmrStmt></Document>`
const bal = (code: string, amount: string, day: Day, ind = 'CRDT') =>
  `<Bal><Tp><CdOrPrtry><Cd>${code}</Cd></CdOrPrtry></Tp><Amt Ccy="USD">${amount}</Amt><CdtDbtInd>${ind}</CdtDbtInd><Dt><Dt>${day}</Dt></Dt></Bal>`
const entry = (amount: string, ind: string, more = '', sts = '<Sts>BOOK</Sts>') =>
  `<Ntry><NtryRef>N7</NtryRef><Amt Ccy="USD">${amount}</Amt><CdtDbtInd>${ind}</CdtDbtInd>${sts}<BookgDt><DtTm>2026-11-30T23:30:00-08:00</DtTm></BookgDt><ValDt><Dt>2026-12-01</Dt></ValDt>${more}</Ntry>`

describe('camt.053', () => {
  it('is one line for each booked entry, its transactions kept under it, in every version', () => {
    const batch =
      '<AcctSvcrRef>S1</AcctSvcrRef><BkTxCd><Domn><Cd>PMNT</Cd><Fmly><Cd>RCDT</Cd><SubFmlyCd>ESCT</SubFmlyCd></Fmly></Domn></BkTxCd><NtryDtls><Btch><NbOfTxs>2</NbOfTxs></Btch><TxDtls><Refs><AcctSvcrRef>inner</AcctSvcrRef><EndToEndId>E1</EndToEndId></Refs><Amt Ccy="USD">60.00</Amt><RltdPties><Dbtr><Pty><Nm>Ada Quay</Nm></Pty></Dbtr></RltdPties></TxDtls><TxDtls><Refs><EndToEndId>E2</EndToEndId></Refs><Amt Ccy="USD">40.00</Amt><RltdPties><Dbtr><Nm>Ben Pier</Nm></Dbtr></RltdPties></TxDtls></NtryDtls>'
    for (const v of ['02', '04', '06', '08']) {
      const sts = v === '08' ? '<Sts><Cd>BOOK</Cd></Sts>' : '<Sts>BOOK</Sts>'
      const pending = v === '08' ? '<Sts><Cd>PDNG</Cd></Sts>' : '<Sts>PDNG</Sts>'
      const s = one(
        camt(
          v,
          entry('100', 'CRDT', batch, sts) +
            entry('12.5', 'DBIT', '<NtryDtls><TxDtls><Refs><ChqNb>0001041</ChqNb></Refs></TxDtls></NtryDtls>', sts) +
            entry('9', 'CRDT', '', pending),
          bal('OPBD', '50.00', '2026-11-01') + bal('CLBD', '137.50', '2026-11-30') + bal('CLAV', '1', '2026-11-30'),
        ),
      )
      expect(s, v).toMatchObject({
        account: '00998871',
        bank: 'HARBUS33',
        currency: 'USD',
        from: '2026-11-01',
        to: '2026-11-30',
        opening: 50_00,
        closing: 137_50,
        faults: [],
      })
      expect(brief(s), v).toEqual([
        ['2026-11-30', 100_00, 'S1', '', ''],
        ['2026-11-30', -12_50, 'N7', '1041', ''],
      ])
      expect(s.lines[0]!.details).toEqual([
        { amount: 60_00, reference: 'E1', text: 'Ada Quay' },
        { amount: 40_00, reference: 'E2', text: 'Ben Pier' },
      ])
      expect(s.oddities).toEqual(['1 not booked yet was left out.'])
      expect(ownDifference(s)).toBe(0)
    }
  })
  it('takes the direction from its own field, also of what is turned back, and overdrawn balances below zero', () => {
    const s = one(
      camt(
        '02',
        entry('30', 'DBIT', '<RvslInd>true</RvslInd>'),
        bal('PRCD', '10', '2026-10-31', 'DBIT') + bal('CLBD', '40', '2026-11-30', 'DBIT'),
      ),
    )
    expect([s.lines[0]!.amount, s.opening, s.closing, ownDifference(s)]).toEqual([-30_00, -10_00, -40_00, 0])
  })
  it('says what does not fit, and refuses what is no statement', () => {
    expect(one(camt('02', entry('-5', 'CRDT'))).faults).toHaveLength(1)
    expect(one(camt('02', entry('5.001', 'CRDT'))).faults).toHaveLength(1)
    expect(one(camt('02', entry('5', ''))).faults).toHaveLength(1)
    expect(one(camt('02', entry('5', 'CRDT').replace('Ccy="USD"', 'Ccy="EUR"'))).faults).toHaveLength(1)
    expect(one(camt('02', entry('5', 'CRDT').replace('2026-11-30T23', '2026-11-31T23'))).faults).toHaveLength(1)
    expect(one(camt('02', '', bal('OPBD', '0', '2026-11-01') + bal('CLBD', '7', '2026-11-28'))).closing).toBeNull()
    expect(one(camt('02', '').replaceAll('camt.053', 'camt.052').replaceAll('BkToCstmrStmt', 'BkToCstmrAcctRpt')).faults[0]).toContain(
      'camt.052',
    )
    expect(
      one(
        camt('02', entry('5', 'CRDT'))
          .replace('<Document', '<!DOCTYPE d [<!ENTITY x SYSTEM "file:///etc/passwd">]><Document')
          .replace('>N7<', '>&x;<'),
      ).faults.length,
    ).toBeGreaterThan(0)
    const prefixed = camt('02', entry('5', 'CRDT'))
      .replace(/<(\/?)(?!\?)([A-Z])/g, '<$1n:$2')
      .replace('xmlns=', 'xmlns:n=')
    expect(brief(one(prefixed))).toEqual([['2026-11-30', 5_00, 'N7', '', '']])
  })
})

describe('CSV of a bank', () => {
  it('is guessed by its head and first rows, and read by what a person settled', () => {
    const text =
      'Harbor Bank\nAccount 00998871\n\nDate,Description,Check #,Withdrawals,Deposits,Balance\n11/03/2026,Harbor Survey,1041,"1,250.00",,"8,750.00"\n11/13/2026,DEPOSIT,,,"$5,000.50","13,750.50"\n11/30/2026,Charge,,(25.00),,"13,725.50"\n'
    const { match } = guessCsv(text)
    expect(match).toMatchObject({ order: 'mdy', day: 0, text: [1], check: 2, moneyOut: 3, moneyIn: 4, balance: 5, decimal: '.' })
    const s = one(text, match)
    expect(brief(s)).toEqual([
      ['2026-11-03', -1250_00, '', '1041', 'Harbor Survey'],
      ['2026-11-13', 5000_50, '', '', 'DEPOSIT'],
      ['2026-11-30', -25_00, '', '', 'Charge'],
    ])
    expect([s.opening, s.closing, s.faults]).toEqual([10_000_00, 13_725_50, []])
    // The newest row first says the same.
    const [head, rows] = [text.split('\n').slice(0, 4), text.trim().split('\n').slice(4)]
    const turned = one([...head, ...rows.reverse()].join('\n'), match)
    expect([turned.opening, turned.closing]).toEqual([10_000_00, 13_725_50])
    const wrong = one(text.replace('"13,750.50"', '"13,750.49"'), match)
    expect([wrong.opening, wrong.closing, wrong.oddities.length]).toEqual([null, null, 1])
  })
  it('takes a Spanish charge for money out, and what was paid in for money in', () => {
    const text = 'Fecha;Text;Cargo;Abono;Saldo\n03/11/2026;Renta;1.250,00;;8.750,00\n13/11/2026;Cliente;;5.000,50;13.750,50\n'
    const { match } = guessCsv(text)
    expect(match).toMatchObject({ order: 'dmy', moneyOut: 2, moneyIn: 3, balance: 4, decimal: ',' })
    expect(one(text, match).lines.map((l) => l.amount)).toEqual([-1250_00, 5000_50])
  })
  it('takes from a column of words whether money came in or went out', () => {
    const text =
      'Post Date,Amount,Debit/Credit,Description\n11/03/2026,25.00,DEBIT,Charge\n11/13/2026,"5,000.50",Credit,Client\n11/14/2026,1041.00,dr,\n'
    const { match } = guessCsv(text)
    expect(match).toMatchObject({ day: 0, amount: 1, direction: 2, moneyIn: null, moneyOut: null, text: [3] })
    expect(one(text, match).lines.map((l) => l.amount)).toEqual([-25_00, 5000_50, -1041_00])
    // A minus may say it a second time, and never the opposite; a word that says neither is told.
    const [twice, opposite, other] = [text.replace(',25.00', ',-25.00'), text.replace('"5,000.50"', '-7.00'), text.replace('Credit,C', 'Return,C')] // prettier-ignore
    expect(one(twice, match).lines[0]?.amount).toBe(-25_00)
    expect(one(opposite, match).faults).toEqual(['Row 3: the amount “-7.00” cannot be read with certainty.'])
    expect(one(other, match).faults[0]).toContain('does not say whether the money came in or went out')
    // Where amounts have signs, the words are not needed; a column of texts or numbers of checks is none.
    expect(guessCsv(twice).match.direction).toBeUndefined()
    expect(guessCsv('Date,Amount,Description,Check\n11/03/2026,25.00,Deposit,-\n').match).toMatchObject({ text: [2], check: 3 })
    expect(guessCsv('Date,Amount,Description,Check\n11/03/2026,25.00,Deposit,-\n').match.direction).toBeUndefined()
  })
  it('leaves out a bank’s own sums and balances, and says so; with no date at all nothing is taken', () => {
    const text =
      'Date,Description,Amount,Balance,Check\n11/01/2026,Opening balance,,"1,000.00",\n11/03/2026,Fee,USD -25.00,975.00,"=""1041"""\nTotal,,-25.00,,\n'
    const { match } = guessCsv(text)
    const s = one(text, match)
    expect(brief(s)).toEqual([['2026-11-03', -25_00, '', '1041', 'Fee']])
    expect([s.opening, s.closing, s.faults]).toEqual([1000_00, 975_00, []])
    expect(s.oddities).toEqual(['Row 2 states a balance alone and was left out.', 'Row 4 below the last date was left out: Total -25.00.'])
    // In the midst of dated rows, or where no column is the date, a row without one is a fault.
    expect(one(text, { ...match, day: 1 }).faults).toHaveLength(2)
    expect(one(`${text}11/04/2026,Fee,1.00,976.00,\n`, match).faults).toEqual(['Row 4: “Total” is no date of this order.'])
    expect(one(text, { ...match, balance: null }).faults[0]).toContain('Row 2: the amount')
    // Days that read either way are those of whoever writes them so.
    expect(['03.11.2026,-1', '03/11/2026,"-1,5"', '03/11/2026,-1.5'].map((r) => guessCsv(`Date,Amount\n${r}\n`).match.order)).toEqual([
      'dmy',
      'dmy',
      'mdy',
    ])
  })
  it('reads what is written on the continent, and days in any order', () => {
    const text = 'Buchungstag;Betrag;Saldo;Text\n03.11.2026;-1.250,00;8.750,00;x\n13.11.26;5.000,5;13.750,50;y\n'
    const s = one(text, { ...guessCsv('Date;Amount;Balance;Text\n13.11.2026;-1.250,00;8.750,00;x').match, skip: 1 })
    expect(s.lines.map((l) => [l.day, l.amount])).toEqual([
      ['2026-11-03', -1250_00],
      ['2026-11-13', 5000_50],
    ])
    for (const [t, order, day] of [
      ['3-Nov-2026', 'mdy', '2026-11-03'],
      ['Nov 3, 2026', 'dmy', '2026-11-03'],
      ['20261103', 'ymd', '2026-11-03'],
      ['2026-11-03 10:22', 'mdy', '2026-11-03'],
      ['11/3/26', 'mdy', '2026-11-03'],
      ['3/11/26', 'dmy', '2026-11-03'],
      ['13/11/26', 'mdy', null],
      ['2/30/2026', 'mdy', null],
      ['', 'mdy', null],
    ] as const)
      expect(csvDay(t, order), t).toBe(day)
    for (const [t, decimal, cents] of [
      ['($1,234.56)', '.', -1234_56],
      ['1,234.56-', '.', -1234_56],
      ['1.234,56', ',', 1234_56],
      ['1 234,5', ',', 1234_50],
      ["1'234.50", '.', 1234_50],
      ['12 DR', '.', -12_00],
      ['12.00CR', '.', 12_00],
      ['−5', '.', -5_00],
      ['1,23,456', '.', null],
      ['1,234', ',', null],
      ['12.345', '.', null],
      ['(-5)', '.', null],
      ['5.0.0', '.', null],
      ['abc', '.', null],
      ['', '.', null],
    ] as const)
      expect(csvAmount(t, decimal), t).toBe(cents)
  })
})

describe('whatever a file holds', () => {
  it('is told by how it begins, and never throws', () => {
    expect(
      ['OFXHEADER:100\n<OFX>', '<?xml version="1.0"?><?OFX?><OFX>', '<OFX><X>', camt('02', ''), 'Date,Amount', ''].map(formatOf),
    ).toEqual(['OFX 1', 'OFX 2', 'OFX 1', 'camt.053', 'CSV', 'CSV'])
    fc.assert(fc.property(fc.uint8Array({ maxLength: 300 }), (b) => void readStatements(b, null)))
    const whole = [ofx1(list1), ofx2('<?xml version="1.0"?>'), camt('08', entry('5', 'CRDT'), bal('CLBD', '5', '2026-11-30'))]
    fc.assert(
      fc.property(fc.constantFrom(...whole), fc.nat(), fc.nat({ max: 40 }), fc.string({ maxLength: 8 }), (text, at, cut, put) => {
        const i = at % text.length
        for (const s of readStatements(bytes(text.slice(0, i) + put + text.slice(i + cut)), null)) {
          for (const l of s.lines) expect(Number.isSafeInteger(l.amount) && l.amount !== 0 && /^\d{4}-\d\d-\d\d$/.test(l.day)).toBe(true)
        }
      }),
      { numRuns: 1500 },
    )
    expect(decodeStatement(Uint8Array.from([0xff, 0xfe, 0x41, 0x00])).text).toBe('A')
  })
  it('reads cents by their digits', () => {
    fc.assert(fc.property(fc.integer({ min: -1e11, max: 1e11 }), (c) => {
      const text = `${c < 0 ? '-' : ''}${Math.floor(Math.abs(c) / 100)}.${String(Math.abs(c) % 100).padStart(2, '0')}`
      expect(readCents(text)).toBe(c === 0 ? 0 : c)
      expect(ofxAmount(text)).toBe(c === 0 ? 0 : c)
      expect(ofxAmount(text.replace('.', ','))).toBe(c === 0 ? 0 : c)
    })) // prettier-ignore
    expect([ofxAmount('1.234,50'), ofxAmount('1,234.50'), ofxAmount('12,34.50'), ofxAmount('1e5'), ofxAmount('١'), ofxDay('20260229')]).toEqual([1234_50, 1234_50, null, null, null, null]) // prettier-ignore
  })
  it('is read once, and true doubles stay', () => {
    const line = (day: Day, amount: number, bankId = '', reference = '') => ({ day, amount, bankId, check: '', reference })
    const charge = line('2026-11-05', -25_00)
    // Two true charges of one day both come in, and neither comes in again with a file that overlaps.
    expect(freshLines([charge, charge], []).fresh).toHaveLength(2)
    expect(freshLines([charge, charge], [charge]).fresh).toHaveLength(1)
    expect(freshLines([charge, charge, charge], [charge, charge]).fresh).toHaveLength(1)
    // An id that is used again for another day or amount is another line.
    const id = line('2026-11-05', -25_00, 'X1')
    expect(freshLines([id, id], []).fresh).toHaveLength(1)
    expect(freshLines([line('2026-11-06', -25_00, 'X1'), line('2026-11-05', -26_00, 'X1'), id], [id]).fresh).toHaveLength(2)
    fc.assert(fc.property(fc.array(fc.record({ day: fc.constantFrom('2026-11-01', '2026-11-02'), amount: fc.constantFrom(1, 2), reference: fc.constantFrom('', 'a') }).map((r) => line(r.day, r.amount, '', r.reference))), (all) => {
      // However a month is cut into overlapping files, each line comes in once.
      const known: typeof all = []
      for (const upTo of [all.length >> 1, all.length, all.length]) known.push(...freshLines(all.slice(0, upTo), known).fresh)
      expect(known.length).toBe(all.length)
    })) // prettier-ignore
  })
  it('is read fast, however long: 100,000 lines of each kind', () => {
    const many = Array.from(
      { length: 100_000 },
      (_, i) => `<STMTTRN><TRNTYPE>DEP<DTPOSTED>20261103<TRNAMT>${i + 1}.01<FITID>F${i}<NAME>Deposit ${i}</STMTTRN>`,
    ).join('\n')
    expect(one(ofx1(`<BANKTRANLIST><DTSTART>20261101<DTEND>20261130${many}</BANKTRANLIST>`)).lines).toHaveLength(100_000)
    expect(one(camt('02', entry('5', 'CRDT').repeat(100_000))).lines).toHaveLength(100_000)
  })
})
