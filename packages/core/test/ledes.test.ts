import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { faultsOfLedes, writeLedes, type LedesInvoice, type LedesLine } from '../src/billing'

/** A reader of its own, from the published list of fields: 24 fields, bars between, `[]` at the end of each row. */
function read(text: string): Record<string, string>[] {
  const rows = text.split('\r\n').filter(Boolean)
  expect(rows[0]).toBe('LEDES1998B[]')
  const cells = (row: string) => {
    expect(row.endsWith('[]')).toBe(true)
    const list = row.slice(0, -2).split('|')
    expect(list).toHaveLength(24)
    return list
  }
  const head = cells(rows[1]!)
  return rows.slice(2).map((r) => Object.fromEntries(cells(r).map((c, i) => [head[i]!, c])))
}
const cents = (text: string) => {
  expect(text).toMatch(/^-?\d+\.\d\d$/)
  return Math.round(Number(text) * 100)
}
const keeper = { id: 'NH', name: 'Haddad-Lind, Noor', classification: 'PT' as const }
const fee: LedesLine = { kind: 'fee', day: '2026-11-02', units: 42, unitCost: 285_00, total: 199_50, task: 'L120', activity: 'A102', expense: '', keeper, text: 'Research' } // prettier-ignore
const copy: LedesLine = { kind: 'expense', day: '2026-11-03', units: 168_000, unitCost: 25, total: 42_00, task: '', activity: '', expense: 'E101', keeper, text: 'Copies' } // prettier-ignore
const invoice: LedesInvoice = { number: 'B-1293', day: '2026-11-23', from: '2026-11-02', to: '2026-11-20', description: 'Gannet Ferry v. Corvane', clientId: 'GF-01', clientMatterId: 'LIT-77', matterId: '2025-0031', firmId: '04-1234567', lines: [fee, copy] } // prettier-ignore

describe('LEDES 1998B', () => {
  it('has each field where the standard puts it', () => {
    const [a, b] = read(writeLedes(invoice))
    expect(a).toMatchObject({
      INVOICE_DATE: '20261123',
      INVOICE_NUMBER: 'B-1293',
      CLIENT_ID: 'GF-01',
      LAW_FIRM_MATTER_ID: '2025-0031',
      INVOICE_TOTAL: '241.50',
      BILLING_START_DATE: '20261102',
      BILLING_END_DATE: '20261120',
      LINE_ITEM_NUMBER: '1',
      'EXP/FEE/INV_ADJ_TYPE': 'F',
      LINE_ITEM_NUMBER_OF_UNITS: '0.70',
      LINE_ITEM_ADJUSTMENT_AMOUNT: '0.00',
      LINE_ITEM_TOTAL: '199.50',
      LINE_ITEM_DATE: '20261102',
      LINE_ITEM_TASK_CODE: 'L120',
      LINE_ITEM_ACTIVITY_CODE: 'A102',
      LINE_ITEM_EXPENSE_CODE: '',
      TIMEKEEPER_ID: 'NH',
      LAW_FIRM_ID: '04-1234567',
      LINE_ITEM_UNIT_COST: '285.00',
      TIMEKEEPER_CLASSIFICATION: 'PT',
      CLIENT_MATTER_ID: 'LIT-77',
    })
    expect(b).toMatchObject({ 'EXP/FEE/INV_ADJ_TYPE': 'E', LINE_ITEM_NUMBER_OF_UNITS: '168.00', LINE_ITEM_UNIT_COST: '0.25', LINE_ITEM_EXPENSE_CODE: 'E101', LINE_ITEM_TASK_CODE: '' }) // prettier-ignore
  })

  it('names what is missing or wrong before it is sent', () => {
    expect(faultsOfLedes(invoice)).toEqual([])
    const bad = { ...invoice, clientId: '', lines: [{ ...fee, task: '' }, { ...fee, task: '', activity: 'B101' }, { ...copy, expense: 'E125' }] } // prettier-ignore
    expect(faultsOfLedes(bad)).toEqual([
      'The client’s own number (client ID) is missing',
      '2 lines, the first line 1, need a task code',
      'Line 2 needs an activity code of the standard (B101 is none)',
      'Line 3 needs an expense code of the standard (E125 is none)',
    ])
  })

  it('always adds up, and nothing in a text breaks it', () => {
    const line = fc
      .record({
        kind: fc.constantFrom('fee' as const, 'expense' as const),
        units: fc.option(fc.integer({ min: 1, max: 1_000_000 })),
        unitCost: fc.nat(1_000_000),
        total: fc.integer({ min: 0, max: 100_000_000 }),
        text: fc.string({ unit: 'grapheme' }),
      })
      .map((l): LedesLine => ({ ...fee, ...l }))
    fc.assert(
      fc.property(fc.array(line, { minLength: 1, maxLength: 12 }), fc.string(), (lines, description) => {
        const text = writeLedes({ ...invoice, lines, description })
        expect(text).toMatch(/^[\x20-\x7E\r\n]*$/)
        const rows = read(text)
        expect(rows).toHaveLength(lines.length)
        const sum = rows.reduce((n, r) => n + cents(r['LINE_ITEM_TOTAL']!), 0)
        for (const [i, r] of rows.entries()) {
          expect(cents(r['INVOICE_TOTAL']!)).toBe(sum)
          expect(cents(r['LINE_ITEM_TOTAL']!)).toBe(lines[i]!.total)
          const units = BigInt(cents(r['LINE_ITEM_NUMBER_OF_UNITS']!)) * BigInt(cents(r['LINE_ITEM_UNIT_COST']!))
          const reckoned = Number((units * 2n + 100n) / 200n) + cents(r['LINE_ITEM_ADJUSTMENT_AMOUNT']!)
          expect(reckoned).toBe(lines[i]!.total)
        }
      }),
    )
  })
})
