import { Ajv, type ErrorObject } from 'ajv'
import { faultsOf, type HolidaySet, type RuleFault, type RuleSet } from '../docket'
import schema from '../docket/rule-set.schema.json' with { type: 'json' }

/** The JSON Schema of rule set files, version 1. */
export const ruleSetSchema: object = schema
const follows = new Ajv({ strict: false, allErrors: true, verbose: true, formats: { date: true } }).compile(schema)

/** `/deadlines/2/legs/0/unit` as people count: `deadlines[3] (answer) › legs[1] › unit`. */
function placeOf(path: string, whole: unknown): string {
  let at: unknown = whole
  const said: string[] = []
  for (const part of path.split('/').slice(1)) {
    at = (at as Record<string, unknown> | undefined)?.[part]
    if (!/^\d+$/.test(part)) said.push(part)
    else {
      const { key, name } = (at ?? {}) as { key?: unknown; name?: unknown }
      const called = typeof key === 'string' ? key : typeof name === 'string' ? name : ''
      said.push(`${said.pop() ?? ''}[${Number(part) + 1}]${called ? ` (${called})` : ''}`)
    }
  }
  return said.join(' › ') || 'the file'
}

function wordsOf(e: ErrorObject): string {
  const p = e.params as Record<string, unknown>
  const list = (of: unknown) => (of as unknown[]).map((v) => `“${String(v)}”`).join(', ')
  switch (e.keyword) {
    case 'required':
      return `“${String(p['missingProperty'])}” is missing`
    case 'additionalProperties':
      return `“${String(p['additionalProperty'])}” is not part of the format`
    case 'enum':
      return `It must be one of ${list(p['allowedValues'])}`
    case 'const':
      return `It must be “${String(p['allowedValue'])}”`
    case 'type':
      if (p['type'] === 'integer') return 'Give a whole number'
      return `It must be ${[p['type']].flat().join(' or ')}`
    case 'pattern':
      if (e.schemaPath.includes('/day/')) return 'Give a day like 2026-11-25'
      if (String(p['pattern']).includes('https')) return 'Give an address that begins with https:// or http://'
      return String(p['pattern']).includes('a-z') ? 'Use lower-case letters, digits and single hyphens' : 'Give an hour like 16:30'
    case 'minLength':
      return Number(p['limit']) > 1 ? `Give at least ${String(p['limit'])} letters` : 'It must not be empty'
    case 'minItems':
      return 'Give at least one'
    case 'minimum':
    case 'maximum':
      return `It must be ${e.keyword === 'minimum' ? 'at least' : 'at most'} ${String(p['limit'])}`
    default:
      return e.message ?? e.keyword
  }
}

/** Of a choice between kinds only what is wrong with the kind that was meant is told. */
function told(errors: readonly ErrorObject[]): ErrorObject[] {
  const choices = errors.filter((e) => e.keyword === 'oneOf')
  return errors.filter((e) => {
    if (e.keyword === 'oneOf') return false
    const choice = choices.find((c) => `${e.instancePath}/`.startsWith(`${c.instancePath}/`))
    if (!choice) return true
    if (e.instancePath.endsWith('/kind')) return false
    const branch = (e.parentSchema ?? {}) as { properties?: { kind?: { const?: string } } }
    const meant = (choice.data as { kind?: string } | undefined)?.kind
    return branch.properties?.kind?.const === undefined || branch.properties.kind.const === meant
  })
}

/** Who brings a file with more faults than this mends these first. */
const mostFaults = 400

/**
 * Reads a rule set from its file. Everything that is wrong with it is told, each with its place; a set is given only when
 * nothing is. `known`: holiday sets that are there without the file bringing them.
 */
export function readRuleSet(text: string, known: readonly HolidaySet[]): { set: RuleSet | null; faults: RuleFault[] } {
  let value: unknown
  try {
    value = JSON.parse(text)
  } catch (error) {
    return { set: null, faults: [{ where: 'the file', what: `It is no JSON: ${error instanceof Error ? error.message : ''}` }] }
  }
  if (!follows(value)) {
    const all = (follows.errors ?? []).slice(0, mostFaults)
    const said = told(all)
    const faults = new Map(
      (said.length ? said : all).map((e) => [
        `${e.instancePath} ${wordsOf(e)}`,
        { where: placeOf(e.instancePath, value), what: wordsOf(e) },
      ]),
    )
    return { set: null, faults: [...faults.values()] }
  }
  const { $schema: _schema, ...set } = value as unknown as RuleSet & { $schema?: string }
  const faults = faultsOf(set, known)
  return { set: faults.length ? null : set, faults }
}

/** The file of a rule set, as `readRuleSet` reads it. */
export function writeRuleSet(set: RuleSet): string {
  return `${JSON.stringify({ $schema: 'rule-set.schema.json', ...set }, null, 2)}\n`
}
