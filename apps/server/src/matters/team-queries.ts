import type { Grants, PayerIn, TeamRole } from '@heron/contract'
import { type Arrangement, sharesInWords, showFraction, toReplenish } from '@heron/core/billing'
import type { Day } from '@heron/core/calendar'
import type { EntityManager } from 'typeorm'
import { handable, matterScope, mayPart, nameInHandover, requireMatter } from '../platform/access'
import type { Held } from '../platform/area'
import { type Ctx, may } from '../platform/context'
import { row, rows, run } from '../platform/database'
import { heldOn } from '../platform/figures'
import { ContingentFee, ContingentStage, Stage } from './entities'

/** Whoever takes over joins the team with the place of whoever leaves. */
export const joinAs = (m: EntityManager, ctx: Ctx, userId: number, role: string, matterId: number, from: number) =>
  run(
    m,
    `INSERT IGNORE INTO matter_team (matter_id, user_id, role, keeps, rate, since, at_file, at_docket, at_papers, at_money, at_trust)
      SELECT matter_id, ?, ?, FALSE, NULL, ?, GREATEST(at_file, 1), at_docket, at_papers, at_money, at_trust FROM matter_team WHERE matter_id = ? AND user_id = ?`,
    [userId, role, ctx.clock.today(), matterId, from],
  )

export interface Stood {
  role: TeamRole
  keeps: boolean
  file: number
  docket: number
  papers: number
  money: number
  trust: number
}

/** A matter's number, by which it is named when its team changes. */
export const numberOf = (m: EntityManager, id: number) =>
  row<{ matterId: number; number: string }>(m, `SELECT id AS matterId, number FROM matter WHERE id = ?`, [id])

/** The place of somebody on a team, locked. */
export const lockedPlace = (m: EntityManager, subjectId: number, toId: number) =>
  row<Stood>(
    m,
    `SELECT role, keeps, at_file AS file, at_docket AS docket, at_papers AS papers, at_money AS money, at_trust AS trust FROM matter_team WHERE matter_id = ? AND user_id = ? FOR UPDATE`,
    [subjectId, toId],
  )

/** Takes somebody off a team, unless tasks of the matter are theirs. */
export const leaveTeam = (m: EntityManager, subjectId: number, toId: number) =>
  run(
    m,
    `DELETE FROM matter_team WHERE matter_id = ? AND user_id = ? AND NOT EXISTS (SELECT 1 FROM task t WHERE t.matter_id = matter_team.matter_id AND t.assignee_id = matter_team.user_id AND t.done_at IS NULL)`,
    [subjectId, toId],
  )

/** Open matters that a person leads; what whoever asks may not see is told without its name. */
export const leadsHeld = (m: EntityManager, ctx: Ctx, userId: number) =>
  rows<Held>(
    m,
    `SELECT m.id, ${nameInHandover(ctx.actor)} AS text, COALESCE(a.name, '') AS hint FROM matter m LEFT JOIN practice_area a ON a.id = m.area_id WHERE m.lead_id = ? AND m.closed_on IS NULL AND ${handable(ctx.actor)} ORDER BY m.number`,
    [userId],
  )

/** Open matters on whose team a person is. */
export const teamsHeld = (m: EntityManager, ctx: Ctx, userId: number) =>
  rows<Held>(
    m,
    `SELECT m.id, ${nameInHandover(ctx.actor)} AS text, t.role AS hint FROM matter_team t JOIN matter m ON m.id = t.matter_id WHERE t.user_id = ? AND m.lead_id <> t.user_id AND m.closed_on IS NULL AND ${handable(ctx.actor)} ORDER BY m.number`,
    [userId],
  )

const contingentOf = async (m: EntityManager, matterId: number) => {
  const head = await m.findOne(ContingentFee, { select: { feeOf: true, matterId: true }, where: { matterId } })
  if (!head) return null
  const stages = await m.find(ContingentStage, {
    select: { label: true, numerator: true, denominator: true, matterId: true, ordinal: true },
    where: { matterId },
    order: { ordinal: 'ASC' },
  })
  return { feeOf: head.feeOf, stages: stages.map((s) => ({ label: s.label, share: showFraction(s) })) }
}

/** How a matter is paid for: the arrangement and since when, its fees, and what is to be held. */
export async function arrangementOf(ctx: Ctx, matterId: number) {
  const m = ctx.db.manager
  const matter = await requireMatter(m, ctx, matterId, 'money')
  const history = await rows<{ from: string; billing: Arrangement; by: string }>(
    m,
    `SELECT a.from_day AS \`from\`, a.billing, u.name AS \`by\` FROM matter_arrangement a JOIN user_account u ON u.id = a.set_by WHERE a.matter_id = ? ORDER BY a.from_day`,
    [matterId],
  )
  const portions = await rows<{
    id: number
    label: string
    amount: number
    due: 'opening' | 'reached'
    stageId: number | null
    stage: string | null
    earnedOn: Day | null
    added: number
    billId: number | null
    bill: string | null
  }>(
    m,
    `SELECT p.id, p.label, p.amount, p.due, p.stage_id AS stageId, s.name AS stage, p.earned_on AS earnedOn, p.added, b.id AS billId, b.number AS bill
       FROM fee_portion p LEFT JOIN stage s ON s.id = p.stage_id LEFT JOIN bill b ON b.id = p.bill_id WHERE p.matter_id = ? ORDER BY p.ordinal`,
    [matterId],
  )
  const stages = await m.find(Stage, {
    select: { id: true, name: true },
    where: { areaId: matter.areaId ?? 0, retired: false },
    order: { ordinal: 'ASC' },
  })
  const retainer = await row<{ floor: number; fillTo: number; held: number }>(
    m,
    `SELECT r.floor_amount AS floor, r.fill_to AS fillTo, ${heldOn('r.matter_id')} AS held FROM matter_retainer r WHERE r.matter_id = ?`,
    [matterId],
  )
  // What is held is seen by those who see trust money.
  const seesTrust = may(ctx.actor, 'trust.see') && (await mayPart(m, ctx, matterId, 'trust'))
  return {
    billing: matter.billing,
    history,
    portions: portions.map((p) => ({ ...p, added: Boolean(p.added) })),
    stages,
    contingent: await contingentOf(m, matterId),
    retainer: retainer && {
      floor: retainer.floor,
      fillTo: retainer.fillTo,
      held: seesTrust ? retainer.held : null,
      ask: seesTrust ? toReplenish(retainer.held, retainer.floor, retainer.fillTo) : null,
    },
  }
}

/** The day from which the last arrangement counts. */
export const lastArrangement = (m: EntityManager, id: number) =>
  row<{ day: Day | null }>(m, `SELECT MAX(from_day) AS day FROM matter_arrangement WHERE matter_id = ?`, [id])

/** An arrangement from a day on; another of the same day is written over. */
export const keepArrangement = (
  m: EntityManager,
  ctx: Ctx,
  id: number,
  from: string,
  billing: 'flat' | 'hourly' | 'mixed' | 'contingency' | 'no charge' | 'grant',
) =>
  run(
    m,
    `INSERT INTO matter_arrangement (matter_id, from_day, billing, set_by) VALUES (?, ?, ?, ?) ON DUPLICATE KEY UPDATE billing = VALUES(billing), set_by = VALUES(set_by)`,
    [id, from, billing, ctx.actor.id],
  )

/** Those among whom a matter's bills are split, in order; none where whom to bill bears all. */
export async function payersOf(m: EntityManager, matterId: number) {
  const found = await rows<PayerIn & { name: string }>(
    m,
    `SELECT p.contact_id AS contactId, c.name, p.fixed, p.basis_points AS basisPoints FROM matter_payer p JOIN contact c ON c.id = p.contact_id WHERE p.matter_id = ? ORDER BY p.ordinal`,
    [matterId],
  )
  const shares = sharesInWords(found)
  return found.map((p, i) => ({ ...p, share: shares[i]! }))
}

/** A matter and how many dates it has ahead. */
export const matterAndDates = (m: EntityManager, ctx: Ctx, matterId: number) =>
  row<{ number: string; name: string; dates: number }>(
    m,
    `SELECT number, name, (SELECT COUNT(*) FROM docket_entry d WHERE d.matter_id = m.id AND d.day >= ? AND NOT d.left_out AND d.mark IN ('open', 'in hand')) AS dates FROM matter m WHERE id = ?`,
    [ctx.clock.today(), matterId],
  )

/** Somebody on the team, by name. */
export const onTeam = (m: EntityManager, matterId: number, userId: number) =>
  row<{ name: string }>(
    m,
    `SELECT u.name FROM matter_team t JOIN user_account u ON u.id = t.user_id WHERE t.matter_id = ? AND t.user_id = ?`,
    [matterId, userId],
  )

/** What staff may see of a matter, locked. */
export const lockedAccess = (m: EntityManager, matterId: number) =>
  row<Grants>(
    m,
    `SELECT staff_file AS file, staff_docket AS docket, staff_papers AS papers, staff_money AS money, staff_trust AS trust FROM matter WHERE id = ? FOR UPDATE`,
    [matterId],
  )

/** Whoever is screened is named in no note of the matter. */
export const dropMentions = (m: EntityManager, matterId: number, userId: number) =>
  run(m, `DELETE x FROM mention x JOIN note n ON n.id = x.note_id WHERE n.matter_id = ? AND x.user_id = ?`, [matterId, userId])

/** Somebody is screened; a new reason is written over the old one. */
export const keepScreen = (m: EntityManager, ctx: Ctx, matterId: number, userId: number, reason: string) =>
  run(
    m,
    `INSERT INTO matter_screen (matter_id, user_id, reason, since) VALUES (?, ?, ?, ?) ON DUPLICATE KEY UPDATE reason = VALUES(reason)`,
    [matterId, userId, reason, ctx.clock.today()],
  )

/** Somebody who is screened, by name. */
export const screenOf = (m: EntityManager, matterId: number, userId: number) =>
  row<{ name: string }>(
    m,
    `SELECT u.name FROM matter_screen s JOIN user_account u ON u.id = s.user_id WHERE s.matter_id = ? AND s.user_id = ?`,
    [matterId, userId],
  )

/** The team of a matter with what each may see and change, keepers first. */
export const teamOf = (m: EntityManager, matterId: number) =>
  rows<
    {
      userId: number
      name: string
      initials: string
      role: string
      keeps: number
      rate: number | null
      since: string
      active: number
    } & Grants
  >(
    m,
    `SELECT t.user_id AS userId, u.name, u.initials, t.role, t.keeps, t.rate, t.since, u.active, t.at_file AS file, t.at_docket AS docket, t.at_papers AS papers, t.at_money AS money, t.at_trust AS trust
       FROM matter_team t JOIN user_account u ON u.id = t.user_id WHERE t.matter_id = ? ORDER BY t.role = 'lead' DESC, t.keeps DESC, u.name`,
    [matterId],
  )

/** Every screen of the firm. Of matters kept to their team only the number; of those from which the reader is screened, no sign. */
export async function walls(ctx: Ctx) {
  const m = ctx.db.manager
  const from = `FROM matter_screen s JOIN matter m ON m.id = s.matter_id`
  const all = await row<{ n: number }>(
    m,
    `SELECT COUNT(*) AS n ${from} WHERE NOT ${matterScope(ctx.actor)} AND m.id NOT IN (SELECT o.matter_id FROM matter_screen o WHERE o.user_id = ?)`,
    [ctx.actor.id],
  )
  const found = await rows<{
    matterId: number
    number: string
    matter: string
    lead: string
    userId: number
    name: string
    active: number
    reason: string
    since: string | null
  }>(
    m,
    `SELECT m.id AS matterId, m.number, m.name AS matter, l.name AS lead, u.id AS userId, u.name, u.active, s.reason, s.since
       ${from} JOIN user_account u ON u.id = s.user_id JOIN user_account l ON l.id = m.lead_id WHERE ${matterScope(ctx.actor)} ORDER BY u.name, m.number LIMIT 5000`,
  )
  return { rows: found.map((w) => ({ ...w, active: Boolean(w.active) })), hidden: all!.n }
}

/** Those who keep a matter, beside these. */
export const keepersBeside = (m: EntityManager, ctx: Ctx, id: number, userId: number) =>
  rows<{ id: number }>(m, `SELECT user_id AS id FROM matter_team WHERE matter_id = ? AND keeps AND user_id NOT IN (?)`, [
    id,
    [ctx.actor.id, userId],
  ])
