import { presetOfRole, type TeamRole } from '@heron/contract'
import { IsNull, type EntityManager } from 'typeorm'
import { handable, nameInHandover } from '../platform/access'
import type { HandingOver } from '../platform/area'
import type { Ctx } from '../platform/context'
import { locked, touched, row, rows, run } from '../platform/database'
import { refused } from '../platform/problem'
import { MatterTeam } from './entities'
import { Matter, UserAccount } from '../platform/shared-entities'

const joinTeam = (m: EntityManager, ctx: Ctx, matterId: number, userId: number, role: string, from: number) =>
  run(
    m,
    `INSERT IGNORE INTO matter_team (matter_id, user_id, role, keeps, rate, since, at_file, at_docket, at_papers, at_money, at_trust)
      SELECT matter_id, ?, ?, FALSE, NULL, ?, GREATEST(at_file, 1), at_docket, at_papers, at_money, at_trust FROM matter_team WHERE matter_id = ? AND user_id = ?`,
    [userId, role, ctx.clock.today(), matterId, from],
  )

interface Stood {
  role: TeamRole
  keeps: boolean
  file: number
  docket: number
  papers: number
  money: number
  trust: number
}

const numberOf = (m: EntityManager, id: number) =>
  row<{ matterId: number; number: string }>(m, `SELECT id AS matterId, number FROM matter WHERE id = ?`, [id])

/** A place on a team, the lead's among them: how both stood is kept, so that it can be so again. */
function place(what: 'lead' | 'team'): Pick<HandingOver, 'what' | 'matterOf' | 'nameOf' | 'give' | 'giveBack'> {
  return {
    what,
    matterOf: numberOf,
    nameOf: async (m, id) => (await numberOf(m, id))?.number ?? null,
    give: async (m, ctx, { fromId, toId, subjectId, stays }) => {
      const was = await m.findOne(MatterTeam, {
        select: { role: true, keeps: true, matterId: true, userId: true },
        where: { matterId: subjectId, userId: fromId },
        ...locked(m),
      })
      if (!was) throw refused('changed-meanwhile', 'One of the teams has changed meanwhile. Look at the list again.')
      const before = await row<Stood>(
        m,
        `SELECT role, keeps, at_file AS file, at_docket AS docket, at_papers AS papers, at_money AS money, at_trust AS trust FROM matter_team WHERE matter_id = ? AND user_id = ? FOR UPDATE`,
        [subjectId, toId],
      )
      const joined = await joinTeam(m, ctx, subjectId, toId, what === 'lead' ? 'lead' : was.role, fromId)
      if (what === 'lead') {
        if (!(await touched(m.update(Matter, { id: subjectId, leadId: fromId }, { leadId: toId }))))
          throw refused('changed-meanwhile', 'One of the matters has another lead meanwhile. Look at the list again.')
        await m.update(
          MatterTeam,
          { matterId: subjectId, userId: toId },
          { role: 'lead', keeps: true, atFile: 2, atDocket: 2, atPapers: 2, atMoney: 2, atTrust: 2 },
        )
        await m.update(MatterTeam, { matterId: subjectId, userId: fromId }, { role: 'lawyer' })
      }
      if (!stays) await m.delete(MatterTeam, { matterId: subjectId, userId: fromId })
      return { role: was.role, keeps: Boolean(was.keeps), joined: Boolean(joined), before }
    },
    giveBack: async (m, h) => {
      const was = JSON.parse(h.was) as { role: string; keeps: boolean; joined: boolean; before: Partial<Stood> | null }
      if (what === 'lead') {
        if (!(await touched(m.update(Matter, { id: h.subjectId, leadId: h.toId, closedOn: IsNull() }, { leadId: h.fromId })))) return false
        await m.update(MatterTeam, { matterId: h.subjectId, userId: h.fromId }, { role: 'lead', keeps: true })
        // The lead's rights go back with the lead: to what the stand-in had, or to what is usual for who stays on with work.
        const who = await m.findOne(UserAccount, { select: { role: true, id: true }, where: { id: h.toId } })
        const usual = { role: 'lawyer' as const, keeps: false, ...presetOfRole[who?.role ?? 'lawyer'] }
        const back = { ...usual, ...(was.joined ? {} : was.before) }
        await m.update(
          MatterTeam,
          { matterId: h.subjectId, userId: h.toId },
          {
            role: back.role,
            keeps: back.keeps,
            atFile: back.file,
            atDocket: back.docket,
            atPapers: back.papers,
            atMoney: back.money,
            atTrust: back.trust,
          },
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
    },
  }
}

/** Matters that someone leads. */
export const leadHandedOver: HandingOver = {
  ...place('lead'),
  order: 3,
  held: (m, ctx, userId) =>
    rows(
      m,
      `SELECT m.id, ${nameInHandover(ctx.actor)} AS text, COALESCE(a.name, '') AS hint FROM matter m LEFT JOIN practice_area a ON a.id = m.area_id WHERE m.lead_id = ? AND m.closed_on IS NULL AND ${handable(ctx.actor)} ORDER BY m.number`,
      [userId],
    ),
}

/** Places on the teams of matters that someone else leads. */
export const teamHandedOver: HandingOver = {
  ...place('team'),
  order: 4,
  held: (m, ctx, userId) =>
    rows(
      m,
      `SELECT m.id, ${nameInHandover(ctx.actor)} AS text, t.role AS hint FROM matter_team t JOIN matter m ON m.id = t.matter_id WHERE t.user_id = ? AND m.lead_id <> t.user_id AND m.closed_on IS NULL AND ${handable(ctx.actor)} ORDER BY m.number`,
      [userId],
    ),
}
