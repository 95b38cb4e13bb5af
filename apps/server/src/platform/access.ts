import type { Day } from '@heron/core/calendar'
import type { Arrangement } from '@heron/core/billing'
import type { EntityManager } from 'typeorm'
import type { Part } from '@heron/contract'
import type { Actor, Ctx } from './context'
import { row } from './database'
import { notFound, Problem, refused } from './problem'

/** What is granted on a part of a matter: nothing, to see it, to change it. */
export const see = 1
export const change = 2
export type Level = typeof see | typeof change

/** Work that goes across the whole firm: the clerk watches every date, the bookkeeper every account. */
const acrossTheFirm: Partial<Record<Actor['role'], readonly Part[]>> = {
  'docket clerk': ['file', 'docket', 'papers'],
  bookkeeper: ['file', 'papers', 'money', 'trust'],
}

/**
 * The one condition under which a person may see, or change, a part of a matter, as SQL on the alias of `matter`.
 * Every query that lists anything of matters carries it. Screens come first and have no exception.
 */
export function matterScope(actor: Actor, alias = 'm', part: Part = 'file', level: Level = see): string {
  const user = Number(actor.id)
  // Screens are few: as a list they cost a long list of matters nothing, where a look-up for each would.
  const unscreened = actor.screened
    ? actor.screened.length
      ? `${alias}.id NOT IN (${actor.screened.map(Number).join(', ')})`
      : 'TRUE'
    : `NOT EXISTS (SELECT 1 FROM matter_screen ms WHERE ms.matter_id = ${alias}.id AND ms.user_id = ${user})`
  const onTeam = `EXISTS (SELECT 1 FROM matter_team mt WHERE mt.matter_id = ${alias}.id AND mt.user_id = ${user} AND mt.at_${part} >= ${level})`
  if (actor.role === 'outside lawyer') return `(${unscreened} AND ${onTeam})`
  if (acrossTheFirm[actor.role]?.includes(part)) return unscreened
  return `(${unscreened} AND (${alias}.staff_${part} >= ${level} OR ${onTeam}))`
}

/** Private contacts are their author's alone; a record merged into another is no longer listed. */
export function contactScope(actor: Actor, alias = 'c'): string {
  return `(${alias}.merged_into IS NULL AND (${alias}.private_to IS NULL OR ${alias}.private_to = ${Number(actor.id)}))`
}

/** The name of a contact as the reader may see it, as SQL: a private one's is its author's alone, wherever it stands. */
export const nameFor = (actor: Actor, alias = 'c') =>
  `IF(${alias}.private_to IS NULL OR ${alias}.private_to = ${Number(actor.id)}, ${alias}.name, IF(${alias}.id IS NULL, NULL, 'A private contact'))`

/** Matters that the administrator may hand over: all but those the administrator is screened from. */
export const handable = (actor: Actor) =>
  `NOT EXISTS (SELECT 1 FROM matter_screen ms WHERE ms.matter_id = m.id AND ms.user_id = ${Number(actor.id)})`

/** A matter kept to its team is named by its number alone to an administrator who is not on it. */
export const nameInHandover = (actor: Actor) =>
  `IF(${matterScope(actor)}, CONCAT(m.number, ' ', m.short_name), CONCAT(m.number, ', kept to its team'))`

export interface OpenMatter {
  id: number
  number: string
  name: string
  shortName: string
  clientId: number
  areaId: number | null
  billToId: number | null
  billing: Arrangement
  leadId: number
  kind: 'client' | 'firm' | 'practice'
  ruleSetKey: string | null
  facts: string
  openedOn: Day
  closedOn: Day | null
  version: number
}

const partNames: Record<Part, string> = {
  file: 'file',
  docket: 'docket',
  papers: 'papers',
  money: 'time and bills',
  trust: 'trust ledger',
}

/**
 * The matter, when it is there and its file is open to the actor; otherwise as if it were not there.
 * A part that is kept from someone who may see the file is refused by name, with whom to ask.
 */
export async function requireMatter(m: EntityManager, ctx: Ctx, id: number, part: Part = 'file', level: Level = see): Promise<OpenMatter> {
  const found = await row<OpenMatter & { granted: number; lead: string }>(
    m,
    `SELECT m.id, m.number, m.name, m.short_name AS shortName, m.client_id AS clientId, m.area_id AS areaId, m.bill_to_id AS billToId, m.billing,
            m.lead_id AS leadId, m.kind, m.rule_set_key AS ruleSetKey, m.facts, m.opened_on AS openedOn, m.closed_on AS closedOn, m.version,
            ${matterScope(ctx.actor, 'm', part, level)} AS granted, (SELECT name FROM user_account u WHERE u.id = m.lead_id) AS lead
       FROM matter m WHERE m.id = ? AND ${matterScope(ctx.actor)}`,
    [id],
  )
  if (!found) throw notFound('matter')
  const { granted, lead, ...matter } = found
  if (!granted)
    throw new Problem(
      403,
      'part-not-open',
      `You may not ${level === change ? 'change' : 'see'} the ${partNames[part]} of this matter. Ask ${lead}.`,
    )
  return matter
}

/** As `requireMatter`, for what is not done on a closed matter. */
export async function requireOpenMatter(m: EntityManager, ctx: Ctx, id: number, part: Part = 'file'): Promise<OpenMatter> {
  const matter = await requireMatter(m, ctx, id, part, change)
  if (matter.closedOn) throw refused('matter-closed', `${matter.number} is closed. Reopen it first.`)
  return matter
}

/** The matter, when the actor keeps it: the lead lawyer, or whoever the lead named. Keepers change access and close. */
export async function requireKept(m: EntityManager, ctx: Ctx, id: number): Promise<OpenMatter> {
  const matter = await requireMatter(m, ctx, id)
  const keeps = await row(m, `SELECT 1 FROM matter_team WHERE matter_id = ? AND user_id = ? AND keeps`, [id, ctx.actor.id])
  if (keeps) return matter
  const keepers = await row<{ names: string | null }>(
    m,
    `SELECT GROUP_CONCAT(u.name ORDER BY u.name SEPARATOR ' or ') AS names FROM matter_team t JOIN user_account u ON u.id = t.user_id WHERE t.matter_id = ? AND t.keeps AND u.active`,
    [id],
  )
  throw new Problem(
    403,
    'not-keeper',
    `Only who keeps this matter may do that. Ask ${keepers?.names ?? 'an administrator to hand it over'}.`,
  )
}

/** Whether a part of a matter is open to the actor at a level. */
export const mayPart = async (m: EntityManager, ctx: Ctx, id: number, part: Part, level: Level = see): Promise<boolean> =>
  Boolean(await row(m, `SELECT 1 FROM matter m WHERE m.id = ? AND ${matterScope(ctx.actor, 'm', part, level)}`, [id]))

/** Marks a matter as worked on, for lists by last activity. */
export async function touchMatter(m: EntityManager, ctx: Ctx, id: number): Promise<void> {
  await m.query(`UPDATE matter SET active_on = ? WHERE id = ? AND active_on < ?`, [ctx.clock.today(), id, ctx.clock.today()])
}
