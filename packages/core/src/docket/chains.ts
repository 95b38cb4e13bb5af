import { showDay, type Day, type TraceStep } from '../calendar'
import type { HeldBase } from './work-out'
import type { Docket, Entry, Trigger } from './docket'
import { isOpen } from './standing'

/** Who fixed a day that is not the rule's, in words. */
export const setInWords = (by: 'hand' | 'court'): string => (by === 'court' ? 'set by the court' : 'set by hand')

/**
 * The dates of one trigger that stand otherwise than their rule gives them: as met, as set by the court or by hand, left
 * out, or vacated. What is counted from them says which day was used, and why.
 */
export function heldBases(docket: Docket, trigger: Pick<Trigger, 'id'>): Record<string, HeldBase> {
  const bases: Record<string, HeldBase> = {}
  for (const e of docket.entries) {
    if (e.triggerId !== trigger.id || !e.key) continue
    if (e.leftOut) bases[e.key] = { date: null, why: 'left out of the docket', follows: false }
    else if (e.mark === 'vacated') bases[e.key] = { date: null, why: 'vacated', follows: false }
    else if (e.mark === 'met') bases[e.key] = { date: e.metOn ?? e.day, why: 'as met', follows: true }
    else if (e.setBy !== 'rule') bases[e.key] = { date: e.day, why: setInWords(e.setBy), follows: e.chainFollows }
  }
  return bases
}

/**
 * Whether what is counted from a date that was set follows that day, where nobody has chosen yet: what a court's order moved
 * carries its chain along (Fed. R. Civ. P. 26(a)(3)(B) counts from the disclosures as made), a stipulation does not.
 */
export const followsBySelf = (e: Pick<Entry, 'setBy' | 'chainFollows'>): boolean => e.chainFollows || e.setBy === 'court'

/** Whether a date stands on another day than its rule gives, so that its chain could run from either. */
export const setOtherwise = (e: Entry): boolean => e.setBy !== 'rule' && isOpen(e.mark) && !e.leftOut && e.key !== null

/** How the step begins that says why a date stays. */
const staying = /^(?:The court set it for|Set by hand for|It was) /

/** The last step of a date that stays where it is, whatever its rule gives. */
export function stayStep(e: Pick<Entry, 'day' | 'setBy' | 'mark' | 'metOn'> & { trace?: readonly TraceStep[] }, sum = ''): TraceStep {
  // What was said when it was set, such as the sum that gave the day, stays said.
  const said = e.setBy === 'rule' || sum ? undefined : e.trace?.find((t) => t.date === e.day && staying.test(t.text))
  if (said) return said
  const day = `${showDay(e.day)}${sum ? `, ${sum}` : ''}`
  const marked = isOpen(e.mark) ? '' : e.mark
  if (e.setBy !== 'rule')
    return { text: `${e.setBy === 'court' ? 'The court set it for' : 'Set by hand for'} ${day}${marked ? `; ${marked}` : ''}`, date: e.day }
  return { text: `It was ${marked}${e.metOn && e.metOn !== e.day ? ` on ${showDay(e.metOn)}` : ''} and stays on ${day}`, date: e.day }
}

/** A trace without the step that says why a date stays. */
export const withoutStay = (trace: readonly TraceStep[]): TraceStep[] => trace.filter((t) => !staying.test(t.text))

/** How a date came to its day, in one line: the count by its rule, or who set it and what the rule gives. */
export function showHow(e: { howCounted: string; setBy: Entry['setBy']; ruleDay: Day | null }): string {
  if (e.setBy === 'rule' || !e.howCounted) return e.setBy === 'rule' || e.howCounted ? e.howCounted : setInWords(e.setBy)
  return `${setInWords(e.setBy)}; by its rule, ${e.howCounted}${e.ruleDay ? `, it would be ${showDay(e.ruleDay)}` : ''}`
}
