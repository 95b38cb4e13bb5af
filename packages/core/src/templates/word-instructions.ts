import { longMonths, parts, weekdayName, type Day } from '../calendar'
import { formatNamed } from './formats'
import { isDayValue, isMoney, plain, readWrittenDay, type Value } from './values'

/** A piece of a field's instruction: text as written, or what a field within it came to. */
export interface Piece<Style> {
  text: string
  style: Style
  /** What came of a field stands as one word, whatever is in it. */
  whole?: boolean
}
export interface Argument<Style> {
  pieces: Piece<Style>[]
  quoted: boolean
  /** `\*`, `\@`, `\#` and the like. */
  switch?: string
  operator?: boolean
}

const openers = new Set(['"', '“', '”', '„'])
const operatorSigns = new Set(['=', '<', '>'])

/**
 * Splits an instruction into its words (ECMA-376 part 1, 17.16.1): quoted or not, with `\"` and `\\` inside quotes; what a field
 * within it came to is never split. A quote that is not closed ends with the instruction.
 */
export function splitInstruction<Style>(pieces: readonly Piece<Style>[]): Argument<Style>[] {
  const out: Argument<Style>[] = []
  let now: Argument<Style> | null = null
  let inQuotes = false
  const add = (text: string, style: Style, whole = false) => {
    now ??= { pieces: [], quoted: false }
    const last = now.pieces.at(-1)
    if (last && last.style === style && !whole && !last.whole) last.text += text
    else now.pieces.push(whole ? { text, style, whole } : { text, style })
  }
  const close = () => {
    if (now) out.push(now)
    now = null
  }
  for (const piece of pieces) {
    if (piece.whole) {
      add(piece.text, piece.style, true)
      continue
    }
    for (let i = 0; i < piece.text.length; i += 1) {
      const c = piece.text[i]!
      if (inQuotes) {
        const next = piece.text[i + 1]
        if (c === '\\' && (next === '"' || next === '\\')) add(piece.text[(i += 1)]!, piece.style)
        else if (openers.has(c)) {
          inQuotes = false
          close()
        } else add(c, piece.style)
      } else if (openers.has(c)) {
        close()
        now = { pieces: [], quoted: true }
        inQuotes = true
      } else if (/\s/.test(c)) close()
      else if (c === '\\' && /[^\s\\]/.test(piece.text[i + 1] ?? '')) {
        close()
        out.push({ pieces: [], quoted: false, switch: piece.text[(i += 1)]!.toLowerCase() })
      } else if (operatorSigns.has(c)) {
        const last = out.at(-1)
        if (!now && last?.operator && last.pieces[0]!.text.length === 1) last.pieces[0]!.text += c
        else {
          close()
          out.push({ pieces: [{ text: c, style: piece.style }], quoted: false, operator: true })
        }
      } else add(c, piece.style)
    }
  }
  close()
  return out
}

/** The text of an argument, without its looks. */
export const textOf = <Style>(a: Argument<Style> | undefined): string => (a ? a.pieces.map((p) => p.text).join('') : '')

/** A field's words without its switches, and the switches with what follows each that takes something. */
export function sortArguments<Style>(all: readonly Argument<Style>[]): {
  words: Argument<Style>[]
  switches: { name: string; value: string }[]
} {
  const words: Argument<Style>[] = []
  const switches: { name: string; value: string }[] = []
  for (let i = 0; i < all.length; i += 1) {
    const a = all[i]!
    if (!a.switch) words.push(a)
    else if ('*@#bf'.includes(a.switch)) switches.push({ name: a.switch, value: textOf(all[(i += 1)]) })
    else switches.push({ name: a.switch, value: '' })
  }
  return { words, switches }
}

const numberIn = (text: string): number | null => {
  const clean = text
    .trim()
    .replace(/^\((.*)\)$/, '-$1')
    .replaceAll(/[$,%\s]/g, '')
  return /^[-+]?(?:\d+(?:\.\d*)?|\.\d+)$/.test(clean) ? Number(clean) : null
}

/** Whether a text is like a pattern in which `?` stands for one character and `*` for any; linear in both for one star after another. */
export function like(text: string, pattern: string): boolean {
  let t = 0
  let p = 0
  let star = -1
  let from = 0
  while (t < text.length) {
    if (p < pattern.length && (pattern[p] === '?' || pattern[p] === text[t]) && pattern[p] !== '*') {
      t += 1
      p += 1
    } else if (pattern[p] === '*') {
      star = p
      p += 1
      from = t
    } else if (star !== -1) {
      p = star + 1
      from += 1
      t = from
    } else return false
  }
  while (pattern[p] === '*') p += 1
  return p === pattern.length
}

/** A comparison as IF and COMPARE make it: numbers as numbers, texts as they stand; the right side of `=` and `<>` may have wildcards. */
export function compares(left: string, operator: string, right: string): boolean {
  const [a, b] = [numberIn(left), numberIn(right)]
  const both = a !== null && b !== null
  const order = both ? a - b : left < right ? -1 : left > right ? 1 : 0
  switch (operator) {
    case '=':
    case '==':
      return both ? order === 0 : like(left.slice(0, 2000), right.slice(0, 500))
    case '<>':
      return both ? order !== 0 : !like(left.slice(0, 2000), right.slice(0, 500))
    case '<':
      return order < 0
    case '>':
      return order > 0
    case '<=':
      return order <= 0
    default:
      return operator === '>=' && order >= 0
  }
}

/** A day by a date picture: `MMMM d, yyyy`, `dddd`, with texts in single quotes. Hours are those of midnight. */
export function datePicture(day: Day, picture: string): string {
  const [y, m, d] = parts(day)
  const two = (n: number) => String(n).padStart(2, '0')
  const known: Record<string, string> = {
    d: String(d), dd: two(d), ddd: weekdayName(day).slice(0, 3), dddd: weekdayName(day),
    M: String(m), MM: two(m), MMM: longMonths[m - 1]!.slice(0, 3), MMMM: longMonths[m - 1]!,
    yy: two(y % 100), yyyy: String(y), h: '12', hh: '12', H: '0', HH: '00', m: '0', mm: '00', s: '0', ss: '00',
  } // prettier-ignore
  let out = ''
  for (let i = 0; i < picture.length;) {
    const c = picture[i]!
    if (c === "'") {
      const to = picture.indexOf("'", i + 1)
      out += picture.slice(i + 1, to === -1 ? undefined : to)
      i = to === -1 ? picture.length : to + 1
      continue
    }
    if (/^am\/pm/i.test(picture.slice(i, i + 5))) {
      out += 'AM'
      i += 5
      continue
    }
    let n = 1
    while (picture[i + n] === c) n += 1
    const letters = c === 'D' ? 'd' : c === 'Y' ? 'y' : c
    const word = known[letters.repeat(n)] ?? (letters === 'y' ? (n > 2 ? known['yyyy'] : known['yy']) : undefined)
    out += word ?? picture.slice(i, i + n)
    i += n
  }
  return out
}

/** Digits with a comma before every third from the right; zeros in front stay. */
const grouped = (digits: string): string => [...digits].map((d, i) => (i && (digits.length - i) % 3 === 0 ? `,${d}` : d)).join('')

/** A number by a numeric picture: `$#,##0.00`, `0.0%`, sections for positive, negative and zero between semicolons. */
export function numberPicture(n: number, picture: string): string {
  const sections = picture.split(';')
  const section = n < 0 && sections[1] !== undefined ? sections[1] : n === 0 && sections[2] !== undefined ? sections[2] : sections[0]!
  const shown = n < 0 && sections[1] !== undefined ? -n : n
  const signs = [...section].map((c, i) => ('#0x,.'.includes(c) ? i : -1)).filter((i) => i !== -1)
  if (!signs.length) return section.replaceAll(/['"]/g, '')
  const [from, to] = [signs[0]!, signs.at(-1)!]
  const pattern = section.slice(from, to + 1)
  const point = pattern.indexOf('.')
  const wholePart = point === -1 ? pattern : pattern.slice(0, point)
  const decimals = point === -1 ? '' : pattern.slice(point + 1)
  const places = [...decimals].filter((c) => c === '0' || c === '#' || c === 'x').length
  const fixed = Math.abs(shown).toFixed(Math.min(places, 20))
  let [whole, fraction = ''] = fixed.split('.') as [string, string?]
  const optional = [...decimals].reverse().findIndex((c) => c !== '#')
  for (let i = 0; i < (optional === -1 ? decimals.length : optional) && fraction.endsWith('0'); i += 1) fraction = fraction.slice(0, -1)
  if (wholePart.startsWith('x')) whole = whole.slice(-[...wholePart].filter((c) => '#0x'.includes(c)).length)
  whole = whole.padStart([...wholePart].filter((c) => c === '0').length, '0')
  if (wholePart.includes(',')) whole = grouped(whole)
  else if (wholePart.includes('#')) whole = whole.padStart([...wholePart].filter((c) => '#0'.includes(c)).length, ' ')
  const before = section.slice(0, from).replaceAll(/['"]/g, '')
  const after = section.slice(to + 1).replaceAll(/['"]/g, '')
  const sign = shown < 0 && !/[-+]/.test(before) ? '-' : ''
  return `${sign}${before.replace('+', shown >= 0 ? '+' : '-').replace('-', shown < 0 ? '-' : ' ')}${whole}${fraction ? `.${fraction}` : ''}${after}`
}

const roman = (n: number): string => {
  const steps: [number, string][] = [[1000, 'M'], [900, 'CM'], [500, 'D'], [400, 'CD'], [100, 'C'], [90, 'XC'], [50, 'L'], [40, 'XL'], [10, 'X'], [9, 'IX'], [5, 'V'], [4, 'IV'], [1, 'I']] // prettier-ignore
  if (!Number.isInteger(n) || n < 1 || n > 32767) return String(n)
  let out = ''
  for (const [size, sign] of steps)
    while (n >= size) {
      out += sign
      n -= size
    }
  return out
}
const eachWord = (t: string) => t.replaceAll(/(^|\s)(\S)/g, (_m, space: string, c: string) => space + c.toLocaleUpperCase())
const alphabetic = (n: number) =>
  Number.isInteger(n) && n > 0 && n < 780 ? String.fromCharCode(65 + ((n - 1) % 26)).repeat(Math.ceil(n / 26)) : String(n)

function general(text: string, how: string): string {
  const n = numberIn(text)
  const format = (name: string) => formatNamed(name)!.show(n, [], 'en')
  switch (how.toLowerCase()) {
    case 'upper':
      return text.toLocaleUpperCase()
    case 'lower':
      return text.toLocaleLowerCase()
    case 'firstcap':
      return text.charAt(0).toLocaleUpperCase() + text.slice(1)
    case 'caps':
      return eachWord(text)
    case 'cardtext':
      return n === null ? text : format('number in words')
    case 'ordtext':
      return n === null ? text : format('ordinal in words')
    case 'ordinal':
      return n === null ? text : format('ordinal')
    case 'dollartext':
      // ECMA-376: cardinal text, and hundredths after the word and.
      return n === null
        ? text
        : `${formatNamed('number in words')!.show(Math.trunc(n), [], 'en')} and ${String(Math.round((n - Math.trunc(n)) * 100)).padStart(2, '0')}/100`
    case 'roman':
      return n === null ? text : how.startsWith('r') ? roman(n).toLowerCase() : roman(n)
    case 'alphabetic':
      return n === null ? text : how.startsWith('a') ? alphabetic(n).toLowerCase() : alphabetic(n)
    case 'hex':
      return n === null ? text : Math.trunc(n).toString(16).toUpperCase()
    case 'arabic':
      return n === null ? text : String(n)
    default:
      return text
  }
}

/** A value with its field's switches, in their order: picture of a day or number, what stands before and after, capitals and words. */
export function withSwitches(value: Value, switches: readonly { name: string; value: string }[]): string {
  let text = plain(value)
  for (const s of switches) {
    if (s.name === '@') {
      const day = isDayValue(value) ? value.day : readWrittenDay(text)
      if (day) text = datePicture(day, s.value)
    } else if (s.name === '#') {
      const n = isMoney(value) ? value.cents / 100 : numberIn(text)
      if (n !== null) text = numberPicture(n, s.value)
    } else if (s.name === '*') {
      const bare = isMoney(value) && /text$/i.test(s.value) ? String(value.cents / 100) : text
      text = general(bare, s.value)
    }
  }
  if (text) for (const s of switches) text = s.name === 'b' ? s.value + text : s.name === 'f' ? text + s.value : text
  return text
}
