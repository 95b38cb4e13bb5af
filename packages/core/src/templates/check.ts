import type PizZip from 'pizzip'
import { allFields, nearestName, olderNames, type FieldSpec, type SpecType } from './catalogue'
import { compiled, paragraphsOf, wordFieldsIn, textParts } from './docx'
import { readExpression, TemplateFault, type Expression } from './expressions'
import { readTag, type FlowFault } from './flow'
import { formatNamed, formats } from './formats'
import { readMoney } from '../money'
import { readWrittenDay } from './values'

/** What is wrong with a template, with the words of the paragraph where it stands. */
export interface CheckFault {
  text: string
  words: string
  /** Which paragraph of which part, from 1; 0 where it cannot be told. */
  paragraph: number
  part: 'text' | 'header' | 'footer' | 'notes'
}
export interface CheckResult {
  faults: CheckFault[]
  /** Paths of the fields that it uses, each once. */
  uses: string[]
  wordFields: { name: string; tied: string | null }[]
}

interface Tag {
  type: string
  module?: string
  value: string
  offset?: number
  subparsed?: Tag[]
}

const partOf = (name: string): CheckFault['part'] =>
  name.includes('header') ? 'header' : name.includes('footer') ? 'footer' : name.includes('notes') ? 'notes' : 'text'

/**
 * Judges a template before it may be used: fields that are not known, with the nearest that is; blocks and quotes that are not
 * closed; comparisons of what cannot be compared; formats. `tied` says which of our fields stand for Word's merge fields.
 */
export function checkTemplate(zip: PizZip, tree: readonly FieldSpec[], tied: Readonly<Record<string, string>> = {}): CheckResult {
  const names = textParts(zip)
  const paragraphs = paragraphsOf(zip, names)
  const known = allFields(tree)
  const paths = known.map((k) => k.path)
  const faults: CheckFault[] = []
  const place = (file: string, offset: number): Pick<CheckFault, 'words' | 'paragraph' | 'part'> => {
    const mine = paragraphs.filter((p) => p.part === file)
    const at = mine.findLastIndex((p) => p.from <= offset && p.text !== '')
    return { words: (mine[at]?.text ?? '').slice(0, 200), paragraph: at + 1, part: partOf(file) }
  }
  const wordFields = wordFieldsIn(zip).map((name) => ({ name, tied: tied[name] || tieFor(name, paths) }))
  for (const f of wordFields)
    if (!f.tied)
      faults.push({ text: `The merge field ${f.name} is not tied to a field of the record`, words: '', paragraph: 0, part: 'text' })
  let inspected: ReturnType<typeof compiled>
  try {
    inspected = compiled(zip, 'en')
  } catch (error) {
    for (const e of faultsOf(error)) faults.push({ text: e.text, ...place(e.file || 'word/document.xml', e.offset) })
    return { faults, uses: [], wordFields }
  }
  const uses = new Set<string>()
  const file = (name: string) => {
    const judge = new Judge(tree, paths, uses, (text, offset) => faults.push({ text, ...place(name, offset) }))
    judge.tags(inspected.inspect.getStructuredTags(name) as unknown as Tag[])
  }
  for (const name of names) if ((inspected.inspect.getTemplatedFiles() as unknown as string[]).includes(name)) file(name)
  for (const f of inspected.flow.faults as FlowFault[]) faults.push({ text: f.text, ...place('word/document.xml', f.offset) })
  return { faults, uses: [...uses], wordFields }
}

/** The field that a merge field of that name most likely means: the same letters, whatever stands between them. */
export function tieFor(name: string, paths: readonly string[]): string | null {
  const bare = (t: string) => t.toLowerCase().replaceAll(/[^a-z\d]/g, '')
  return paths.find((p) => bare(p) === bare(name)) ?? (olderNames[name.toLowerCase()] || null)
}

interface DocError {
  message: string
  properties?: {
    id?: string
    errors?: DocError[]
    offset?: number | number[]
    xtag?: string
    file?: string
    explanation?: string
    rootError?: Error
    openingtag?: string
    closingtag?: string
  }
}

function faultsOf(error: unknown): { text: string; offset: number; file: string }[] {
  const e = error as DocError
  const inner = e.properties?.errors
  if (inner?.length) return inner.flatMap(faultsOf)
  const { offset = 0, xtag = '', file = '', rootError } = e.properties ?? {}
  const at = Array.isArray(offset) ? (offset[0] ?? 0) : offset
  const said: Record<string, string> = {
    unclosed_tag: `{${xtag} is opened and not closed. Put } at its end`,
    unopened_tag: `${xtag}} is closed and was not opened. Put { before it`,
    duplicate_open_tag: `{{${xtag.replaceAll('{', '')} has two braces at its start. Use one`,
    duplicate_close_tag: `${xtag.replaceAll('}', '')}}} has two braces at its end. Use one`,
    unclosed_loop: `{${xtag}} is opened and not closed. Put {end} after what it holds`,
    unopened_loop: `{${xtag || 'end'}} stands without an if or for each before it`,
    closing_tag_does_not_match_opening_tag: `{${e.properties?.closingtag ?? xtag}} does not end {${e.properties?.openingtag ?? ''}}`,
    unbalanced_loop_tags: `{${xtag}} is opened in one place of a table or text and closed in another that does not match`,
    loop_position_invalid: `{${xtag}} and its end must stand in the same table or text`,
  }
  const text =
    rootError instanceof TemplateFault
      ? rootError.message
      : (said[e.properties?.id ?? ''] ??
        (e.properties?.id ? `${e.properties.explanation ?? e.message}` : 'This document cannot be read as DOCX. Save it anew'))
  return [{ text, offset: at, file }]
}

type Kind = SpecType | 'any'
interface Typed {
  kind: Kind
  spec?: FieldSpec | undefined
  literal?: string | number | boolean | null
}
type Frame = Readonly<Record<string, FieldSpec>>

const placeSpecs: readonly FieldSpec[] = [
  { name: 'first', label: 'Is the first', type: 'yes/no' },
  { name: 'last', label: 'Is the last', type: 'yes/no' },
  { name: 'number', label: 'Its place, from 1', type: 'number' },
  { name: 'count', label: 'How many there are', type: 'number' },
]
const framed = (fields: readonly FieldSpec[]): Frame => Object.fromEntries(fields.map((f) => [f.name, f]))

/** Walks the tags of one part, with what each name means where it stands. */
class Judge {
  private readonly root: Frame
  private readonly older: Frame
  constructor(
    tree: readonly FieldSpec[],
    private readonly paths: readonly string[],
    private readonly uses: Set<string>,
    private readonly fault: (text: string, offset: number) => void,
  ) {
    this.root = framed(tree)
    this.older = Object.fromEntries(
      Object.entries(olderNames).flatMap(([old, path]) => {
        const [head, tail] = path.split('.') as [string, string]
        const spec = this.root[head]?.fields?.find((f) => f.name === tail)
        return spec ? [[old, spec]] : []
      }),
    )
  }

  tags(all: readonly Tag[], frames: readonly Frame[] = []) {
    for (const tag of all) {
      if (tag.type !== 'placeholder') continue
      const offset = tag.offset ?? 0
      try {
        this.tag(tag, frames, offset)
      } catch (error) {
        if (!(error instanceof TemplateFault)) throw error
        this.fault(error.message, offset)
      }
    }
  }

  private tag(tag: Tag, frames: readonly Frame[], offset: number) {
    const read = readTag(tag.value)
    const judge = (source: string) => this.typeOf(readExpression(source), frames, offset)
    const inner = (next: readonly Frame[]) => this.tags(tag.subparsed ?? [], next)
    if (read.kind === 'for') {
      const of = judge(read.list)
      if (of.kind !== 'list' && of.kind !== 'any') this.fault(`${read.list} is not a list, so there is nothing to go through`, offset)
      inner([...frames, { ...framed(placeSpecs), [read.name]: itemOf(of, read.name) }])
    } else if (read.kind === 'if' || read.kind === 'else if') {
      judge(read.condition)
      inner(frames)
    } else if (read.kind === 'value') {
      const of = judge(read.expression)
      if (tag.subparsed) inner(of.kind === 'list' ? [...frames, { ...framed(placeSpecs), ...framed(of.spec?.fields ?? []) }] : frames)
    }
  }

  private typeOf(e: Expression, frames: readonly Frame[], at: number): Typed {
    switch (e.type) {
      case 'Literal':
        return {
          kind: e.value === null ? 'any' : typeof e.value === 'number' ? 'number' : typeof e.value === 'boolean' ? 'yes/no' : 'text',
          literal: e.value,
        }
      case 'ArrayExpression':
        for (const x of e.elements) this.typeOf(x, frames, at)
        return { kind: 'list' }
      case 'Identifier':
      case 'MemberExpression':
        return this.field(e, frames, at)
      case 'UnaryExpression': {
        const of = this.typeOf(e.argument, frames, at)
        return e.operator === '!' ? { kind: 'yes/no' } : of
      }
      case 'LogicalExpression':
        this.typeOf(e.left, frames, at)
        this.typeOf(e.right, frames, at)
        return { kind: 'yes/no' }
      case 'BinaryExpression':
        return this.binary(e.operator, this.typeOf(e.left, frames, at), this.typeOf(e.right, frames, at), at)
      case 'FilterExpression': {
        const [first] = e.arguments.map((a) => this.typeOf(a, frames, at))
        return this.format(e.callee.name, first ?? { kind: 'any' }, at)
      }
    }
  }

  private field(e: Expression, frames: readonly Frame[], at: number): Typed {
    const steps: string[] = []
    let head: Expression = e
    while (head.type === 'MemberExpression') {
      steps.unshift((head.property as { name: string }).name)
      head = head.object
    }
    if (head.type !== 'Identifier') {
      this.typeOf(head, frames, at)
      return { kind: 'any' }
    }
    const name = head.name
    const own = frames.findLast((f) => Object.hasOwn(f, name))?.[name]
    let spec = own ?? this.root[name] ?? this.older[name]
    let path = name
    if (!spec) return this.unknown([name, ...steps].join('.'), at, frames)
    for (const step of steps) {
      if (spec.type === 'list' && (step === 'count' || step === 'length')) return { kind: 'number' }
      if (spec.type === 'list') throw new TemplateFault(`${path} is a list. Go through it with for each, or use ${path}.count`)
      const next: FieldSpec | undefined = spec.fields?.find((f) => f.name === step)
      if (!next) return this.unknown(`${path}.${step}`, at, frames, spec.fields)
      spec = next
      path += `.${step}`
    }
    if (!own) this.uses.add(olderNames[path] ?? path)
    return { kind: spec.type, spec }
  }

  private unknown(path: string, at: number, frames: readonly Frame[], siblings?: readonly FieldSpec[]): Typed {
    const [head, tail] = [path.slice(0, path.lastIndexOf('.')), path.slice(path.lastIndexOf('.') + 1)]
    const near = siblings?.length ? nearestName(tail, siblings.map((s) => s.name)) : null // prettier-ignore
    const local = frames.flatMap((f) => Object.entries(f).flatMap(([k, s]) => [k, ...(s.fields ?? []).map((x) => `${k}.${x.name}`)]))
    const found = near ? `${head}.${near}` : nearestName(path, [...local, ...this.paths])
    this.fault(`There is no field ${path}${found ? `. Did you mean ${found}?` : ''}`, at)
    return { kind: 'any' }
  }

  private binary(operator: string, a: Typed, b: Typed, at: number): Typed {
    if (['+', '-', '*', '/', '%'].includes(operator)) {
      const bad = [a, b].find((x) => !['money', 'number', 'any'].includes(x.kind))
      if (bad && !(operator === '+' && (a.kind === 'text' || b.kind === 'text')))
        this.fault(`${showKind(bad.kind)} cannot be worked with in a sum`, at)
      if (operator === '%') this.fault('Remainders are not worked out in templates', at)
      return {
        kind:
          operator === '/' && a.kind === 'money' && b.kind === 'money'
            ? 'number'
            : a.kind === 'money' || b.kind === 'money'
              ? 'money'
              : a.kind === 'text' || b.kind === 'text'
                ? 'text'
                : 'number',
      }
    }
    if (operator === '===' || operator === '!==') {
      if (b.kind !== 'list' && b.kind !== 'text' && b.kind !== 'any')
        this.fault(`In needs a list on its right, such as ["a", "b"], not ${showKind(b.kind)}`, at)
    } else {
      const wrong = misfit(a, b) ?? misfit(b, a)
      if (wrong) this.fault(wrong, at)
      else if (!['==', '!='].includes(operator) && ['yes/no', 'list', 'record'].includes(a.kind))
        this.fault(`${showKind(a.kind)} is not more or less than anything. Use = or <>`, at)
    }
    return { kind: 'yes/no' }
  }

  private format(name: string, of: Typed, at: number): Typed {
    const format = formatNamed(name)
    const shown = name.replaceAll('_', ' ')
    if (!format) {
      const near = nearestName(shown, formats.map((f) => f.name)) // prettier-ignore
      this.fault(`There is no format ${shown}${near ? `. Did you mean ${near}?` : ''}`, at)
    } else if (of.kind !== 'any' && format.takes.length && !format.takes.includes(of.kind as 'text')) {
      const readable =
        (format.takes.includes('day') && of.kind === 'text' && typeof of.literal === 'string' && readWrittenDay(of.literal)) ||
        (of.kind === 'record' && format.takes.includes('text'))
      if (!readable)
        this.fault(`The format ${shown} is for ${format.takes.map((t) => kinds[t]).join(' or ')}, not for ${showKind(of.kind)}`, at)
    }
    return { kind: 'text' }
  }
}

function itemOf(of: Typed, name: string): FieldSpec {
  const fields = of.spec?.fields
  return fields?.length ? { name, label: name, type: 'record', fields } : { name, label: name, type: 'text' }
}

const kinds: Record<SpecType, string> = {
  text: 'a text',
  number: 'a number',
  money: 'an amount',
  day: 'a date',
  'yes/no': 'a yes or no',
  list: 'a list',
  record: 'a record',
}
const showKind = (k: Kind) => (k === 'any' ? 'this' : kinds[k])

/** Why one side cannot be compared with the other; null where it can. */
function misfit(a: Typed, b: Typed): string | null {
  if (a.kind === 'any' || b.kind === 'any' || a.literal !== undefined) return null
  const literal = typeof b.literal === 'string' ? b.literal : null
  if (a.kind === 'money')
    return b.kind === 'money' || b.kind === 'number' || (literal !== null && readMoney(literal) !== null)
      ? null
      : `An amount cannot be compared with ${literal === null ? showKind(b.kind) : `“${literal}”`}`
  if (a.kind === 'number')
    return ['money', 'number'].includes(b.kind) || (literal !== null && literal.trim() !== '' && Number.isFinite(Number(literal)))
      ? null
      : `A number cannot be compared with ${literal === null ? showKind(b.kind) : `“${literal}”`}`
  if (a.kind === 'day')
    return b.kind === 'day' || (literal !== null && readWrittenDay(literal))
      ? null
      : `A date cannot be compared with ${literal === null ? showKind(b.kind) : `“${literal}”. Write it like “2026-11-27”`}`
  if (a.kind === 'yes/no')
    return b.kind === 'yes/no' || (literal !== null && ['yes', 'no', 'true', 'false'].includes(literal.toLowerCase()))
      ? null
      : `A yes or no cannot be compared with ${literal === null ? showKind(b.kind) : `“${literal}”`}`
  if (a.kind === 'list') return `A list cannot be compared. Write “x” in the list, or use its count`
  const choices = a.spec?.choices
  if (literal && choices?.length && !choices.some((c) => c.toLowerCase() === literal.toLowerCase())) {
    const near = nearestName(literal, choices)
    return `“${literal}” is not in the list of ${a.spec!.label}${near ? `. Did you mean “${near}”?` : ''}`
  }
  return b.kind === 'list' ? 'Write in, not =, to look in a list' : null
}
