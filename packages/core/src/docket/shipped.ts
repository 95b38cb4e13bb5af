import holidays from './sets/holidays.json' with { type: 'json' }
import federal from './sets/us-federal-civil.json' with { type: 'json' }
import probate from './sets/wexmoor-probate.json' with { type: 'json' }
import superior from './sets/wexmoor-superior.json' with { type: 'json' }
import type { HolidaySet, RuleSet } from './rule-set'

/** Rule sets that ship with the application. Federal rules are real; Wexmoor is a made-up state. */
export const shippedRuleSets = [federal, superior, probate] as unknown as RuleSet[]
export const shippedHolidaySets = holidays as HolidaySet[]
