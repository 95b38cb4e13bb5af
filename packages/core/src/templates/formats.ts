import { parts, weekdayName, type Day } from '../calendar'
import { moneyInWords, showAmount, showMoney } from '../money'
import { toCardinal as cardinalEn, toOrdinal as ordinalEn } from 'n2words/en-US'
import { toCardinal as cardinalEs, toOrdinal as ordinalEs } from 'n2words/es-MX'
import { fieldOf, isDayValue, isList, isMoney, isRecord, plain, readWrittenDay, type Value } from './values'

export type Language = 'en' | 'es'
export interface Format {
  name: string
  /** What it does, for the list that people choose from. */
  about: string
  example: string
  /** Types of fields that it makes sense of; empty for any. */
  takes: readonly ('text' | 'money' | 'day' | 'number' | 'list' | 'record' | 'yes/no')[]
  show: (v: Value, args: readonly string[], language: Language) => string
}

const locale = { en: 'en-US', es: 'es-US' } as const
const asDate = (d: Day) => {
  const [y, m, day] = parts(d)
  return new Date(Date.UTC(y, m - 1, day))
}
const dayOf = (v: Value): Day | null => (isDayValue(v) ? v.day : typeof v === 'string' ? readWrittenDay(v) : null)
const dated =
  (options: Intl.DateTimeFormatOptions) =>
  (v: Value, _args: readonly string[], language: Language): string => {
    const d = dayOf(v)
    return d ? new Intl.DateTimeFormat(locale[language], { ...options, timeZone: 'UTC' }).format(asDate(d)) : plain(v)
  }
/** Cents of an amount that can be said; null for what is none, or beyond all bounds. */
const centsOf = (v: Value): number | null => {
  const cents = isMoney(v) ? v.cents : typeof v === 'number' ? Math.round(v * 100) : Number.NaN
  return Number.isSafeInteger(cents) ? cents : null
}
const numberOf = (v: Value): number | null => {
  if (isList(v)) return v.length
  if (typeof v === 'number') return Number.isFinite(v) ? v : null
  if (isMoney(v)) return v.cents / 100
  const n = typeof v === 'string' && v.trim() ? Number(v.replaceAll(',', '')) : Number.NaN
  return Number.isFinite(n) ? n : null
}
const cardinal = (n: number, language: Language) => (language === 'es' ? cardinalEs(n) : cardinalEn(n))
const ordinalWords = (n: number, language: Language) =>
  !Number.isSafeInteger(n) || n < 1 ? String(n) : language === 'es' ? ordinalEs(n) : ordinalEn(n)
const small = new Set([
  'a',
  'an',
  'and',
  'as',
  'at',
  'by',
  'for',
  'from',
  'in',
  'of',
  'on',
  'or',
  'the',
  'to',
  'v.',
  'vs.',
  'with',
  'de',
  'del',
  'la',
  'las',
  'los',
  'y',
  'el',
])
const first = (t: string) => t.charAt(0).toLocaleUpperCase() + t.slice(1)
const text =
  (f: (t: string, args: readonly string[], language: Language) => string) => (v: Value, args: readonly string[], language: Language) =>
    f(plain(v), args, language)

function moneyWords(cents: number, language: Language): string {
  if (language === 'en') return `${cents < 0 ? 'minus ' : ''}${moneyInWords(Math.abs(cents))} dollars`
  const whole = Math.floor(Math.abs(cents) / 100)
  const words = first(
    cardinalEs(whole)
      .replace(/veintiuno$/, 'veintiún')
      .replace(/uno$/, 'un'),
  )
  const of = whole >= 1_000_000 && whole % 1_000_000 === 0 ? ' de' : ''
  return `${cents < 0 ? 'menos ' : ''}${words}${of} ${whole === 1 ? 'dólar' : 'dólares'} con ${String(Math.abs(cents) % 100).padStart(2, '0')}/100`
}

/** `a`, `a and b`, `a, b, and c`; in Spanish without the last comma, and *e* before an i. */
export function listed(items: readonly string[], word: string, language: Language): string {
  const all = items.filter((x) => x.trim() !== '')
  const spoken = word || (language === 'es' ? 'y' : 'and')
  if (all.length < 2) return all[0] ?? ''
  const last = all.at(-1)!
  const joiner =
    language === 'es' && spoken === 'y' && /^h?i(?!e)/i.test(last)
      ? 'e'
      : language === 'es' && spoken === 'o' && /^h?o/i.test(last)
        ? 'u'
        : spoken
  if (all.length === 2) return `${all[0]} ${joiner} ${last}`
  return `${all.slice(0, -1).join(', ')}${language === 'en' ? ',' : ''} ${joiner} ${last}`
}

const itemsOf = (v: Value): string[] => (isList(v) ? v.map(plain) : plain(v) ? [plain(v)] : [])
const addressOf = (v: Value): string => plain(isRecord(v) ? fieldOf(v, 'address') : v)
const linesOf = (t: string) =>
  t
    .split('\n')
    .map((l) => l.trim())
    .filter(Boolean)

/** Every format, in the order in which people see them. */
export const formats: readonly Format[] = [
  { name: 'long date', about: 'Month, day and year', example: 'November 27, 2026', takes: ['day'], show: dated({ dateStyle: 'long' }) },
  {
    name: 'full date',
    about: 'With the day of the week',
    example: 'Friday, November 27, 2026',
    takes: ['day'],
    show: dated({ dateStyle: 'full' }),
  },
  {
    name: 'short date',
    about: 'In figures',
    example: '11/27/2026',
    takes: ['day'],
    show: dated({ year: 'numeric', month: '2-digit', day: '2-digit' }),
  },
  {
    name: 'month and year',
    about: 'Without the day',
    example: 'November 2026',
    takes: ['day'],
    show: dated({ year: 'numeric', month: 'long' }),
  },
  {
    name: 'legal date',
    about: 'As at the foot of an agreement',
    example: '27th day of November, 2026',
    takes: ['day'],
    show: (v, _a, language) => {
      const d = dayOf(v)
      if (!d) return plain(v)
      const [y, , n] = parts(d)
      const month = new Intl.DateTimeFormat(locale[language], { month: 'long', timeZone: 'UTC' }).format(asDate(d))
      return language === 'es' ? `${n} de ${month} de ${y}` : `${ordinal(n)} day of ${month}, ${y}`
    },
  },
  {
    name: 'weekday',
    about: 'The day of the week',
    example: 'Friday',
    takes: ['day'],
    show: (v, _a, language) =>
      dayOf(v) ? (language === 'en' ? weekdayName(dayOf(v)!) : dated({ weekday: 'long' })(v, [], language)) : plain(v),
  },
  { name: 'iso date', about: 'Year, month, day in figures', example: '2026-11-27', takes: ['day'], show: (v) => dayOf(v) ?? plain(v) },
  {
    name: 'money',
    about: 'An amount in figures',
    example: '$6,154.00',
    takes: ['money', 'number'],
    show: (v) => (centsOf(v) === null ? plain(v) : showMoney(centsOf(v)!)),
  },
  {
    name: 'amount',
    about: 'Without the sign of the currency',
    example: '6,154.00',
    takes: ['money', 'number'],
    show: (v) => (centsOf(v) === null ? plain(v) : showAmount(centsOf(v)!)),
  },
  {
    name: 'whole money',
    about: 'Without cents where there are none',
    example: '$6,154',
    takes: ['money', 'number'],
    show: (v) => (centsOf(v) === null ? plain(v) : showMoney(centsOf(v)!).replace(/\.00$/, '')),
  },
  {
    name: 'money in words',
    about: 'An amount as on a check',
    example: 'Six thousand one hundred fifty-four and 00/100 dollars',
    takes: ['money', 'number'],
    show: (v, _a, language) => (centsOf(v) === null ? plain(v) : moneyWords(centsOf(v)!, language)),
  },
  {
    name: 'number',
    about: 'With commas between thousands',
    example: '12,500',
    takes: ['number', 'money', 'list'],
    show: (v) => (numberOf(v) === null ? plain(v) : new Intl.NumberFormat('en-US', { maximumFractionDigits: 6 }).format(numberOf(v)!)),
  },
  {
    name: 'number in words',
    about: 'A number in words',
    example: 'forty-two',
    takes: ['number', 'money', 'list'],
    show: (v, _a, language) => (numberOf(v) === null || Math.abs(numberOf(v)!) > 1e15 ? plain(v) : cardinal(numberOf(v)!, language)),
  },
  {
    name: 'ordinal',
    about: 'A number with its ending',
    example: '3rd',
    takes: ['number', 'list'],
    show: (v, _a, language) => (numberOf(v) === null ? plain(v) : language === 'es' ? `${numberOf(v)}.º` : ordinal(numberOf(v)!)),
  },
  {
    name: 'ordinal in words',
    about: 'Its place in words',
    example: 'third',
    takes: ['number', 'list'],
    show: (v, _a, language) => (numberOf(v) === null ? plain(v) : ordinalWords(numberOf(v)!, language)),
  },
  { name: 'capitals', about: 'All in capitals', example: 'CORVANE MARITIME', takes: [], show: text((t) => t.toLocaleUpperCase()) },
  { name: 'lower case', about: 'All in small letters', example: 'corvane maritime', takes: [], show: text((t) => t.toLocaleLowerCase()) },
  { name: 'capital', about: 'The first letter as a capital', example: 'She', takes: [], show: text(first) },
  {
    name: 'title case',
    about: 'A capital for each word that carries weight',
    example: 'Motion to Compel',
    takes: [],
    show: text((t) =>
      t
        .split(' ')
        .map((w, i) => (i > 0 && small.has(w.toLocaleLowerCase()) ? w.toLocaleLowerCase() : first(w.toLocaleLowerCase())))
        .join(' '),
    ),
  },
  {
    name: 'possessive',
    about: 'With an apostrophe and s',
    example: 'Corvane’s, Harris’',
    takes: ['text', 'record'],
    show: text((t, _a, language) => (!t ? '' : language === 'es' ? `de ${t}` : `${t}${/s$/i.test(t) ? '’' : '’s'}`)),
  },
  {
    name: 'address',
    about: 'An address in lines',
    example: '12 Quay Street ↵ Port Alder',
    takes: ['text', 'record'],
    show: (v) => linesOf(addressOf(v)).join('\n'),
  },
  {
    name: 'address in one line',
    about: 'An address with commas',
    example: '12 Quay Street, Port Alder',
    takes: ['text', 'record'],
    show: (v) => linesOf(addressOf(v)).join(', '),
  },
  {
    name: 'initials',
    about: 'First letters of a name',
    example: 'N.H.',
    takes: ['text', 'record'],
    show: text((t) =>
      t
        .split(/[\s-]+/)
        .filter(Boolean)
        .map((w) => `${w.charAt(0).toLocaleUpperCase()}.`)
        .join(''),
    ),
  },
  {
    name: 'list',
    about: 'Several with commas and a last word',
    example: '{parties | list "and"}: Ann, Bo, and Cy',
    takes: ['list', 'text', 'record'],
    show: (v, args, language) => listed(itemsOf(v), args[0] ?? '', language),
  },
  { name: 'lines', about: 'Several, one in each line', example: 'Ann ↵ Bo', takes: ['list', 'text'], show: (v) => itemsOf(v).join('\n') },
  {
    name: 'plural',
    about: 'One word or another by how many',
    example: '{children | plural "child" "children"}',
    takes: ['list', 'number'],
    show: (v, args) => ((numberOf(v) ?? 0) === 1 ? (args[0] ?? '') : (args[1] ?? `${args[0] ?? ''}s`)),
  },
  {
    name: 'yes or no',
    about: 'One word or another by yes and no',
    example: '{party.served | yes or no "served" "unserved"}',
    takes: [],
    show: (v, args, language) =>
      v === true || (typeof v === 'string' && v.toLowerCase() === 'yes')
        ? (args[0] ?? (language === 'es' ? 'sí' : 'yes'))
        : (args[1] ?? 'no'),
  },
  {
    name: 'otherwise',
    about: 'What to say where there is nothing',
    example: '{court.judge | otherwise "the Court"}',
    takes: [],
    show: (v, args) => plain(v) || (args[0] ?? ''),
  },
]

function ordinal(n: number): string {
  const two = Math.abs(n) % 100
  const ending = two >= 11 && two <= 13 ? 'th' : (['th', 'st', 'nd', 'rd'][two % 10] ?? 'th')
  return `${n}${ending}`
}

const byName = new Map(formats.map((f) => [f.name.replaceAll(' ', '_'), f]))
/** A format by its name, with spaces or underscores; undefined where there is none. */
export const formatNamed = (name: string): Format | undefined => byName.get(name.replaceAll(' ', '_'))
