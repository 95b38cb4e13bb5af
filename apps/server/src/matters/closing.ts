import type { Day } from '@heron/core/calendar'
import { counted, agreeing } from '@heron/core/words'
import type { EntityManager } from 'typeorm'
import { requireKept, requireMatter } from '../platform/access'
import { areas, gather, type OpenEnd } from '../platform/area'
import { audit } from '../platform/audit'
import type { Ctx } from '../platform/context'
import { work } from '../platform/database'
import { fieldFault, refused } from '../platform/problem'
import { Matter } from '../platform/shared-entities'
import { anyOn, lockMatter } from './file-queries'

/** What the areas still have open on it: what blocks comes first. */
async function findings(m: EntityManager, ctx: Ctx, id: number): Promise<OpenEnd[]> {
  const list: OpenEnd[] = []
  for (const own of areas()) for (const found of (await own.openEnds?.(m, ctx, id)) ?? []) if (found) list.push(found)
  return [...list.filter((f) => f.blocks), ...list.filter((f) => !f.blocks)]
}

/** What is still open on a matter, each to be settled or accepted before it is closed. */
export async function closing(ctx: Ctx, id: number): Promise<OpenEnd[]> {
  await requireMatter(ctx.db.manager, ctx, id)
  return findings(ctx.db.manager, ctx, id)
}

/** Closes a matter: its dates leave all calendars and the file goes to the archive. */
export function closeMatter(ctx: Ctx, id: number, input: { day: Day; note: string; accepted: string[] }): Promise<void> {
  return work(ctx, async (m) => {
    const matter = await requireKept(m, ctx, id)
    if (matter.closedOn) throw refused('matter-closed', 'This matter is closed already.')
    if (input.day < matter.openedOn || input.day > ctx.clock.today()) throw fieldFault('day', 'Give a day between the opening and today')
    await lockMatter(m, id)
    const open = await findings(m, ctx, id)
    const block = open.find((f) => f.blocks)
    if (block) throw refused('closing-blocked', block.text)
    const asked = open.find((f) => !input.accepted.includes(f.key))
    if (asked) throw refused('closing-asks', `${asked.text}. Settle it, or tick that it may stay.`)
    for (const own of areas()) await own.atClosing?.(m, ctx, id)
    await m.update(Matter, id, { closedOn: input.day, closingNote: input.note })
    await audit(m, ctx, {
      kind: 'closed',
      text: `Matter closed${input.note ? `: ${input.note}` : ''}`,
      matterId: id,
      subject: 'matter',
      subjectId: id,
      detail: { was: {}, became: { accepted: open.map((f) => f.text).join('; ') } },
    })
  })
}

/** Reopens a matter. Dates still ahead come back to the calendars; those that passed meanwhile stay off them. */
export function reopenMatter(ctx: Ctx, id: number, reason: string): Promise<{ dates: number }> {
  return work(ctx, async (m) => {
    const matter = await requireKept(m, ctx, id)
    if (!matter.closedOn) throw refused('matter-open', 'This matter is open.')
    let dates = 0
    for (const own of areas()) dates += (await own.atReopening?.(m, ctx, { id, closedOn: matter.closedOn })) ?? 0
    await m.update(Matter, id, { closedOn: null, closingNote: '', activeOn: ctx.clock.today() })
    await audit(m, ctx, {
      kind: 'reopened',
      text: `Matter reopened: ${reason}; ${counted(dates, 'date')} ${agreeing(dates, 'is', 'are')} back`,
      matterId: id,
      subject: 'matter',
      subjectId: id,
    })
    return { dates }
  })
}

/** Deletes a matter that never had work on it. Its number is not given out again. */
export function removeMatter(ctx: Ctx, id: number): Promise<void> {
  return work(ctx, async (m) => {
    const matter = await requireKept(m, ctx, id)
    for (const table of gather((own) => own.work))
      if (await anyOn(m, table, id)) throw refused('matter-has-work', `${matter.number} has work on it. Close it instead.`)
    for (const own of areas()) await own.removeMatter?.(m, id)
    await m.delete(Matter, { id })
    await audit(m, ctx, {
      kind: 'deleted',
      text: `Matter ${matter.number} deleted: ${matter.name}, which never had work on it`,
      subject: 'matter',
      subjectId: id,
    })
  })
}
