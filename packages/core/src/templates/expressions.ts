import { Lexer, Parser } from 'angular-expressions'
import { formatNamed } from './formats'
import {
  compare,
  fieldOf,
  holds,
  isEmpty,
  isIn,
  isList,
  isMoney,
  isRecord,
  money,
  plain,
  same,
  type Value,
  type ValueRecord,
} from './values'

/** What a template says is wrong, in words that say what to do. */
export class TemplateFault extends Error {}

export type Expression =
  | { type: 'Literal'; value: string | number | boolean | null }
  | { type: 'Identifier'; name: string }
  | { type: 'MemberExpression'; object: Expression; property: Expression; computed: boolean }
  | { type: 'ArrayExpression'; elements: Expression[] }
  | { type: 'UnaryExpression'; operator: '!' | '-' | '+'; argument: Expression }
  | { type: 'LogicalExpression'; operator: '&&' | '||'; left: Expression; right: Expression }
  | { type: 'BinaryExpression'; operator: string; left: Expression; right: Expression }
  | { type: 'FilterExpression'; callee: { name: string }; arguments: Expression[] }

const longest = 2000
const deepest = 40
const quotes: Record<string, string> = { '"': '"', "'": "'", '“': '”', '‘': '’', '„': '“', '«': '»' }
const letter = /[\p{L}_]/u
const digit = /\d/
const words: Record<string, string> = {
  and: '&&',
  or: '||',
  not: '!',
  in: '===',
  is: '==',
  true: 'true',
  false: 'false',
  yes: 'true',
  no: 'false',
  empty: 'null',
}
const signs: Record<string, string> = {
  '=': '==',
  '==': '==',
  '!=': '!=',
  '<>': '!=',
  '≠': '!=',
  '<': '<',
  '>': '>',
  '<=': '<=',
  '≤': '<=',
  '>=': '>=',
  '≥': '>=',
  '+': '+',
  '-': '-',
  '−': '-',
  '–': '-',
  '*': '*',
  '×': '*',
  '/': '/',
  '(': '(',
  ')': ')',
  '[': '[',
  ']': ']',
  ',': ',',
}

/**
 * Writes an expression as people write it (`fee > 500 and not client.person`, curly quotes, formats of several words) as one of
 * the parser's. One pass, no going back.
 */
function translated(source: string): string {
  if (source.length > longest) throw new TemplateFault(`This is longer than ${longest} characters`)
  const out: string[] = []
  let depth = 0
  let i = 0
  const skip = () => {
    while (i < source.length && /\s/.test(source[i]!)) i += 1
  }
  const quoted = (): string => {
    const open = source[i]!
    const close = quotes[open]!
    // A straight quote may have been closed by a curly one, and the other way about, as word processors change them.
    const ends = new Set(open === '"' || open === '“' ? ['"', '”'] : open === "'" || open === '‘' ? ["'", '’'] : [close])
    const from = (i += 1)
    while (i < source.length && !ends.has(source[i]!)) i += 1
    if (i >= source.length) throw new TemplateFault(`A quote is opened and not closed after ${source.slice(from - 1, from + 20)}`)
    i += 1
    return JSON.stringify(source.slice(from, i - 1))
  }
  const run = (of: RegExp): string => {
    const from = i
    while (i < source.length && (of.test(source[i]!) || (i > from && digit.test(source[i]!)))) i += 1
    return source.slice(from, i)
  }
  const number = (): string => {
    const text = run(/[\d.]/)
    if (!Number.isFinite(Number(text))) throw new TemplateFault(`${text} is not a number`)
    return text
  }
  /** `| list "and"`: words up to a quote, a number or the end are the format's name. */
  const format = () => {
    const name: string[] = []
    const args: string[] = []
    for (;;) {
      skip()
      const c = source[i]
      if (c === undefined || c === '|' || c === ')') break
      if (quotes[c]) args.push(quoted())
      else if (digit.test(c)) args.push(number())
      else if (letter.test(c) && !args.length) name.push(run(letter))
      else if (c === ':' || c === ',') i += 1
      else throw new TemplateFault(`Put what stands before ${source.slice(i, i + 10)} in parentheses`)
    }
    if (!name.length) throw new TemplateFault('Name a format after |')
    out.push('|', name.join('_').toLowerCase(), ...args.flatMap((a) => [':', a]))
  }
  for (;;) {
    skip()
    const c = source[i]
    if (c === undefined) break
    if (quotes[c]) out.push(quoted())
    else if (digit.test(c)) out.push(number())
    else if (c === '$' && digit.test(source[i + 1] ?? '')) i += 1
    else if (c === '.') {
      i += 1
      if (!letter.test(source[i] ?? '')) throw new TemplateFault('Name a field after the dot')
      out.push('.', run(letter))
    } else if (letter.test(c)) {
      const word = run(letter)
      const known = words[word.toLowerCase()]
      if (known === undefined || source[i] === '.') out.push(word)
      else if (known === '!' && out.at(-1) === '==') out[out.length - 1] = '!='
      else if (known === '===' && out.at(-1) === '!') out[out.length - 1] = '!=='
      else out.push(known)
    } else if (c === '|') {
      i += 1
      if (source[i] === '|') throw new TemplateFault('Write or in place of ||')
      format()
    } else {
      const sign = signs[source.slice(i, i + 2)] ? source.slice(i, i + 2) : c
      const known = signs[sign]
      if (known === undefined)
        throw new TemplateFault(c === '&' ? 'Write and in place of &&' : c === '!' ? 'Write not in place of !' : `${c} has no meaning here`)
      if (known === '(' || known === '[') depth += 1
      if (known === ')' || known === ']') depth -= 1
      if (depth > deepest) throw new TemplateFault('Too many parentheses within one another')
      if (depth < 0) throw new TemplateFault(`${c} is closed and was not opened`)
      out.push(known)
      i += sign.length
    }
  }
  if (depth > 0) throw new TemplateFault('A parenthesis is opened and not closed')
  if (!out.length) throw new TemplateFault('Nothing stands between the braces')
  if (out.length > 400) throw new TemplateFault('This has too many words; split it')
  return out.join(' ').replaceAll(' . ', '.')
}

const parser = () =>
  new Parser(
    new Lexer({ isIdentifierStart: (c) => letter.test(c), isIdentifierContinue: (c) => letter.test(c) || digit.test(c) }),
    () => () => null,
    { csp: true, literals: { true: true, false: false, null: null } },
  ) as unknown as { parse: (text: string) => { ast: { body: { expression: Expression }[] } } }

const kept = new Map<string, Expression>()

/** Reads an expression. Only what is listed in `Expression` is let through: nothing is called, nothing is set. Throws `TemplateFault`. */
export function readExpression(source: string): Expression {
  const before = kept.get(source)
  if (before) return before
  const text = translated(source)
  let body: { expression: Expression }[]
  try {
    body = parser().parse(text).ast.body
  } catch {
    throw new TemplateFault(
      `“${source.trim()}” cannot be read. A field looks like client.name, a condition like fee > 500 and not client.is_person`,
    )
  }
  if (body.length !== 1) throw new TemplateFault('Only one thing may stand between the braces')
  const read = admitted(body[0]!.expression, 0)
  if (kept.size > 2000) kept.clear()
  kept.set(source, read)
  return read
}

/** Every kind of node that a template may use, and no other. */
function admitted(e: Expression, depth: number): Expression {
  if (depth > deepest * 3) throw new TemplateFault('This is nested too deeply')
  const inner = (x: Expression) => void admitted(x, depth + 1)
  switch (e.type) {
    case 'Literal':
    case 'Identifier':
      break
    case 'MemberExpression':
      if (e.computed || e.property.type !== 'Identifier') throw new TemplateFault('Write fields with a dot, like client.name')
      inner(e.object)
      break
    case 'ArrayExpression':
      e.elements.forEach(inner)
      break
    case 'UnaryExpression':
      inner(e.argument)
      break
    case 'LogicalExpression':
    case 'BinaryExpression':
      inner(e.left)
      inner(e.right)
      break
    case 'FilterExpression':
      e.arguments.forEach(inner)
      break
    default:
      throw new TemplateFault('Only fields, comparisons and formats may stand here')
  }
  return e
}

/** Where names are looked up: the innermost of several scopes first. */
export interface Scope {
  readonly records: readonly ValueRecord[]
  /** Told of each field that was looked up by its whole path, and what it held. */
  readonly seen?: ((path: string, value: Value) => void) | undefined
  readonly language: 'en' | 'es'
}

/** The path that an expression names, like `client.name`; null where it is more than a path. */
export const pathOf = (e: Expression): string | null =>
  e.type === 'Identifier'
    ? e.name
    : e.type === 'MemberExpression' && e.property.type === 'Identifier'
      ? joined(pathOf(e.object), e.property.name)
      : null
const joined = (a: string | null, b: string) => (a === null ? null : `${a}.${b}`)

function lookUp(name: string, scope: Scope): Value {
  for (let i = scope.records.length - 1; i >= 0; i -= 1) if (Object.hasOwn(scope.records[i]!, name)) return scope.records[i]![name]!
  return null
}

/** What an expression is worth. Amounts count in cents; what cannot be worked out is nothing, never an error. */
export function evaluate(e: Expression, scope: Scope): Value {
  switch (e.type) {
    case 'Literal':
      return e.value
    case 'Identifier':
    case 'MemberExpression': {
      const found = walk(e, scope)
      const path = pathOf(e)
      if (path) scope.seen?.(path, found)
      return found
    }
    case 'ArrayExpression':
      return e.elements.map((x) => evaluate(x, scope))
    case 'UnaryExpression': {
      const v = evaluate(e.argument, scope)
      if (e.operator === '!') return !holds(v)
      return e.operator === '-' ? (isMoney(v) ? money(-v.cents) : typeof v === 'number' ? -v : null) : v
    }
    case 'LogicalExpression': {
      const left = holds(evaluate(e.left, scope))
      // Both sides are looked at, so that what a template asks for does not hang on the order of the words.
      const right = holds(evaluate(e.right, scope))
      return e.operator === '&&' ? left && right : left || right
    }
    case 'BinaryExpression':
      return binary(e.operator, evaluate(e.left, scope), evaluate(e.right, scope))
    case 'FilterExpression': {
      const [first, ...rest] = e.arguments.map((a) => evaluate(a, scope))
      const format = formatNamed(e.callee.name)
      return format ? format.show(first ?? null, rest.map(plain), scope.language) : plain(first)
    }
  }
}

function walk(e: Expression, scope: Scope): Value {
  if (e.type === 'Identifier') return lookUp(e.name, scope)
  return e.type === 'MemberExpression' && e.property.type === 'Identifier'
    ? fieldOf(walk(e.object, scope), e.property.name)
    : evaluate(e, scope)
}

const order: Record<string, (n: number) => boolean> = { '<': (n) => n < 0, '>': (n) => n > 0, '<=': (n) => n <= 0, '>=': (n) => n >= 0 }

function binary(operator: string, a: Value, b: Value): Value {
  if (operator === '==') return same(a, b)
  if (operator === '!=') return !same(a, b)
  if (operator === '===') return isIn(a, b)
  if (operator === '!==') return !isIn(a, b)
  const judged = order[operator]
  if (judged) {
    if (isEmpty(a) || isEmpty(b)) return false
    const n = compare(a, b)
    return n !== null && judged(n)
  }
  return sum(operator, a, b)
}

/** Sums of amounts and numbers; an amount times a number is an amount, rounded half up. Texts are put together by +. */
function sum(operator: string, a: Value, b: Value): Value {
  if (isList(a) || isList(b) || isRecord(a) || isRecord(b)) return null
  if (operator === '+' && (typeof a === 'string' || typeof b === 'string')) return plain(a) + plain(b)
  const n = (v: Value) => (isMoney(v) ? v.cents : typeof v === 'number' ? v : null)
  const [x, y] = [n(a), n(b)]
  if (x === null || y === null) return null
  const both = isMoney(a) && isMoney(b)
  const either = isMoney(a) || isMoney(b)
  const scaled = (v: Value, k: number) => (isMoney(v) ? k : either ? k * 100 : k)
  const amount = (k: number) => (Number.isFinite(k) && Math.abs(k) < Number.MAX_SAFE_INTEGER ? (either ? money(Math.round(k)) : k) : null)
  if (operator === '+') return amount(scaled(a, x) + scaled(b, y))
  if (operator === '-') return amount(scaled(a, x) - scaled(b, y))
  if (operator === '*') return both ? null : amount(x * y)
  if (operator === '/') return y === 0 ? null : both ? x / y : isMoney(b) ? null : amount(x / y)
  return null
}
