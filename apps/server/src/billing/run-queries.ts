import type { Day } from '@heron/core/calendar'
import type { EntityManager } from 'typeorm'
import { limit, type Paging } from '../ledger'
import { change, matterScope } from '../platform/access'
import { isoOf, type Ctx } from '../platform/context'
import { row, rows } from '../platform/database'

/** Of these matters those that the person may bill. */
export const mattersToBill = (m: EntityManager, ctx: Ctx, ids: readonly number[]) =>
  rows<{ matterId: number }>(m, `SELECT m.id AS matterId FROM matter m WHERE m.id IN (?) AND ${matterScope(ctx.actor, 'm', 'money', change)} ORDER BY m.id`, [ids]) // prettier-ignore

/** Of these pre-bills those that are not issued and that the person may issue. */
export const preBillsToIssue = (m: EntityManager, ctx: Ctx, ids: readonly number[]) =>
  rows<{ preBillId: number; matterId: number }>(
    m,
    `SELECT p.id AS preBillId, p.matter_id AS matterId FROM pre_bill p JOIN matter m ON m.id = p.matter_id WHERE p.id IN (?) AND p.state <> 'issued' AND ${matterScope(ctx.actor, 'm', 'money', change)} ORDER BY p.id`,
    [ids],
  )

/** One thing of a run, held until the end of the transaction. */
export const lockedItem = (m: EntityManager, runId: number, ordinal: number) =>
  row<{ matterId: number; preBillId: number | null; state: string }>(
    m,
    `SELECT matter_id AS matterId, pre_bill_id AS preBillId, state FROM bill_run_item WHERE run_id = ? AND ordinal = ? FOR UPDATE`,
    [runId, ordinal],
  )

/** How far a run has come, over the matters that are open to whoever asks. */
export const runCounts = async (ctx: Ctx, id: number) =>
  (await row<{ done: number; refused: number; of: number }>(
    ctx.db.manager,
    `SELECT COALESCE(SUM(i.state = 'done'), 0) AS done, COALESCE(SUM(i.state = 'refused'), 0) AS refused, COUNT(*) AS \`of\` FROM bill_run_item i JOIN matter m ON m.id = i.matter_id WHERE i.run_id = ? AND ${matterScope(ctx.actor, 'm', 'money')}`,
    [id],
  ))!

/** Bills by the pre-bills that they were issued from. */
export const billsOfPreBills = async (m: EntityManager, ids: readonly number[]) =>
  ids.length
    ? rows<{ preBillId: number; id: number; number: string }>(m, `SELECT pre_bill_id AS preBillId, id, number FROM bill WHERE pre_bill_id IN (?) ORDER BY id`, [ids]) // prettier-ignore
    : []

/** The last runs, or one: of whoever asks, or of anyone where a matter of it is open to them. */
export async function runRows(ctx: Ctx, id: number | null) {
  const list = await rows<{
    id: number
    what: 'make' | 'issue'
    day: Day
    send: number
    by: string
    beganAt: string
    endedAt: string | null
    of: number
    left: number
  }>(
    ctx.db.manager,
    `SELECT r.id, r.what, r.day, r.send, u.name AS \`by\`, r.began_at AS beganAt, r.ended_at AS endedAt,
            (SELECT COUNT(*) FROM bill_run_item i WHERE i.run_id = r.id) AS \`of\`, (SELECT COUNT(*) FROM bill_run_item i WHERE i.run_id = r.id AND i.state = 'waiting') AS \`left\`
       FROM bill_run r JOIN user_account u ON u.id = r.user_id
      WHERE ${id === null ? 'TRUE' : `r.id = ${Number(id)}`} AND (r.user_id = ? OR EXISTS (SELECT 1 FROM bill_run_item i JOIN matter m ON m.id = i.matter_id WHERE i.run_id = r.id AND ${matterScope(ctx.actor, 'm', 'money')}))
      ORDER BY r.id DESC LIMIT 30`,
    [ctx.actor.id],
  )
  return list.map((r) => ({ ...r, send: Boolean(r.send), beganAt: isoOf(r.beganAt), endedAt: r.endedAt && isoOf(r.endedAt) }))
}

/** What became of each matter of a run, a page of it. */
export async function runItems(ctx: Ctx, id: number, f: Paging & { state: string }) {
  const where = `FROM bill_run_item i JOIN matter m ON m.id = i.matter_id WHERE i.run_id = ? AND ${matterScope(ctx.actor, 'm', 'money')} ${f.state === 'all' ? '' : 'AND i.state = ?'}`
  const values = f.state === 'all' ? [id] : [id, f.state]
  const list = await rows<{
    ordinal: number
    matterId: number
    matter: string
    number: string
    preBillId: number | null
    state: 'waiting' | 'done' | 'refused'
    words: string
  }>(
    ctx.db.manager,
    `SELECT i.ordinal, i.matter_id AS matterId, m.name AS matter, m.number, i.pre_bill_id AS preBillId, i.state, i.words ${where} ORDER BY i.state = 'refused' DESC, i.ordinal ${limit(f)}`,
    values,
  )
  const total = await row<{ n: number }>(ctx.db.manager, `SELECT COUNT(*) AS n ${where}`, values)
  return { rows: list, total: total!.n }
}
