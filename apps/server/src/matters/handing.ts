import { presetOfRole } from '@heron/contract'
import { IsNull, type EntityManager } from 'typeorm'
import type { HandingOver } from '../platform/area'
import type { Ctx } from '../platform/context'
import { locked, touched } from '../platform/database'
import { refused } from '../platform/problem'
import { MatterTeam } from './entities'
import { Matter, UserAccount } from '../platform/shared-entities'
import { joinAs, leadsHeld, leaveTeam, lockedPlace, numberOf, type Stood, teamsHeld } from './team-queries'

const joinTeam = (m: EntityManager, ctx: Ctx, matterId: number, userId: number, role: string, from: number) =>
  joinAs(m, ctx, userId, role, matterId, from)

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
      const before = await lockedPlace(m, subjectId, toId)
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
      if (was.joined) await leaveTeam(m, h.subjectId, h.toId)
      return true
    },
  }
}

/** Matters that someone leads. */
export const leadHandedOver: HandingOver = {
  ...place('lead'),
  order: 3,
  held: (m, ctx, userId) => leadsHeld(m, ctx, userId),
}

/** Places on the teams of matters that someone else leads. */
export const teamHandedOver: HandingOver = {
  ...place('team'),
  order: 4,
  held: (m, ctx, userId) => teamsHeld(m, ctx, userId),
}
