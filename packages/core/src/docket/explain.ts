import { showDayInWords, showDay, weekdayName, type Day, type TraceStep } from '../calendar'
import type { Weight } from './rule-set'

/** One date of the docket as far as explaining it goes. */
export interface Explained {
  title: string
  text: string
  authority: string
  weight: Weight
  day: Day
  time: string | null
  dayEnds: string
  setBy: 'rule' | 'hand' | 'court'
  ruleDay: Day | null
  reason: string
  howCounted: string
  trace: readonly TraceStep[]
  provisional: boolean
  tentative: boolean
  leftOut: boolean
  mark: string
}

const weightText: Record<Weight, string> = {
  strict: 'Strict: the court cannot enlarge this time beyond what the rule itself allows.',
  rule: 'Set by rule.',
  'court order': 'Fixed by order of the court; it does not roll.',
  'firm practice': 'The firm’s own date; no rule of court asks for it.',
  appointment: 'An appointment.',
}

/**
 * One date explained as a careful clerk would write it: what is due, when and until what hour, on what authority, and each
 * step of the count with its dates. Plain text, for a letter, a note to the file, or paper.
 */
export function explainDate(e: Explained, matter: { name: string; caseNumber?: string }): string {
  const ends = e.time ? `, at ${e.time}` : e.dayEnds ? `, until ${e.dayEnds} in the court’s time zone for electronic filing` : ''
  const standing = [
    e.leftOut ? 'Left out of the docket.' : '',
    e.mark === 'open' ? '' : `Marked ${e.mark}.`,
    e.tentative ? 'Tentative: what it is counted from is expected, and not yet set.' : '',
    e.provisional ? 'Provisional: it is counted again when the act it hangs on is entered with its real date.' : '',
  ].filter(Boolean)
  const set =
    e.setBy === 'rule'
      ? ''
      : `${e.setBy === 'court' ? 'Set by the court' : 'Set by hand'}${e.reason ? `: ${e.reason}` : ''}.${e.ruleDay ? ` The rule would give ${showDay(e.ruleDay)}.` : ''}`
  const counted = e.trace.length
    ? [
        `How it is counted${e.howCounted ? `: ${e.howCounted}` : ''}`,
        ...e.trace.map((t, i) => `${i + 1}. ${t.text}${/[.!?]$/.test(t.text) ? '' : '.'}`),
      ].join('\n')
    : ''
  return [
    `${e.title}\n${matter.name}${matter.caseNumber ? `, No. ${matter.caseNumber}` : ''}`,
    `Due ${weekdayName(e.day)}, ${showDayInWords(e.day)}${ends}.`,
    [weightText[e.weight], e.authority && e.weight !== 'firm practice' ? `Authority: ${e.authority}.` : '', ...standing]
      .filter(Boolean)
      .join(' '),
    e.text,
    counted,
    set,
  ]
    .filter(Boolean)
    .join('\n\n')
}
