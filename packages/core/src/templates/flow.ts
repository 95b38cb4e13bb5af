import { readExpression, TemplateFault, evaluate, type Expression, type Scope } from './expressions'
import { holds, isEmpty, isList, isRecord, plain, type Value, type ValueRecord } from './values'

/** A part of a document as docxtemplater hands it to its modules. */
export interface Part {
  type: string
  module?: string
  value: string
  position?: string
  tag?: string
  lIndex?: number
  offset?: number
  location?: string
  inverted?: boolean
  expandTo?: string
  text?: boolean
  raw?: string
}

/** What stands between two braces. */
export type Tag =
  | { kind: 'value'; expression: string }
  | { kind: 'if' | 'else if'; condition: string }
  | { kind: 'else' }
  | { kind: 'for'; name: string; list: string }
  | { kind: 'end'; of: 'if' | 'for' | null }

const squeezed = (t: string) => t.replaceAll(/\s+/g, ' ').trim()

/** Reads a tag by its first words. The rest of it is not judged here. */
export function readTag(raw: string): Tag {
  const t = squeezed(raw)
  const low = t.toLowerCase()
  if (low === 'else' || low === 'otherwise') return { kind: 'else' }
  if (low === 'end' || low === 'end if' || low === 'end for' || low === 'endif' || low === 'endfor')
    return { kind: 'end', of: low.endsWith('if') ? 'if' : low.endsWith('for') ? 'for' : null }
  if (low.startsWith('if ') || low.startsWith('if(')) return { kind: 'if', condition: t.slice(2).trim() }
  if (low.startsWith('else if ') || low.startsWith('else if(')) return { kind: 'else if', condition: t.slice(7).trim() }
  if (low.startsWith('for each ')) {
    const rest = t.slice(9)
    const at = rest.toLowerCase().indexOf(' in ')
    if (at < 1) throw new TemplateFault('Write it like for each party in parties')
    const name = rest.slice(0, at).trim()
    if (!/^[\p{L}_][\p{L}\d_]*$/u.test(name)) throw new TemplateFault(`${name} cannot be a name: use one word of letters`)
    return { kind: 'for', name, list: rest.slice(at + 4).trim() }
  }
  return { kind: 'value', expression: t }
}

const loop = 'loop'
const elseModule = 'heron/else'
export const mark = 'heronFlow'

const starts = (p: Part, tag: string) => p.type === 'tag' && p.tag === tag && p.position === 'start'
const ends = (p: Part, tag: string) => p.type === 'tag' && p.tag === tag && p.position === 'end'

/** The element of that name that stands around a place: where it starts and ends. Null where there is none. */
function around(parts: readonly Part[], at: number, tag: string): [number, number] | null {
  let depth = 0
  let from = at
  for (; from >= 0; from -= 1) {
    if (ends(parts[from]!, tag)) depth += 1
    else if (starts(parts[from]!, tag) && depth-- === 0) break
  }
  if (from < 0) return null
  depth = 0
  for (let to = at; to < parts.length; to += 1) {
    if (starts(parts[to]!, tag)) depth += 1
    else if (ends(parts[to]!, tag) && depth-- === 0) return [from, to]
  }
  return null
}

/** Whether nothing but this tag is said within the element. */
const alone = (parts: readonly Part[], [from, to]: [number, number], at: number) =>
  parts
    .slice(from, to)
    .every(
      (p, i) => from + i === at || (p.type !== 'placeholder' && !(p.type === 'content' && p.position === 'insidetag' && p.value.trim())),
    )

interface Open {
  kind: 'if' | 'for'
  /** Conditions so far; the next branch holds only where none of them does. */
  before: string[]
  elsewhere: boolean
  part: Part
}

/** Faults of blocks, each with the tag at which it stands. */
export interface FlowFault {
  text: string
  offset: number
  raw: string
}

/**
 * A module of docxtemplater that knows *if*, *else if*, *else* and *for each* in words. Branches become blocks of their own, each
 * with the conditions before it denied; elements that hold nothing but such words are marked, so that they can be taken away.
 */
export class FlowModule {
  readonly name = 'HeronFlow'
  readonly priority = 100
  readonly faults: FlowFault[] = []

  optionsTransformer(options: object, doc: { modules: { name: string; prefix?: unknown }[] }) {
    // Raw XML from a record could be anything; no tag may put it in.
    for (const m of doc.modules) if (m.name === 'RawXmlModule') m.prefix = '\u0001'
    return options
  }

  parse(raw: string): Part | null {
    let tag: Tag
    try {
      tag = readTag(raw)
    } catch {
      // Told with its place when the tags are judged.
      return null
    }
    const block = { type: 'placeholder', module: loop, location: 'start', inverted: false, expandTo: 'auto' }
    if (tag.kind === 'if') return { ...block, value: `if ${tag.condition}` }
    if (tag.kind === 'for') return { ...block, value: `for each ${tag.name} in ${tag.list}` }
    if (tag.kind === 'end') return { type: 'placeholder', module: loop, location: 'end', value: '', raw }
    if (tag.kind === 'else' || tag.kind === 'else if') return { type: 'placeholder', module: elseModule, value: squeezed(raw) }
    return null
  }

  postparse(parts: Part[]): Part[] {
    if (!parts.some((p) => p.module === elseModule || (p.module === loop && p.location))) return parts
    const marked = parts.map((p) => p)
    parts.forEach((p, i) => {
      if (p.module !== elseModule && !(p.module === loop && p.location)) return
      const paragraph = around(parts, i, 'w:p')
      if (paragraph) {
        const start = marked[paragraph[0]]!
        if (!start.value.includes(mark)) marked[paragraph[0]] = { ...start, value: start.value.replace('<w:p', `<w:p ${mark}="1"`) }
      }
    })
    return this.branched(marked)
  }

  private branched(parts: Part[]): Part[] {
    const open: Open[] = []
    const put: { from: number; to: number; parts: Part[] }[] = []
    parts.forEach((p, i) => {
      if (p.module === loop && p.location === 'start') {
        const tag = p.value.startsWith('if ') ? 'if' : 'for'
        open.push({ kind: tag, before: tag === 'if' ? [p.value.slice(3)] : [], elsewhere: false, part: p })
      } else if (p.module === loop && p.location === 'end') {
        const was = open.pop()
        const of = p.raw === undefined || p.raw.startsWith('/') ? null : safely(p.raw)
        if (was && of && of !== was.kind)
          this.fault(p, `This ends ${of === 'if' ? 'an if' : 'a for each'}, but ${was.part.value} is open here`)
      } else if (p.module === elseModule) {
        const inner = open.at(-1)
        if (inner?.kind !== 'if') return this.fault(p, `${p.value} stands outside of any if`)
        if (inner.elsewhere) return this.fault(p, `${p.value} comes after the else of its if`)
        const tag = readTag(p.value)
        const denied = inner.before.map((c) => `not (${c})`)
        const value = `if ${tag.kind === 'else if' ? [...denied, `(${tag.condition})`].join(' and ') : denied.join(' and ')}`
        if (tag.kind === 'else if') inner.before.push(tag.condition)
        else inner.elsewhere = true
        const ending: Part = { ...p, module: loop, location: 'end', value: '' }
        const beginning: Part = { ...p, module: loop, location: 'start', inverted: false, expandTo: 'auto', value }
        const whole = [around(parts, i, 'w:tr'), around(parts, i, 'w:p')].find((e) => e && alone(parts, e, i))
        if (whole) {
          const of = (one: Part) => parts.slice(whole[0], whole[1] + 1).map((x) => (x === p ? one : { ...x }))
          put.push({ from: whole[0], to: whole[1], parts: [...of(ending), ...of(beginning)] })
        } else put.push({ from: i, to: i, parts: [ending, beginning] })
      }
    })
    const out: Part[] = []
    let at = 0
    for (const piece of put) {
      out.push(...parts.slice(at, piece.from), ...piece.parts)
      at = piece.to + 1
    }
    return [...out, ...parts.slice(at)]
  }

  private fault(p: Part, text: string) {
    this.faults.push({ text, offset: p.offset ?? 0, raw: p.raw ?? p.value })
  }
}

function safely(raw: string): 'if' | 'for' | null {
  const tag = readTag(raw)
  return tag.kind === 'end' ? tag.of : null
}

/** How docxtemplater asks what a tag is worth: the truth of a condition, the items of a list, the text of a value. */
export function reader(
  language: 'en' | 'es',
  seen?: (path: string, value: Value, how: 'value' | 'condition' | 'list', inItem: boolean) => void,
) {
  return (source: string) => {
    const tag = readTag(source)
    const inner =
      tag.kind === 'value'
        ? tag.expression
        : tag.kind === 'for'
          ? tag.list
          : tag.kind === 'if' || tag.kind === 'else if'
            ? tag.condition
            : ''
    // Read at once, so that what cannot be read is told when the template is checked, with its place.
    const expression: Expression | null = tag.kind === 'end' || tag.kind === 'else' ? null : readExpression(inner)
    return {
      get(_scope: unknown, context: { scopeList: ValueRecord[]; meta?: { part?: { module?: string } } }): unknown {
        if (!expression) return ''
        const older = tag.kind === 'value' && context.meta?.part?.module === loop
        // What has a word for where there is nothing need not be asked.
        const spare = expression.type === 'FilterExpression' && expression.callee.name === 'otherwise'
        const how = tag.kind === 'value' && !older && !spare ? 'value' : tag.kind === 'for' ? 'list' : 'condition'
        const scope: Scope = {
          records: context.scopeList,
          language,
          seen:
            seen &&
            ((path, value) =>
              seen(
                path,
                value,
                how,
                context.scopeList.some((r) => r !== context.scopeList[0] && Object.hasOwn(r, path.split('.')[0]!)),
              )),
        }
        const value = evaluate(expression, scope)
        if (tag.kind === 'for') return items(value, tag.name)
        if (older) return isList(value) ? items(value, null) : holds(value)
        return tag.kind === 'if' ? holds(value) : plain(value)
      },
    }
  }
}

/** The items of a list, each with its own name and its place. Items without anything in them are left out. */
function items(value: Value, name: string | null): ValueRecord[] {
  const all = isList(value) ? value.filter((v) => !isEmpty(v)) : isEmpty(value) ? [] : [value]
  return all.map((item, i) => ({
    ...(name === null && isRecord(item) ? item : {}),
    ...(name === null ? {} : { [name]: item }),
    first: i === 0,
    last: i === all.length - 1,
    number: i + 1,
    count: all.length,
  }))
}
