import type { Part, Right } from '@heron/contract'
import { contactScope, matterScope } from './access'
import { may, type Ctx } from './context'

/** Who sees an act that belongs to no matter: whoever has the right, and its author. */
type Beyond = Right | 'contact' | 'author'
interface Subject {
  /** The part of a matter that such an act belongs to; null where it never belongs to one. */
  part: Part | null
  beyond: Beyond
}

/**
 * What an act of the log may be about. Log, notices, Today and the log of the firm all read it from here: what is not listed
 * does not compile, and is shown to nobody.
 */
export const subjects = {
  matter: { part: 'file', beyond: 'firm.set-up' },
  task: { part: 'file', beyond: 'author' },
  procedure: { part: 'file', beyond: 'author' },
  note: { part: 'file', beyond: 'author' },
  enquiry: { part: 'file', beyond: 'matters.open' },
  // A check names parties of matters from which others may be screened: it is its author's, like its record.
  'conflict check': { part: 'file', beyond: 'author' },
  contact: { part: 'file', beyond: 'contact' },
  fields: { part: 'file', beyond: 'firm.set-up' },
  user: { part: 'file', beyond: 'firm.set-up' },
  'docket entry': { part: 'docket', beyond: 'author' },
  trigger: { part: 'docket', beyond: 'author' },
  calendar: { part: 'docket', beyond: 'firm.set-up' },
  report: { part: 'docket', beyond: 'firm.set-up' },
  paper: { part: 'papers', beyond: 'author' },
  time: { part: 'money', beyond: 'author' },
  cost: { part: 'money', beyond: 'author' },
  'pre-bill': { part: 'money', beyond: 'author' },
  bill: { part: 'money', beyond: 'author' },
  payment: { part: 'money', beyond: 'author' },
  'payment out': { part: 'trust', beyond: 'trust.see' },
  'deposit sheet': { part: 'trust', beyond: 'trust.see' },
  receipt: { part: 'trust', beyond: 'trust.see' },
  ledger: { part: 'trust', beyond: 'trust.see' },
  journal: { part: 'money', beyond: 'books.see' },
  account: { part: null, beyond: 'firm.set-up' },
  firm: { part: null, beyond: 'firm.set-up' },
  fee: { part: null, beyond: 'firm.set-up' },
  'practice area': { part: null, beyond: 'firm.set-up' },
  'procedure definition': { part: null, beyond: 'firm.set-up' },
  'rule set': { part: null, beyond: 'firm.set-up' },
  'court closure': { part: null, beyond: 'firm.set-up' },
  import: { part: null, beyond: 'firm.set-up' },
  backup: { part: null, beyond: 'firm.set-up' },
} as const satisfies Record<string, Subject>
export type ActSubject = keyof typeof subjects

/** What one must be allowed at all to see a part of a matter, whatever was granted on it. */
const rightOf: Record<Part, Right> = {
  file: 'matters.see',
  docket: 'docket.see',
  papers: 'papers.see',
  money: 'bills.see',
  trust: 'trust.see',
}
/** Acts on a file that tell an amount of money. */
const moneyKinds = ['billed', 'paid', 'received', 'pre-bill', 'approved']
const list = (words: readonly string[]) => words.map((w) => `'${w}'`).join(', ')
const all = Object.entries(subjects) as [ActSubject, Subject][]

/** Condition on `audit_log l` of a matter `m`: acts on parts that the reader may see, and no others. */
export function actsOpenTo(ctx: Ctx): string {
  const open = (Object.keys(rightOf) as Part[])
    .filter((part) => may(ctx.actor, rightOf[part]))
    .map(
      (part) => `(l.subject IN (${list(all.filter(([, s]) => s.part === part).map(([k]) => k))}) AND ${matterScope(ctx.actor, 'm', part)})`,
    )
  const money = `l.kind NOT IN (${list(moneyKinds)})`
  return `(${open.join(' OR ') || 'FALSE'}) AND ${may(ctx.actor, 'bills.see') ? `(${money} OR ${matterScope(ctx.actor, 'm', 'money')})` : money}`
}

/** Condition on `audit_log l`, and its matter `m` where it has one: all that the reader may see of the log of the firm. */
export function logOpenTo(ctx: Ctx): string {
  const own = `l.user_id = ${Number(ctx.actor.id)}`
  const beyond = all.filter(([, s]) => s.beyond !== 'contact' && s.beyond !== 'author' && may(ctx.actor, s.beyond)).map(([k]) => k)
  const contact = `(l.subject = 'contact' AND ${may(ctx.actor, 'people.see')} AND EXISTS (SELECT 1 FROM contact c WHERE c.id = l.subject_id AND (c.merged_into IS NOT NULL AND c.private_to IS NULL OR ${contactScope(ctx.actor, 'c')})))`
  return `(CASE WHEN l.matter_id IS NULL THEN ${own} OR ${contact}${beyond.length ? ` OR l.subject IN (${list(beyond)})` : ''} ELSE ${matterScope(ctx.actor)} AND ${actsOpenTo(ctx)} END)`
}
