import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { creditNoteLines, refitPayments, type CreditableLine, type PaidPart, type RoomyLine } from '../src/billing'
import { sum } from '../src/money'

const kinds = fc.constantFrom<RoomyLine['kind']>('time', 'flat', 'soft cost', 'hard cost', 'tax', 'interest')

describe('a credit note', () => {
  const lines: CreditableLine[] = [
    { id: 1, kind: 'time', left: 30_000, taxRate: 825 },
    { id: 2, kind: 'time', left: 10_000, taxRate: 825 },
    { id: 3, kind: 'hard cost', left: 5_000, taxRate: 0 },
    { id: 4, kind: 'tax', left: 3_300, taxRate: 825 },
  ]
  it('is shared over the lines by what is left, with tax at the bill’s rate', () => {
    expect(creditNoteLines(lines, { net: 9_000 })).toEqual([
      { id: 1, amount: 6_000 },
      { id: 2, amount: 2_000 },
      { id: 3, amount: 1_000 },
      { id: 4, amount: 660 },
    ])
    expect(creditNoteLines(lines, { byLine: new Map([[2, 1_000]]) })).toEqual([
      { id: 2, amount: 1_000 },
      { id: 4, amount: 83 },
    ])
  })
  it('never takes more than is left of a line, nor of the tax, and the last one takes the rest of the tax', () => {
    expect(() => creditNoteLines(lines, { byLine: new Map([[2, 10_001]]) })).toThrow(RangeError)
    expect(() => creditNoteLines(lines, { net: 45_001 })).toThrow(RangeError)
    const left = lines.map((l) => (l.kind === 'tax' ? { ...l, left: 3_311 } : l))
    expect(creditNoteLines(left, { net: 45_000 }).at(-1)).toEqual({ id: 4, amount: 3_311 })
    const little = lines.map((l) => (l.kind === 'tax' ? { ...l, left: 10 } : l))
    expect(creditNoteLines(little, { net: 9_000 }).at(-1)).toEqual({ id: 4, amount: 10 })
  })
  it('carries the tax of each rate, and of an unknown rate as the lines are taken', () => {
    const two: CreditableLine[] = [
      { id: 1, kind: 'time', left: 30_000, taxRate: 825 },
      { id: 2, kind: 'soft cost', left: 1_000, taxRate: 600 },
      { id: 3, kind: 'tax', left: 2_475, taxRate: 825 },
      { id: 4, kind: 'tax', left: 60, taxRate: 600 },
    ]
    expect(creditNoteLines(two, { byLine: new Map([[1, 10_000], [2, 1_000]]) })).toEqual([
      { id: 1, amount: 10_000 },
      { id: 2, amount: 1_000 },
      { id: 3, amount: 825 },
      { id: 4, amount: 60 },
    ]) // prettier-ignore
    const unknown = two.map((l) => ({ ...l, taxRate: null })).slice(0, 3)
    expect(creditNoteLines(unknown, { byLine: new Map([[1, 15_500]]) }).at(-1)).toEqual({ id: 3, amount: 1_238 })
    // What bears no tax brings none along, also where nothing that bore it is left.
    const gone = two.map((l) => (l.id === 1 ? { ...l, left: 0 } : l))
    expect(creditNoteLines(gone, { byLine: new Map([[2, 500]]) })).toEqual([{ id: 2, amount: 500 }, { id: 4, amount: 30 }]) // prettier-ignore
  })
  it('after note upon note leaves nothing and has taken all of the tax', () => {
    fc.assert(
      fc.property(
        fc.array(fc.integer({ min: 1, max: 50_000 }), { minLength: 1, maxLength: 8 }),
        fc.integer({ min: 1, max: 2_000 }),
        fc.array(fc.integer({ min: 1, max: 60 }), { minLength: 1, maxLength: 6 }),
        (nets, rate, cuts) => {
          const tax = Math.round((sum(nets) * rate) / 10_000)
          let left: CreditableLine[] = nets.map((n, i) => ({ id: i + 1, kind: 'time', left: n, taxRate: rate }))
          left.push({ id: 99, kind: 'tax', left: tax, taxRate: rate })
          const take = (net: number) => {
            const note = new Map(creditNoteLines(left, { net }).map((l) => [l.id, l.amount]))
            left = left.map((l) => ({ ...l, left: l.left - (note.get(l.id) ?? 0) }))
            expect(left.every((l) => l.left >= 0)).toBe(true)
          }
          const net = () => sum(left.filter((l) => l.kind !== 'tax').map((l) => l.left))
          for (const cut of cuts) take(Math.floor((net() * cut) / 100))
          take(net())
          expect(left.every((l) => l.left === 0)).toBe(true)
        },
      ),
    )
  })
})

describe('payments on a bill that became smaller', () => {
  it('give back what is too much: $6,154.00, $5,000.00 paid, credited $2,000.00, so $846.00 goes back', () => {
    const lines: RoomyLine[] = [{ id: 1, kind: 'time', room: 615_400 - 200_000 }]
    const refit = refitPayments(lines, [{ paymentId: 7, lines: new Map([[1, 500_000]]) }])
    expect(refit.back).toEqual([{ paymentId: 7, amount: 84_600 }])
    expect(refit.changes).toEqual([{ paymentId: 7, lineId: 1, amount: -84_600 }])
  })
  it('give it back latest first, and move to other lines before anything goes back', () => {
    const lines: RoomyLine[] = [
      { id: 1, kind: 'time', room: 0 },
      { id: 2, kind: 'time', room: 700 },
    ]
    const refit = refitPayments(lines, [
      { paymentId: 1, lines: new Map([[1, 500]]) },
      { paymentId: 2, lines: new Map([[2, 300]]) },
    ])
    expect(refit.back).toEqual([{ paymentId: 2, amount: 100 }])
    expect(refit.changes).toEqual([
      { paymentId: 1, lineId: 1, amount: -500 },
      { paymentId: 1, lineId: 2, amount: 500 },
      { paymentId: 2, lineId: 2, amount: -100 },
    ])
  })
  it('never leave a line paid above its room or below nothing, and lose no cent', () => {
    const one = fc.record({ kind: kinds, net: fc.integer({ min: 0, max: 9_000 }), cut: fc.integer({ min: 0, max: 100 }) })
    fc.assert(
      fc.property(
        fc.array(one, { minLength: 1, maxLength: 8 }),
        fc.array(fc.array(fc.integer({ min: 0, max: 40 }), { minLength: 8, maxLength: 8 }), { maxLength: 5 }),
        (own, parts) => {
          // Payments that fit the lines as they were: each takes a share of what the earlier ones left.
          const was = own.map((l) => l.net)
          const payments: PaidPart[] = parts.map((p, i) => ({
            paymentId: i + 1,
            lines: new Map(
              was.map((n, j) => {
                const amount = Math.floor((n * p[j]!) / 100)
                was[j] = n - amount
                return [j + 1, amount]
              }),
            ),
          }))
          const lines: RoomyLine[] = own.map((l, i) => ({ id: i + 1, kind: l.kind, room: Math.floor((l.net * l.cut) / 100) }))
          const { back, changes } = refitPayments(lines, payments)
          const now = (paymentId: number, lineId: number) =>
            (payments[paymentId - 1]!.lines.get(lineId) ?? 0) +
            sum(changes.filter((c) => c.paymentId === paymentId && c.lineId === lineId).map((c) => c.amount))
          for (const l of lines) {
            const amounts = payments.map((p) => now(p.paymentId, l.id))
            expect(amounts.every((a) => a >= 0)).toBe(true)
            expect(sum(amounts)).toBeLessThanOrEqual(l.room)
          }
          const paid = sum(payments.map((p) => sum([...p.lines.values()])))
          expect(sum(back.map((b) => b.amount))).toBe(Math.max(0, paid - sum(lines.map((l) => l.room))))
          for (const p of payments)
            expect([...changes, ...back].filter((c) => c.paymentId === p.paymentId).reduce((s, c) => s + c.amount, 0)).toBe(0)
          // Nothing that fits is moved.
          if (lines.every((l) => l.room >= sum(payments.map((p) => p.lines.get(l.id) ?? 0)))) expect(changes).toEqual([])
        },
      ),
    )
  })
})
