import type { Part, Right } from '@heron/contract'
import { areas, gather, type Subject } from './area'
import { contactScope, matterScope } from './access'
import { may, type Ctx } from './context'

/** What one must be allowed at all to see a part of a matter, whatever was granted on it. */
const rightOf: Record<Part, Right> = {
  file: 'matters.see',
  docket: 'docket.see',
  papers: 'papers.see',
  money: 'bills.see',
  trust: 'trust.see',
}
const list = (words: readonly string[]) => words.map((w) => `'${w}'`).join(', ')
/**
 * What an act of the log may be about, as the areas say it. Log, notices, Today and the log of the firm all read it from here: what is
 * not listed does not compile, and is shown to nobody.
 */
export const subjects = (): Record<string, Subject> => Object.assign({}, ...areas().map((a) => a.acts)) as Record<string, Subject>

/** Condition on `audit_log l` of a matter `m`: acts on parts that the reader may see, and no others. */
export function actsOpenTo(ctx: Ctx): string {
  const all = Object.entries(subjects())
  const open = (Object.keys(rightOf) as Part[])
    .filter((part) => may(ctx.actor, rightOf[part]))
    .map(
      (part) => `(l.subject IN (${list(all.filter(([, s]) => s.part === part).map(([k]) => k))}) AND ${matterScope(ctx.actor, 'm', part)})`,
    )
  const money = `l.kind NOT IN (${list(gather((a) => a.moneyActs))})`
  return `(${open.join(' OR ') || 'FALSE'}) AND ${may(ctx.actor, 'bills.see') ? `(${money} OR ${matterScope(ctx.actor, 'm', 'money')})` : money}`
}

/** Condition on `audit_log l`, and its matter `m` where it has one: all that the reader may see of the log of the firm. */
export function logOpenTo(ctx: Ctx): string {
  const all = Object.entries(subjects())
  const own = `l.user_id = ${Number(ctx.actor.id)}`
  const beyond = all.filter(([, s]) => s.beyond !== 'contact' && s.beyond !== 'author' && may(ctx.actor, s.beyond)).map(([k]) => k)
  const contact = `(l.subject = 'contact' AND ${may(ctx.actor, 'people.see')} AND EXISTS (SELECT 1 FROM contact c WHERE c.id = l.subject_id AND (c.merged_into IS NOT NULL AND c.private_to IS NULL OR ${contactScope(ctx.actor, 'c')})))`
  return `(CASE WHEN l.matter_id IS NULL THEN ${own} OR ${contact}${beyond.length ? ` OR l.subject IN (${list(beyond)})` : ''} ELSE ${matterScope(ctx.actor)} AND ${actsOpenTo(ctx)} END)`
}
