import type { EntityManager } from 'typeorm'
import type { Actor, Ctx } from './context'
import { row } from './database'
import { notFound } from './problem'

/**
 * The one condition under which a person may see a matter, as SQL on the alias of `matter`.
 * Every query that lists anything of matters carries it. Screens come first and have no exception.
 */
export function matterScope(actor: Actor, alias = 'm'): string {
  const user = Number(actor.id)
  const unscreened = `NOT EXISTS (SELECT 1 FROM matter_screen ms WHERE ms.matter_id = ${alias}.id AND ms.user_id = ${user})`
  const onTeam = `EXISTS (SELECT 1 FROM matter_team mt WHERE mt.matter_id = ${alias}.id AND mt.user_id = ${user})`
  if (actor.role === 'outside lawyer') return `(${unscreened} AND ${onTeam})`
  // The docket clerk watches every date and the bookkeeper every account, also of matters kept to their team.
  if (actor.role === 'docket clerk' || actor.role === 'bookkeeper') return unscreened
  return `(${unscreened} AND (${alias}.access = 'firm' OR ${onTeam}))`
}

/** Private contacts are their author's alone. */
export function contactScope(actor: Actor, alias = 'c'): string {
  return `(${alias}.private_to IS NULL OR ${alias}.private_to = ${Number(actor.id)})`
}

export interface OpenMatter {
  id: number
  number: string
  name: string
  shortName: string
  clientId: number
  billToId: number | null
  billing: 'hourly' | 'flat'
  leadId: number
  kind: 'client' | 'firm' | 'practice'
  ruleSetKey: string | null
  facts: string
  closedOn: string | null
}

/** The matter, when it is there and open to the actor; otherwise as if it were not there. */
export async function requireMatter(m: EntityManager, ctx: Ctx, id: number): Promise<OpenMatter> {
  const found = await row<OpenMatter>(
    m,
    `SELECT m.id, m.number, m.name, m.short_name AS shortName, m.client_id AS clientId, m.bill_to_id AS billToId, m.billing,
            m.lead_id AS leadId, m.kind, m.rule_set_key AS ruleSetKey, m.facts, m.closed_on AS closedOn
       FROM matter m WHERE m.id = ? AND ${matterScope(ctx.actor)}`,
    [id],
  )
  if (!found) throw notFound('matter')
  return found
}

/** Marks a matter as worked on, for lists by last activity. */
export async function touchMatter(m: EntityManager, ctx: Ctx, id: number): Promise<void> {
  await m.query(`UPDATE matter SET active_on = ? WHERE id = ? AND active_on < ?`, [ctx.clock.today(), id, ctx.clock.today()])
}
