import type { CourtCalendar, Day, TraceStep } from '../calendar'
import type { RuleSet } from './rule-set'
import type { EntryMark } from './standing'
import type { Proposal } from './work-out'

/** Something that happened in a matter, or is expected to, from which dates are counted. */
export interface Trigger {
  id: number
  kind: string
  /** The firm's own words, in the titles of its dates; may be empty. */
  label: string
  day: Day
  service: string | null
  tentative: boolean
  /** The earlier trigger that this one answers: the set to which a response was served. */
  answersId: number | null
}

/** A date on the docket as far as counting is concerned. */
export interface Entry {
  id: number
  /** Null for a date of its own, which no rule gave and no change of a trigger moves. */
  triggerId: number | null
  /** Key of the deadline in the rule set; null with `triggerId`. */
  key: string | null
  day: Day
  beforeRoll: Day | null
  /** Who fixed the day: the rule, the firm by hand, or the court. */
  setBy: 'rule' | 'hand' | 'court'
  /** Whether what is counted from this date follows the day set by hand or court, rather than the rule's. */
  chainFollows: boolean
  /** What the rule gives, where the day is not the rule's. */
  ruleDay: Day | null
  mark: EntryMark
  /** The day on which it was done, where it is met; null where that was not said. What is counted from it runs from here. */
  metOn: Day | null
  leftOut: boolean
  provisional: boolean
  tentative: boolean
  howCounted: string
  trace: TraceStep[]
}

/** All that counting needs to know of one matter. */
export interface Docket {
  triggers: Trigger[]
  entries: Entry[]
  /** Facts of the matter that hold. */
  facts: string[]
}

export interface DocketRules {
  ruleSet: RuleSet
  calendar: CourtCalendar
  /**
   * Counts made already by these very rules, where an act looks at many dockets: events of one kind, day and service give the
   * same dates on every matter that knows the same of what they count from.
   */
  counts?: Map<string, Proposal[]>
}

/** For dates that were set otherwise than their rule gives, by id: whether what is counted from them follows the day set. */
export type ChainChoices = Readonly<Record<number, boolean>>

/**
 * One act on a docket. `extend` fixes one date and `meet` says when one was done; everything else changes what dates are
 * counted from.
 */
export type DocketAct = DocketActOnly & { chains?: ChainChoices }
type DocketActOnly =
  | { kind: 'add'; trigger: Trigger; facts?: string[] }
  | { kind: 'change'; triggerId: number; day: Day; tentative: boolean; service: string | null; label: string }
  | { kind: 'remove'; triggerId: number }
  | { kind: 'facts'; facts: string[] }
  | {
      kind: 'extend'
      entryId: number
      day: Day
      by: 'hand' | 'court'
      chainFollows: boolean
      /** The sum that gave the day, in words. */ sum?: string | undefined
    }
  | { kind: 'meet'; entryId: number; day: Day }
  /** The rules or the court's calendar are no longer what they were; nothing of the matter changed. */
  | { kind: 'recount' }

/**
 * What an act does to one entry: it `moves`; it is `recounted`, staying on its day while the count, or whether it is
 * tentative or provisional, changes; it `goes` with its trigger; it `closes`, being answered; it `comes in` or `drops out` with
 * a fact of the matter; or it is `kept`, and what the rule now gives is shown.
 */
export interface Difference {
  entryId: number
  effect: 'moves' | 'recounted' | 'goes' | 'closes' | 'comes in' | 'drops out' | 'kept'
  /** Why a kept date stays. */
  because: 'set by hand' | 'set by the court' | 'met' | 'waived' | 'vacated' | null
  was: Day
  /** The new day; for a kept date what the rule would give; null where the date goes, or no leg can be counted. */
  becomes: Day | null
  entry: Entry
}
