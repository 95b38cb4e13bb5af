/** An amount of money in whole cents; a safe integer, negative where it lessens. */
export type Cents = number & { readonly unit?: 'cents' }

/** Rounds num / den half away from zero; exact for any safe integers. Throws RangeError when den is 0. */
export function divideHalfUp(num: number | bigint, den: number | bigint): number {
  const d = BigInt(den)
  if (d === 0n) throw new RangeError('Division by zero')
  const n = d < 0n ? -BigInt(num) : BigInt(num)
  const abs = d < 0n ? -d : d
  const sign = n < 0n ? -1n : 1n
  return Number(sign * ((2n * n * sign + abs) / (2n * abs)))
}

/** part × num / den, half away from zero to the cent. */
export function proportion(amount: Cents, num: number, den: number): Cents {
  return divideHalfUp(BigInt(amount) * BigInt(num), den)
}

/**
 * Shares an amount over weights by the largest remainder, ties to the earlier one; the shares always add up.
 * Weights are whole numbers of 0 or more; where all are 0 everything falls to the first.
 */
export function share(amount: Cents, weights: readonly number[]): Cents[] {
  if (weights.length === 0) {
    if (amount !== 0) throw new RangeError('Nothing to share the amount over')
    return []
  }
  if (weights.some((w) => w < 0 || !Number.isInteger(w))) throw new RangeError('Weights must be whole and not negative')
  const total = weights.reduce((a, w) => a + BigInt(w), 0n)
  if (total === 0n) return weights.map((_, i) => (i === 0 ? amount : 0))
  const sign = amount < 0 ? -1 : 1
  const whole = BigInt(Math.abs(amount))
  const shares = weights.map((w) => (whole * BigInt(w)) / total)
  const remainders = weights.map((w, i) => ({ i, r: (whole * BigInt(w)) % total }))
  let left = whole - shares.reduce((a, s) => a + s, 0n)
  remainders.sort((a, b) => (a.r === b.r ? a.i - b.i : a.r > b.r ? -1 : 1))
  for (const { i } of remainders) {
    if (left === 0n) break
    shares[i] = shares[i]! + 1n
    left -= 1n
  }
  return shares.map((s) => (s === 0n ? 0 : sign * Number(s)))
}

/**
 * Shares a payment, credit or write-off over lines by what remains on each, and never more than remains.
 * Throws RangeError when the amount is above the sum of what remains.
 */
export function shareOverRemaining(amount: Cents, remaining: readonly Cents[]): Cents[] {
  const total = remaining.reduce((a, b) => a + b, 0)
  if (amount > total) throw new RangeError('More than remains on the lines')
  return share(amount, remaining)
}

/** Adds up whole numbers of one unit. */
export const sum = (amounts: readonly number[]): number => amounts.reduce((a, b) => a + b, 0)

const grouped = new Intl.NumberFormat('en-US', { minimumFractionDigits: 2 })

/** `$1,311.00`; negatives with a real minus: `−$88.00`. */
export function showMoney(cents: Cents): string {
  return `${cents < 0 ? '−' : ''}$${grouped.format(Math.abs(cents) / 100)}`
}

/** `1,311.00`, for columns whose head names the currency. */
export function showAmount(cents: Cents): string {
  return `${cents < 0 ? '−' : ''}${grouped.format(Math.abs(cents) / 100)}`
}

/** Reads `1,311.00`, `$1311`, `-88.5`; null for anything that is not an amount of at most two decimals. */
export function readMoney(text: string): Cents | null {
  const clean = text.trim().replace(/[$\s]/g, '').replace('−', '-')
  const m = /^(-?)(\d{1,3}(?:,\d{3})+|\d+)?(?:\.(\d{1,2}))?$/.exec(clean)
  if (!m || (m[2] === undefined && m[3] === undefined)) return null
  const cents = Number((m[2] ?? '0').replaceAll(',', '')) * 100 + Number((m[3] ?? '').padEnd(2, '0'))
  return Number.isSafeInteger(cents) ? (m[1] ? -cents : cents) : null
}

const ones =
  'zero one two three four five six seven eight nine ten eleven twelve thirteen fourteen fifteen sixteen seventeen eighteen nineteen'.split(
    ' ',
  )
const tens = 'twenty thirty forty fifty sixty seventy eighty ninety'.split(' ')

function words(n: number): string {
  if (n < 20) return ones[n]!
  if (n < 100) return tens[Math.floor(n / 10) - 2]! + (n % 10 ? `-${ones[n % 10]}` : '')
  if (n < 1000) return `${ones[Math.floor(n / 100)]} hundred${n % 100 ? ` ${words(n % 100)}` : ''}`
  for (const [size, name] of [
    [1e9, 'billion'],
    [1e6, 'million'],
    [1e3, 'thousand'],
  ] as const)
    if (n >= size) return `${words(Math.floor(n / size))} ${name}${n % size ? ` ${words(n % size)}` : ''}`
  return ''
}

/** As a check spells it: `One thousand two hundred and 00/100`. */
export function moneyInWords(cents: Cents): string {
  if (cents < 0) throw new RangeError('A check cannot be for less than nothing')
  const text = words(Math.floor(cents / 100))
  return `${text.charAt(0).toUpperCase()}${text.slice(1)} and ${String(cents % 100).padStart(2, '0')}/100`
}
