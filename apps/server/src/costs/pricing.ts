import { isCostAmount, markedUp, priceOfUnits, readUnits, showUnitRate, showUnits } from '@heron/core/costs'
import { showMoney } from '@heron/core/money'
import type { EntityManager } from 'typeorm'
import { fieldFault, notFound } from '../platform/problem'
import { CostKind } from './entities'

export interface Priced {
  kind: CostKind | null
  units: number | null
  unitRate: number | null
  paid: number
  amount: number
  how: string
}

/** What a cost comes to: its units at the rate of its kind, or the amount typed, with the markup. */
export async function priceCost(
  m: EntityManager,
  input: { kindId: number | null; units: string; amount: number | null; markup: number | null },
  /** A cost that recurs goes on at its kind though that is no longer offered. */
  alsoRetired = false,
): Promise<Priced> {
  const kind = input.kindId === null ? null : await m.findOneBy(CostKind, { id: input.kindId })
  if (input.kindId !== null && !kind) throw notFound('kind of cost')
  if (kind?.retired && !alsoRetired) throw fieldFault('kindId', `${kind.name} is no longer used. Choose another kind`)
  let units: number | null = null
  if (input.units) {
    if (!kind?.unitRate) throw fieldFault('units', 'This kind has no price for a unit. Give the amount instead')
    units = readUnits(input.units)
    if (units === null) throw fieldFault('units', 'Give a number like 12 or 36.4, of at most three decimals')
    if (input.amount !== null) throw fieldFault('amount', `Give the ${kind.unit || 'unit'}s or the amount, not both`)
  } else if (input.amount === null)
    throw fieldFault(kind?.unitRate ? 'units' : 'amount', kind?.unitRate ? `Give the number of ${kind.unit || 'unit'}s` : 'Give an amount')
  const paid = units === null ? input.amount! : priceOfUnits(units, Number(kind!.unitRate))
  const markup = input.markup ?? kind?.markupBasisPoints ?? 0
  const amount = markedUp(paid, markup)
  if (!isCostAmount(paid) || !isCostAmount(amount))
    throw fieldFault(units === null ? 'amount' : 'units', 'This comes to nothing, or to very much')
  const how = [
    units === null ? '' : `${showUnits(units)} × ${showUnitRate(Number(kind!.unitRate))}`,
    markup ? `${showMoney(paid)} and ${markup / 100} %` : '',
  ]
  return { kind, units, unitRate: units === null ? null : Number(kind!.unitRate), paid, amount, how: how.filter(Boolean).join(', ') }
}
