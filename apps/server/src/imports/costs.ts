import { readDay, faultOfPast } from '@heron/core/calendar'
import { readMoney } from '@heron/core/money'
import { readUnits } from '@heron/core/costs'
import { costKinds, recordCost, type CostInput } from '../costs'
import type { Fault, Importer } from './importer'
import { mattersNumbered } from './queries'

interface Ready {
  matterId: number
  cost: CostInput
}
const columns: [key: string, label: string, needed: boolean, known: string[]][] = [
  ['day', 'Date', true, ['day', 'posted', 'transaction date', 'print date']],
  ['matter', 'Matter', true, ['matter number', 'client matter', 'account code', 'billing code', 'file number', 'job code']],
  ['kind', 'Kind', true, ['kind of cost', 'cost code', 'type', 'category', 'code']],
  ['text', 'Description', false, ['text', 'details', 'memo', 'document', 'document name']],
  ['units', 'Units', false, ['pages', 'quantity', 'count', 'miles', 'qty']],
  ['amount', 'Amount', false, ['total', 'cost', 'charge']],
  ['payee', 'Paid to', false, ['vendor', 'merchant', 'payee', 'supplier']],
]

/** Costs from a copier, a card or a courier: each row on its matter, priced by its kind. A file is loaded whole or not at all. */
export const costImporter: Importer<Ready> = {
  fields: async () => columns.map(([key, label, needed, known]) => ({ key, label, needed, known })),

  async judge(m, ctx, table, progress) {
    const kinds = new Map(
      (await costKinds(ctx))
        .filter((k) => !k.retired)
        .flatMap((k) => [
          [k.code.toLowerCase(), k] as const,
          [k.name.toLowerCase(), k] as const,
          [k.expenseCode.toLowerCase(), k] as const,
        ]),
    )
    const names = [...new Set(table.map((r) => r.get('matter').trim()).filter(Boolean))]
    const matters = new Map<string, { id: number; open: boolean }>()
    for (let at = 0; at < names.length; at += 500)
      for (const found of await mattersNumbered(m, ctx, names, at))
        for (const key of [found.second, found.number]) if (key) matters.set(key.toLowerCase(), { id: found.id, open: Boolean(found.open) })
    const good: Ready[] = []
    const faults: Fault[] = []
    for (const [i, r] of table.entries()) {
      const before = faults.length
      const fault = (column: string, text: string) => faults.push({ row: r.number, column, text })
      const day = readDay(r.get('day'), ctx.clock.today())
      const past = day ? faultOfPast(day, ctx.clock.today()) : null
      if (!day) fault('day', r.get('day') ? `${r.get('day')} is not a date. Write it like 2026-11-23.` : 'Give the date')
      else if (past || day > ctx.clock.today()) fault('day', past ?? `${r.get('day')} is ahead`)
      const matter = matters.get(r.get('matter').trim().toLowerCase())
      if (!matter) fault('matter', r.get('matter') ? `There is no matter ${r.get('matter')}` : 'Give the number of the matter')
      else if (!matter.open) fault('matter', `${r.get('matter')} is closed, or for practice`)
      const kind = kinds.get(r.get('kind').trim().toLowerCase())
      if (!kind)
        fault('kind', r.get('kind') ? `There is no kind of cost ${r.get('kind')}. Use a code or a name of the list` : 'Give the kind')
      const units = r.get('units')
      if (units && readUnits(units) === null) fault('units', `${units} is not a number of units`)
      const amount = r.get('amount') ? readMoney(r.get('amount')) : null
      if (r.get('amount') && (amount === null || amount <= 0)) fault('amount', `${r.get('amount')} is not an amount above zero`)
      // Where both stand there, the price of the firm's list counts, and the amount is the machine's own.
      const priced = Boolean(units && kind?.unitRate)
      if (!priced && amount === null) fault('amount', kind?.unitRate ? 'Give the units, or the amount' : 'Give the amount')
      if (kind?.hard && !r.get('payee')) fault('payee', 'Say to whom it was paid')
      if (r.get('text').length > 300) fault('text', 'Keep it under 300 characters')
      if (r.get('payee').length > 160) fault('payee', 'Keep it under 160 characters')
      if (faults.length === before)
        good.push({
          matterId: matter!.id,
          cost: {
            day: day!,
            kindId: kind!.id,
            text: r.get('text') || kind!.name,
            payee: r.get('payee'),
            ...(priced ? { units } : { amount }),
          },
        })
      if (i % 500 === 0) await progress((i / table.length) * 100)
    }
    return { good, faults }
  },

  async load(m, ctx, ready, progress) {
    for (const [i, r] of ready.entries()) {
      await recordCost({ ...ctx, tx: m }, r.matterId, r.cost)
      if (i % 100 === 0) await progress((i / ready.length) * 100)
    }
  },
}
