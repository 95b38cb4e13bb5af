import { divideHalfUp, mostMoney, share, type Cents } from '../money'
import { addMonths, dayOf, daysInMonth, parts, type Day } from '../calendar'

/** The most units of one cost: a million pages or miles, in thousandths. */
export const mostUnits = 1_000_000_000
/** The dearest unit: $10,000.00, in hundredths of a cent. */
export const dearestUnit = 100_000_000
/** The highest markup: the price again, in ten-thousandths. */
export const mostMarkup = 10_000

function withoutZeros(digits: string): string {
  let end = digits.length
  while (end > 0 && digits[end - 1] === '0') end -= 1
  return digits.slice(0, end)
}
function decimal(text: string, places: number): number | null {
  const found = /^(\d{1,3}(?:,\d{3})+|\d{1,9})?(?:\.(\d{1,12}))?$/.exec(text.trim())
  if (!found || (found[1] === undefined && found[2] === undefined)) return null
  const after = withoutZeros(found[2] ?? '')
  if (after.length > places) return null
  return Number((found[1] ?? '0').replaceAll(',', '')) * 10 ** places + Number(after.padEnd(places, '0') || '0')
}

/** Reads a number of units such as `12`, `1,250` or `36.4`, to the thousandth; null for anything else, nothing, or too many. */
export function readUnits(text: string): number | null {
  const units = decimal(text, 3)
  return units === null || units <= 0 || units > mostUnits ? null : units
}

/** Reads the price of a unit in dollars such as `0.25`, `.655` or `$1.10`, in hundredths of a cent; null for anything else. */
export function readUnitRate(text: string): number | null {
  const rate = decimal(text.trim().replace(/^\$/, ''), 4)
  return rate === null || rate <= 0 || rate > dearestUnit ? null : rate
}

const scaled = (value: number, places: number, least: number) => {
  const [whole, after = ''] = (value / 10 ** places).toFixed(places).split('.')
  const kept = withoutZeros(after).padEnd(least, '0')
  return `${Number(whole).toLocaleString('en-US')}${kept ? `.${kept}` : ''}`
}
/** `36.4` or `1,250`. */
export const showUnits = (units: number): string => scaled(units, 3, 0)
/** `$0.25` or `$0.655`. */
export const showUnitRate = (rate: number): string => `$${scaled(rate, 4, 2)}`

/** Units (thousandths) at a rate (hundredths of a cent each), rounded once, half up to the cent. */
export function priceOfUnits(units: number, rate: number): Cents {
  return divideHalfUp(BigInt(units) * BigInt(rate), 100_000n)
}

/** What a client is charged for what cost the firm so much: the markup (ten-thousandths) is rounded once, half up to the cent. */
export function markedUp(paid: Cents, basisPoints: number): Cents {
  return paid + divideHalfUp(BigInt(paid) * BigInt(basisPoints), 10_000n)
}

/**
 * One payment for several matters: what is fixed for some is taken as it is, the rest is shared alike over the others, ties to
 * the earlier. The parts always add up to the whole. Throws RangeError where they cannot, or where a part would be nothing.
 */
export function splitCost(total: Cents, fixed: readonly (Cents | null)[]): Cents[] {
  const set = fixed.reduce<number>((a, f) => a + (f ?? 0), 0)
  const open = fixed.filter((f) => f === null).length
  if (set > total) throw new RangeError('The parts are more than the whole')
  if (!open && set !== total) throw new RangeError('The parts do not add up to the whole')
  const rest = open
    ? share(
        total - set,
        Array.from({ length: open }, () => 1),
      )
    : []
  const parts = fixed.map((f) => f ?? rest.shift()!)
  if (parts.some((p) => p <= 0)) throw new RangeError('Every matter needs a part')
  return parts
}

/** The next day of a monthly cost after a day: that date of the month, or the month's last where it is shorter. */
export function nextOfMonth(after: Day, dayOfMonth: number): Day {
  const at = (day: Day) => {
    const [year, month] = parts(day)
    return dayOf(year, month, Math.min(dayOfMonth, daysInMonth(year, month)))
  }
  const same = at(after)
  return same > after ? same : at(addMonths(dayOf(parts(after)[0], parts(after)[1], 1), 1))
}

/** Whether a sum is one that a cost may have, above nothing. */
export const isCostAmount = (amount: Cents): boolean => Number.isSafeInteger(amount) && amount > 0 && amount <= mostMoney.amount
