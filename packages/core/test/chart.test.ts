import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { deepestChart, judgeAccount, underParents, type ChartAccount } from '@heron/core/ledger'

const account = (id: number, parentId: number | null, more: Partial<ChartAccount> = {}): ChartAccount => ({ id, code: String(1000 + id), name: `A${id}`, kind: 'asset', parentId, closed: false, role: null, ...more }) // prettier-ignore
/** Any chart without circles: each account may stand under one before it. */
const charts = fc
  .array(fc.tuple(fc.boolean(), fc.nat()), { minLength: 1, maxLength: 30 })
  .map((list) => list.map(([under, n], i) => account(i + 1, under && i > 0 ? (n % i) + 1 : null)))

describe('the chart of accounts', () => {
  it.each([
    ['itself', account(1, 1), 0, 'circle'],
    ['one that stands under it', account(1, 3), 0, 'circle'],
    ['one of another kind', account(3, 4), 0, 'other-kind'],
    ['a closed one', account(3, 5), 0, 'parent-closed'],
    ['nobody knows what', account(3, 99), 0, 'no-parent'],
  ] as const)('lets none stand under %s', (_, to, balance, fault) => {
    const chart = [account(1, null), account(2, 1), account(3, 2), account(4, null, { kind: 'income' }), account(5, null, { closed: true })]
    expect(judgeAccount(chart, to, balance)).toBe(fault)
  })
  it('closes what stands at nothing, and income whatever it stands at', () => {
    const chart = [
      account(1, null),
      account(2, 1),
      account(3, null, { kind: 'income' }),
      account(4, null, { role: 'fees', kind: 'income' }),
    ]
    expect(judgeAccount(chart, account(2, 1, { closed: true }), 5)).toBe('not-empty')
    expect(judgeAccount(chart, account(1, null, { closed: true }), 0)).toBe('open-below')
    expect(judgeAccount(chart, account(2, 1, { closed: true }), 0)).toBeNull()
    expect(judgeAccount(chart, { ...chart[2]!, closed: true }, -500)).toBeNull()
    expect(judgeAccount(chart, { ...chart[3]!, closed: true }, 0)).toBe('kept-by-acts')
  })
  it('is never deeper than it may be', () => {
    const line = Array.from({ length: deepestChart + 1 }, (_, i) => account(i + 1, i || null))
    expect(judgeAccount(line, account(0, deepestChart), 0)).toBe('too-deep')
    expect(judgeAccount(line, account(0, deepestChart - 1), 0)).toBeNull()
    // One with others under it takes these along.
    expect(judgeAccount([...line.slice(0, 3), account(8, null), account(9, 8), account(10, 9)], account(8, 3), 0)).toBe('too-deep')
  })
  it('adds up in statements to what its accounts come to, each shown once (property)', () => {
    fc.assert(
      fc.property(charts, fc.array(fc.integer({ min: -1_000_00, max: 1_000_00 }), { minLength: 30, maxLength: 30 }), (chart, amounts) => {
        const some = chart.filter((_, i) => amounts[i]! % 3 !== 0)
        const rows = some.map((a) => ({ name: a.name, accountId: a.id as number | null, amounts: [amounts[a.id - 1]!] }))
        const out = underParents([...rows, { name: 'Of none', accountId: null, amounts: [7] }], chart)
        const plain = out.filter((r) => !r.sum)
        expect(plain.reduce((n, r) => n + r.amounts[0]!, 0)).toBe(rows.reduce((n, r) => n + r.amounts[0]!, 0) + 7)
        const ids = plain.flatMap((r) => (r.accountId === null ? [] : [r.accountId]))
        expect(new Set(ids).size).toBe(ids.length)
        // What one and all under it come to together is the plain rows from it on that are set in further.
        for (const [i, r] of out.entries()) {
          if (!r.sum) continue
          const from = out.findIndex((x) => !x.sum && `${x.name} together` === r.name)
          expect(r.amounts[0]).toBe(
            out
              .slice(from, i)
              .filter((x) => !x.sum)
              .reduce((n, x) => n + x.amounts[0]!, 0),
          )
        }
      }),
    )
  })
})
