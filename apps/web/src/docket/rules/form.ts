import type { Roll, Unit } from '@heron/core/calendar'
import type { Base, Leg, RuleDeadline, Weight } from '@heron/core/docket'

export interface LegForm {
  count: string
  unit: Unit
  direction: 'after' | 'before'
  /** `trigger`, `event KEY`, `final KEY` or `before-roll KEY`. */
  base: string
  roll: Roll
}
export const blankLeg = (): LegForm => ({ count: '7', unit: 'day', direction: 'after', base: 'trigger', roll: 'default' })

const baseText = (b: Base) => (b.kind === 'trigger' ? 'trigger' : b.kind === 'event' ? `event ${b.key}` : `${b.moment} ${b.key}`)
function readBase(text: string): Base {
  const [kind, key = ''] = text.split(' ')
  if (kind === 'trigger') return { kind }
  return kind === 'event' ? { kind, key } : { kind: 'deadline', key, moment: kind as 'final' | 'before-roll' }
}

/** A deadline as the form holds it. */
export function formOf(d: RuleDeadline | null, practice: boolean) {
  return {
    title: d?.title ?? '',
    text: d?.text ?? '',
    cite: d?.authority.cite ?? (practice ? 'Firm practice' : ''),
    link: d?.authority.link ?? '',
    weight: d?.weight ?? ((practice ? 'firm practice' : 'rule') as Weight),
    legs: (d?.legs ?? [])
      .map((l): LegForm => ({ ...l, count: String(l.count), base: baseText(l.base) }))
      .concat(
        // What a firm sets itself mostly lies before an event.
        d ? [] : [{ ...blankLeg(), direction: practice ? 'before' : 'after' }],
      ),
    combine: d?.combine ?? ('earliest' as const),
    serviceExtends: d?.serviceExtends ?? false,
    filing: d?.filing ?? false,
    fact: d?.appliesWhen ? `${d.appliesWhen.not ? '-' : '+'}${d.appliesWhen.fact}` : '',
    provisionalUntil: d?.provisionalUntil ?? '',
    from: d?.inForce?.from ?? null,
    to: d?.inForce?.to ?? null,
  }
}

/** The deadline that a form describes; what is wrong with it the server tells. */
export function readForm(f: ReturnType<typeof formOf>, trigger: string): Omit<RuleDeadline, 'key'> {
  const legs = f.legs.map((l): Leg => {
    const count = l.count.trim() === '' ? NaN : Number(l.count)
    return { base: readBase(l.base), count, unit: l.unit, direction: l.direction, roll: l.roll }
  })
  return {
    trigger,
    title: f.title.trim(),
    text: f.text.trim(),
    authority: { cite: f.cite.trim(), ...(f.link.trim() ? { link: f.link.trim() } : {}) },
    weight: f.weight,
    legs,
    ...(legs.length > 1 ? { combine: f.combine } : {}),
    serviceExtends: f.serviceExtends,
    ...(f.filing ? { filing: true } : {}),
    ...(f.fact ? { appliesWhen: { fact: f.fact.slice(1), not: f.fact.startsWith('-') } } : {}),
    ...(f.provisionalUntil ? { provisionalUntil: f.provisionalUntil } : {}),
    ...(f.from || f.to ? { inForce: { ...(f.from ? { from: f.from } : {}), ...(f.to ? { to: f.to } : {}) } } : {}),
  }
}
