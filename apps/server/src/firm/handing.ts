import { presetOfRole, type Role } from '@heron/contract'
import type { EntityManager } from 'typeorm'
import { instant, type Actor, type Ctx } from '../platform/context'
import { row, run } from '../platform/database'
import { notFound, refused } from '../platform/problem'

export type What = 'lead' | 'team' | 'date' | 'task'

/** Matters that the administrator may hand over: all but those the administrator is screened from. */
export const handable = (actor: Actor) =>
  `NOT EXISTS (SELECT 1 FROM matter_screen ms WHERE ms.matter_id = m.id AND ms.user_id = ${Number(actor.id)})`

export interface Give {
  what: What
  subjectId: number
  toId: number
}

export const matterOf = (m: EntityManager, g: Pick<Give, 'what' | 'subjectId'>) =>
  row<{ matterId: number | null; number: string | null }>(
    m,
    g.what === 'date'
      ? `SELECT d.matter_id AS matterId, m.number FROM docket_entry d JOIN matter m ON m.id = d.matter_id WHERE d.id = ?`
      : g.what === 'task'
        ? `SELECT t.matter_id AS matterId, m.number FROM task t LEFT JOIN matter m ON m.id = t.matter_id WHERE t.id = ?`
        : `SELECT id AS matterId, number FROM matter WHERE id = ?`,
    [g.subjectId],
  )

const joinTeam = (m: EntityManager, ctx: Ctx, matterId: number, userId: number, role: string, from: number) =>
  run(
    m,
    `INSERT IGNORE INTO matter_team (matter_id, user_id, role, keeps, rate, since, at_file, at_docket, at_papers, at_money, at_trust)
      SELECT matter_id, ?, ?, FALSE, NULL, ?, GREATEST(at_file, 1), at_docket, at_papers, at_money, at_trust FROM matter_team WHERE matter_id = ? AND user_id = ?`,
    [userId, role, ctx.clock.today(), matterId, from],
  )

interface Stood {
  role: string
  keeps: number
  file: number
  docket: number
  papers: number
  money: number
  trust: number
}

/** Hands one thing over and says how it was, so that it can be given back. */
export async function give(m: EntityManager, ctx: Ctx, userId: number, g: Give, stays: boolean): Promise<object> {
  const of = await matterOf(m, g)
  if (!of) throw notFound('matter, date or task')
  if (of.matterId) {
    if (!(await row(m, `SELECT 1 FROM matter m WHERE m.id = ? AND ${handable(ctx.actor)}`, [of.matterId]))) throw notFound('matter')
    const screened = await row<{ name: string }>(
      m,
      `SELECT u.name FROM matter_screen s JOIN user_account u ON u.id = s.user_id WHERE s.matter_id = ? AND s.user_id = ?`,
      [of.matterId, g.toId],
    )
    if (screened)
      throw refused('screened', `${screened.name} cannot be given work on ${of.number}. Choose someone else; nothing was handed over.`)
  }
  if (g.what === 'task') {
    if (
      !(await run(m, `UPDATE task SET assignee_id = ? WHERE id = ? AND assignee_id = ? AND done_at IS NULL`, [g.toId, g.subjectId, userId]))
    )
      throw refused('changed-meanwhile', 'One of the tasks has changed meanwhile. Look at the list again.')
    return {}
  }
  if (g.what === 'date') {
    if (!(await run(m, `UPDATE docket_entry SET responsible_id = ? WHERE id = ? AND responsible_id = ?`, [g.toId, g.subjectId, userId])))
      throw refused('changed-meanwhile', 'One of the dates has changed meanwhile. Look at the list again.')
    await m.query(
      `INSERT INTO docket_history (entry_id, at, user_id, what, was, became, why) SELECT ?, ?, ?, 'handed over', a.name, b.name, '' FROM user_account a, user_account b WHERE a.id = ? AND b.id = ?`,
      [g.subjectId, instant(ctx.clock.now()), ctx.actor.id, userId, g.toId],
    )
    return {}
  }
  const was = await row<{ role: string; keeps: number }>(
    m,
    `SELECT role, keeps FROM matter_team WHERE matter_id = ? AND user_id = ? FOR UPDATE`,
    [g.subjectId, userId],
  )
  if (!was) throw refused('changed-meanwhile', 'One of the teams has changed meanwhile. Look at the list again.')
  // How the stand-in stood before, with all that was granted, so that it can be so again.
  const before = await row<Stood>(
    m,
    `SELECT role, keeps, at_file AS file, at_docket AS docket, at_papers AS papers, at_money AS money, at_trust AS trust FROM matter_team WHERE matter_id = ? AND user_id = ? FOR UPDATE`,
    [g.subjectId, g.toId],
  )
  const joined = await joinTeam(m, ctx, g.subjectId, g.toId, g.what === 'lead' ? 'lead' : was.role, userId)
  if (g.what === 'lead') {
    if (!(await run(m, `UPDATE matter SET lead_id = ? WHERE id = ? AND lead_id = ?`, [g.toId, g.subjectId, userId])))
      throw refused('changed-meanwhile', 'One of the matters has another lead meanwhile. Look at the list again.')
    await run(
      m,
      `UPDATE matter_team SET role = 'lead', keeps = TRUE, at_file = 2, at_docket = 2, at_papers = 2, at_money = 2, at_trust = 2 WHERE matter_id = ? AND user_id = ?`,
      [g.subjectId, g.toId],
    )
    await run(m, `UPDATE matter_team SET role = 'lawyer' WHERE matter_id = ? AND user_id = ?`, [g.subjectId, userId])
  }
  if (!stays) await run(m, `DELETE FROM matter_team WHERE matter_id = ? AND user_id = ?`, [g.subjectId, userId])
  return { role: was.role, keeps: Boolean(was.keeps), joined: Boolean(joined), before }
}

export async function nameOf(m: EntityManager, h: { what: What; subjectId: number }) {
  const sql = {
    task: `SELECT text AS t FROM task WHERE id = ?`,
    date: `SELECT title AS t FROM docket_entry WHERE id = ?`,
    lead: `SELECT number AS t FROM matter WHERE id = ?`,
    team: `SELECT number AS t FROM matter WHERE id = ?`,
  }[h.what]
  return (await row<{ t: string }>(m, sql, [h.subjectId]))?.t ?? 'something deleted'
}

export async function giveBack(
  m: EntityManager,
  userId: number,
  h: { what: What; subjectId: number; toId: number; was: string },
): Promise<boolean> {
  if (h.what === 'task')
    return (
      (await run(m, `UPDATE task SET assignee_id = ? WHERE id = ? AND assignee_id = ? AND done_at IS NULL`, [
        userId,
        h.subjectId,
        h.toId,
      ])) > 0
    )
  if (h.what === 'date')
    return (
      (await run(m, `UPDATE docket_entry SET responsible_id = ? WHERE id = ? AND responsible_id = ? AND mark IN ('open', 'in hand')`, [
        userId,
        h.subjectId,
        h.toId,
      ])) > 0
    )
  const was = JSON.parse(h.was) as { role: string; keeps: boolean; joined: boolean; before: Partial<Stood> | null }
  if (h.what === 'lead') {
    if (!(await run(m, `UPDATE matter SET lead_id = ? WHERE id = ? AND lead_id = ? AND closed_on IS NULL`, [userId, h.subjectId, h.toId])))
      return false
    await run(m, `UPDATE matter_team SET role = 'lead', keeps = TRUE WHERE matter_id = ? AND user_id = ?`, [h.subjectId, userId])
    // The lead's rights go back with the lead: to what the stand-in had, or to what is usual for who stays on with work.
    const who = await row<{ role: Role }>(m, `SELECT role FROM user_account WHERE id = ?`, [h.toId])
    const usual = { role: 'lawyer', keeps: 0, ...presetOfRole[who?.role ?? 'lawyer'] }
    const back = { ...usual, ...(was.joined ? {} : was.before) }
    await run(
      m,
      `UPDATE matter_team SET role = ?, keeps = ?, at_file = ?, at_docket = ?, at_papers = ?, at_money = ?, at_trust = ? WHERE matter_id = ? AND user_id = ?`,
      [back.role, back.keeps, back.file, back.docket, back.papers, back.money, back.trust, h.subjectId, h.toId],
    )
  }
  // Whoever came onto the team only to stand in leaves it again, unless work of theirs still lies there.
  if (was.joined)
    await run(
      m,
      `DELETE FROM matter_team WHERE matter_id = ? AND user_id = ? AND NOT EXISTS (SELECT 1 FROM task t WHERE t.matter_id = matter_team.matter_id AND t.assignee_id = matter_team.user_id AND t.done_at IS NULL)`,
      [h.subjectId, h.toId],
    )
  return true
}
