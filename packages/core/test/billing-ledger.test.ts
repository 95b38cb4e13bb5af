import type { Day } from '../src/calendar'
import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { addUpPreBill, agingOf, applyPayment, paymentOrder, spreadOverBills, taxRateOf, type PreBillLine } from '../src/billing'
import { journalText } from '../src/formats'
import {
  availability,
  balancesFrom,
  closings,
  faultsOfJournal,
  judgeBillFromTrust,
  judgePaymentOut,
  stoodInFor,
  mirror,
  type LedgerEntry,
  type PaymentOut,
} from '../src/ledger'
import { sum } from '../src/money'
import { compareNames, normalizeName } from '../src/people'

const line = (kind: PreBillLine['kind'], worked: number, charged = worked, noCharge = false): PreBillLine => ({
  kind,
  worked,
  charged,
  noCharge,
  heldBack: false,
  taxRate: 0,
})

describe('pre-bill', () => {
  it('adds up worked $6,123.00 to a bill of $6,154.00', () => {
    const lines = [
      line('time', 508700),
      line('time', 94800, 39500),
      line('time', 8800, 8800, true),
      line('hard cost', 112500),
      line('soft cost', 4200),
    ]
    const t = addUpPreBill(lines, { amount: 49500, basisPoints: 0 })
    expect(t).toMatchObject({ worked: 612300, writtenDown: 55300, noCharge: 8800, fees: 548200, total: 615400 })
    expect(sum(t.lineNets)).toBe(615400)
    expect(t.lineDiscounts[3]).toBe(0)
  })
  it('rounds tax once for the rate', () => {
    const taxed = [1, 2, 3].map(() => ({ ...line('time', 333), taxRate: 825 }))
    expect(addUpPreBill(taxed, { amount: 0, basisPoints: 0 }).tax).toBe(82)
  })
  it('rounds each rate once, also where fees and costs bear different ones', () => {
    const rates = { fees: 825, softCosts: 600, hardCosts: 0 }
    const rate = (kind: PreBillLine['kind'], taxable: boolean | null = null) => taxRateOf({ kind, taxable }, rates)
    const t = addUpPreBill(
      [
        { ...line('time', 60_005), taxRate: rate('time') },
        { ...line('flat', 40_000), taxRate: rate('flat') },
        { ...line('soft cost', 1_234), taxRate: rate('soft cost') },
        { ...line('hard cost', 33), taxRate: rate('hard cost') },
      ],
      { amount: 0, basisPoints: 1_000 },
    )
    // $1,000.05 less $100.01 is $900.04; 8.25 % of it is $74.2533, 6 % of $12.34 is $0.7404.
    expect(t.taxes).toEqual([
      { rate: 825, amount: 7_425 },
      { rate: 600, amount: 74 },
    ])
    expect(t.total).toBe(90_004 + 1_234 + 33 + 7_499)
    // What is said of a line goes before its kind; advanced costs that are taxed bear the rate of fees where theirs is none.
    expect([rate('soft cost', false), rate('hard cost', true), rate('interest', true), rate('time', false)]).toEqual([0, 825, 0, 0])
  })
  it('refuses a discount above the fees', () => {
    expect(() => addUpPreBill([line('time', 100)], { amount: 101, basisPoints: 0 })).toThrow(RangeError)
  })
})

describe('payments', () => {
  const lines = [
    { id: 1, kind: 'time' as const, open: 5000 },
    { id: 2, kind: 'time' as const, open: 2500 },
    { id: 3, kind: 'hard cost' as const, open: 1000 },
    { id: 4, kind: 'tax' as const, open: 400 },
  ]
  it('goes by the order that the firm set', () => {
    expect(applyPayment(7900, lines, paymentOrder(['fees', 'tax', 'costs', 'interest'])).map((p) => p.id)).toEqual([1, 2, 4])
    expect(() => paymentOrder(['fees', 'fees', 'costs', 'tax'])).toThrow(RangeError)
  })
  it('pays costs, then tax, then fees by what remains', () => {
    expect(applyPayment(4400, lines)).toEqual([
      { id: 3, amount: 1000 },
      { id: 4, amount: 400 },
      { id: 1, amount: 2000 },
      { id: 2, amount: 1000 },
    ])
  })
  it('never overpays a line whatever the order of payments', () => {
    fc.assert(
      fc.property(fc.array(fc.integer({ min: 1, max: 4000 }), { maxLength: 12 }), (payments) => {
        let open = lines.map((l) => ({ ...l }))
        for (const p of payments) {
          const left = sum(open.map((l) => l.open))
          const applied = applyPayment(Math.min(p, left), open)
          open = open.map((l) => ({ ...l, open: l.open - (applied.find((a) => a.id === l.id)?.amount ?? 0) }))
          expect(Math.min(...open.map((l) => l.open))).toBeGreaterThanOrEqual(0)
        }
      }),
    )
  })
  it('spreads over the oldest due first and says what is left', () => {
    const bills: { id: number; due: Day; open: number }[] = [
      { id: 2, due: '2026-10-01', open: 300 },
      { id: 1, due: '2026-09-01', open: 500 },
    ]
    expect(spreadOverBills(1000, bills)).toEqual({
      parts: [
        { id: 1, amount: 500 },
        { id: 2, amount: 300 },
      ],
      left: 200,
    })
  })
  it('ages by days past due', () => {
    expect((['2026-11-23', '2026-11-22', '2026-10-23', '2026-08-01'] as const).map((d) => agingOf(d, '2026-11-23'))).toEqual([
      'current',
      '1–30',
      '31–60',
      'over 90',
    ])
  })
})

describe('trust money', () => {
  const entries: LedgerEntry[] = [
    { day: '2026-10-01', amount: 100000, clearsOn: '2026-10-05' },
    { day: '2026-10-20', amount: 50000, clearsOn: '2026-10-24' },
  ]
  type Over = Omit<Partial<PaymentOut>, 'ledger'> & { ledger?: Partial<Omit<PaymentOut['ledger'], 'days'>> & { entries?: LedgerEntry[] } }
  const out = ({ ledger: { entries: own = entries, ...ledger } = {}, ...over }: Over): PaymentOut => ({
    amount: 10000,
    day: '2026-11-02',
    today: '2026-11-02',
    account: [],
    override: null,
    ...over,
    ledger: {
      name: 'Gannet',
      clientId: 1,
      kind: 'client',
      days: balancesFrom(own, over.day ?? '2026-11-02'),
      reserved: 0,
      ...ledger,
    },
  })
  it('is available after what has not cleared and what is reserved', () => {
    const e: LedgerEntry[] = [
      { day: '2026-11-01', amount: 300000, clearsOn: null },
      { day: '2026-11-02', amount: 200000, clearsOn: '2026-11-09' },
    ]
    expect(availability(e, 75000, '2026-11-03').available).toBe(225000)
  })
  it('refuses a back-dated check that the ledger could not have covered', () => {
    const refusal = judgePaymentOut(out({ amount: 120000, day: '2026-10-10' }))
    expect(refusal?.code).toBe('ledger-below-zero')
    expect(refusal?.sentence).toContain('Sat 10 Oct 2026')
  })
  it.each([
    ['more-than-available', out({ amount: 150000, ledger: { reserved: 1 } })],
    ['money-not-cleared', out({ amount: 120000, day: '2026-10-21', today: '2026-10-21' })],
    ['override-not-allowed', out({ amount: 120000, day: '2026-10-21', today: '2026-10-21', override: { allowed: true, reason: ' ' } })],
    [
      'would-use-other-clients-money',
      out({ amount: 120000, day: '2026-10-21', today: '2026-10-21', override: { allowed: true, reason: 'bank called' } }),
    ],
    ['unidentified-money', out({ ledger: { kind: 'unidentified' } })],
    ['future-date', out({ day: '2026-11-03' })],
  ])('refuses: %s', (code, p) => {
    expect(judgePaymentOut(p)?.code).toBe(code)
  })
  it('lets firm money stand in for what has not cleared, with a reason', () => {
    const p = out({ amount: 105000, day: '2026-10-21', today: '2026-10-21', override: { allowed: true, reason: 'certified' } })
    expect(judgePaymentOut({ ...p, account: [{ day: '2026-10-21', firm: 5000, others: 0 }] })).toBeNull()
    expect(judgePaymentOut({ ...p, account: [{ day: '2026-10-21', firm: 5000, others: 1 }] })?.code).toBe('would-use-other-clients-money')
  })
  it('judges every day from the book date on, also those in between', () => {
    const own: LedgerEntry[] = [
      { day: '2026-10-01', amount: 100000, clearsOn: '2026-10-01' },
      { day: '2026-10-05', amount: -100000, clearsOn: null },
      { day: '2026-10-05', amount: 100000, clearsOn: '2026-10-12' },
    ]
    const p = out({ amount: 100000, day: '2026-10-02', ledger: { entries: own } })
    expect(judgePaymentOut(p)?.code).toBe('money-not-cleared')
    expect(judgePaymentOut(p)?.sentence).toContain('Mon 5 Oct 2026')
  })
  it('keeps firm money that stands in for others', () => {
    const firm = out({
      amount: 6000,
      ledger: { kind: 'firm', clientId: null, entries: [{ day: '2026-10-01', amount: 10000, clearsOn: null }] },
    })
    const account = [{ day: '2026-11-02' as const, firm: 10000, others: 5000 }]
    expect(judgePaymentOut({ ...firm, account })?.code).toBe('firm-money-stands-in')
    expect(judgePaymentOut({ ...firm, amount: 5000, account })).toBeNull()
  })
  it('whatever overrides are accepted, one firm’s money covers all of them together on every day', () => {
    const act = fc.record({
      who: fc.nat(3),
      day: fc.integer({ min: 1, max: 20 }),
      amount: fc.integer({ min: 1, max: 600 }),
      into: fc.boolean(),
      clears: fc.nat(6),
    })
    const at = (n: number) => `2026-02-${String(n).padStart(2, '0')}` as Day
    fc.assert(
      fc.property(fc.array(act, { maxLength: 30 }), (acts) => {
        // The first ledger is the firm's own.
        const books: LedgerEntry[][] = [[], [], [], []]
        const account = (from: Day, but: number) => {
          const days = [
            ...new Set([
              from,
              ...books
                .flat()
                .map((e) => e.day)
                .filter((d) => d > from),
            ]),
          ].sort()
          return days.map((day) => {
            const firm = availability(books[0]!, 0, day).available
            const others = books.slice(1).map((b, i) => (i + 1 === but ? 0 : stoodInFor(availability(b, 0, day))))
            return { day, firm, others: sum(others) }
          })
        }
        for (const a of acts) {
          const [day, own] = [at(a.day), books[a.who]!]
          if (a.into) own.push({ day, amount: a.amount, clearsOn: at(Math.min(28, a.day + a.clears)) })
          else {
            const p = out({
              amount: a.amount,
              day,
              today: '2026-02-28',
              account: account(day, a.who),
              override: { allowed: true, reason: 'sure' },
              ledger: { kind: a.who ? 'client' : 'firm', entries: own },
            })
            if (!judgePaymentOut(p)) own.push({ day, amount: -a.amount, clearsOn: null })
          }
        }
        for (const d of account('2026-02-01', -1)) expect(d.firm).toBeGreaterThanOrEqual(d.others)
      }),
    )
  })
  it('never lets a random run of accepted moves close a day below zero', () => {
    const move = fc.record({ day: fc.integer({ min: 1, max: 28 }), amount: fc.integer({ min: -900, max: 900 }) })
    fc.assert(
      fc.property(fc.array(move, { maxLength: 40 }), (moves) => {
        const book: LedgerEntry[] = []
        for (const m of moves) {
          const day = `2026-02-${String(m.day).padStart(2, '0')}` as Day
          if (m.amount > 0) book.push({ day, amount: m.amount, clearsOn: null })
          else if (m.amount < 0) {
            const p = out({ amount: -m.amount, day, today: '2026-03-01', ledger: { entries: book } })
            if (!judgePaymentOut(p)) book.push({ day, amount: m.amount, clearsOn: null })
          }
        }
        expect(closings(book).every((c) => c.balance >= 0)).toBe(true)
      }),
    )
  })
  const bill = {
    number: 'B-1',
    issuedOn: '2026-11-01' as Day,
    madeOn: '2026-11-01' as Day,
    payerId: 1,
    matterId: 7,
    open: 5000,
    unearned: 2000,
  }
  const fromTrust = { amount: 1000, day: '2026-11-12' as Day, bill, ledger: { clientId: 1, matterId: 7, name: 'x' }, noticeDays: 10 }
  it.each<[string | null, Parameters<typeof judgeBillFromTrust>[0]]>([
    [null, fromTrust],
    ['no-issued-bill', { ...fromTrust, bill: { ...bill, number: null } }],
    ['other-clients-money', { ...fromTrust, ledger: { ...fromTrust.ledger, clientId: 2 } }],
    ['notice-days', { ...fromTrust, day: '2026-11-10' }],
    ['notice-days', { ...fromTrust, bill: { ...bill, madeOn: '2026-11-03' } }],
    ['no-issued-bill', { ...fromTrust, noticeDays: 0, bill: { ...bill, madeOn: '2026-11-13' } }],
    ['more-than-owed', { ...fromTrust, amount: 5001 }],
    ['not-yet-earned', { ...fromTrust, amount: 3001 }],
  ])('judges a bill paid from trust: %s', (code, p) => {
    expect(judgeBillFromTrust(p)?.code ?? null).toBe(code)
  })
})

describe('journals', () => {
  const trust = [{ bankAccountId: 1, bankGl: 10, liabilityGl: 20 }]
  const four = {
    lines: [
      { account: 20, amount: 500 },
      { account: 10, amount: -500 },
      { account: 30, amount: 500 },
      { account: 40, amount: -500 },
    ],
    bank: [
      { bankAccountId: 1, amount: -500 },
      { bankAccountId: 2, amount: 500 },
    ],
    ledgers: [{ ledgerId: 9, bankAccountId: 1, amount: -500 }],
  }
  it('accepts four legs and their mirror, and nothing lopsided', () => {
    expect(faultsOfJournal(four, trust)).toEqual([])
    expect(faultsOfJournal(mirror(four), trust)).toEqual([])
    expect(faultsOfJournal({ ...four, ledgers: [] }, trust)).toHaveLength(1)
    expect(faultsOfJournal({ ...four, lines: four.lines.slice(1) }, trust)).toHaveLength(2)
  })
  it('writes the format that ledger and hledger read', () => {
    const text = journalText({ id: 7, day: '2026-11-23', memo: 'Bill; paid', lines: [{ account: 'assets:a', cents: -105 }] })
    expect(text).toBe('2026-11-23 * (7) Bill, paid\n    assets:a  -$1.05\n')
  })
})

describe('names', () => {
  it.each([
    ['The Hollin & Rye Brewing Co., Inc.', 'hollin and rye brewing'],
    ['Marek Tydén', 'marek tyden'],
    ['Dr. A.B. O’Neil, Esq.', 'ab oneil'],
    ['Company', 'company'],
  ])('%s', (name, normal) => expect(normalizeName(name)).toBe(normal))
  it('says why it hit', () => {
    expect(compareNames('Corvane Towing', 'CORVANE TOWING CO.')?.reason).toBe('same name normalized')
    expect(compareNames('Tydén Marek', 'Marek Tyden')?.reason).toBe('same words in another order')
    expect(compareNames('Gannet', 'Gannet Ferry Cooperative')?.reason).toBe('shares part of the name')
    expect(compareNames('Gannet Ferry', 'Corvane Ferry')).toBeNull()
  })
})
