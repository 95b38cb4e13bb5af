import { preBills } from '../billing'
import { matterIdsByWords } from '../matters'
import { nextOwnDate } from '../docket'
import { lastCheck } from '../ledger'
import { contactScope, matterScope } from '../platform/access'
import { may, type Ctx } from '../platform/context'
import { literal, row, rows } from '../platform/database'
import { timersOf } from '../time'
import { sum } from '@heron/core/money'
import { stuckCount } from './background'

/** What the waterline shows of the reader's day. */
export async function waterline(ctx: Ctx) {
  const m = ctx.db.manager
  const today = ctx.clock.today()
  const records = may(ctx.actor, 'time.record')
  const own = await row<{ today: number; drafts: number; goal: number }>(
    m,
    `SELECT COALESCE((SELECT SUM(minutes) FROM time_entry WHERE user_id = ? AND day = ? AND state <> 'reversed'), 0) AS today,
            (SELECT COUNT(*) FROM time_entry WHERE user_id = ? AND state = 'draft') AS drafts, (SELECT day_goal_minutes FROM user_account WHERE id = ?) AS goal`,
    [ctx.actor.id, today, ctx.actor.id, ctx.actor.id],
  )
  const books = may(ctx.actor, 'trust.post')
    ? await row<{ n: number }>(
        m,
        `SELECT (SELECT COUNT(*) FROM deposit_sheet WHERE state = 'draft') + (SELECT COUNT(*) FROM payment_out WHERE state = 'draft') AS n`,
      )
    : null
  const check = may(ctx.actor, 'trust.see') ? await lastCheck(ctx) : null
  return {
    timer: records ? ((await timersOf(ctx))[0] ?? null) : null,
    todayMinutes: own!.today,
    goalMinutes: own!.goal,
    next: may(ctx.actor, 'docket.see') ? await nextOwnDate(ctx) : null,
    drafts: own!.drafts + (books?.n ?? 0),
    trust: check && { at: check.at, ok: check.ok },
  }
}

type Found = { kind: 'matter' | 'person' | 'paper' | 'bill'; id: number; title: string; hint: string }

/** Matters, people, papers and bills by a few letters; only what the reader may see. */
export async function find(ctx: Ctx, q: string): Promise<Found[]> {
  const m = ctx.db.manager
  const term = q.trim()
  if (term.length < 2) return []
  const like = `%${literal(term)}%`
  const words = matterIdsByWords(term)
  const scope = matterScope(ctx.actor)
  const matters =
    words && may(ctx.actor, 'matters.see')
      ? await rows<Found>(
          m,
          `SELECT 'matter' AS kind, m.id, m.name AS title, CONCAT(m.number, ' · ', m.client_name, IF(m.closed_on IS NULL, '', ' · closed')) AS hint
           FROM (${words.sql}) found STRAIGHT_JOIN matter m ON m.id = found.matter_id WHERE ${scope} ORDER BY m.closed_on IS NOT NULL, m.name NOT LIKE ?, m.active_on DESC LIMIT 7`,
          [...words.values, `${literal(term)}%`],
        )
      : []
  const people = may(ctx.actor, 'people.see')
    ? await rows<Found>(
        m,
        `SELECT 'person' AS kind, c.id, c.name AS title, COALESCE((SELECT GROUP_CONCAT(k.kind ORDER BY k.kind SEPARATOR ', ') FROM contact_kind k WHERE k.contact_id = c.id), c.kind) AS hint
           FROM contact c WHERE ${contactScope(ctx.actor)} AND c.name LIKE ? ORDER BY c.name NOT LIKE ?, c.name LIMIT 5`,
        [like, `${literal(term)}%`],
      )
    : []
  const papers = may(ctx.actor, 'papers.see')
    ? await rows<Found>(
        m,
        `SELECT 'paper' AS kind, p.id, p.name AS title, m.short_name AS hint FROM paper p JOIN matter m ON m.id = p.matter_id WHERE ${matterScope(ctx.actor, 'm', 'papers')} AND p.deleted_at IS NULL AND p.name LIKE ? ORDER BY p.created_at DESC LIMIT 4`,
        [like],
      )
    : []
  const bills = may(ctx.actor, 'bills.see')
    ? await rows<Found>(
        m,
        `SELECT 'bill' AS kind, b.id, CONCAT('Bill ', b.number) AS title, m.short_name AS hint FROM bill b JOIN matter m ON m.id = b.matter_id WHERE ${matterScope(ctx.actor, 'm', 'money')} AND b.number LIKE ? ORDER BY b.id DESC LIMIT 4`,
        [like],
      )
    : []
  return [...matters, ...people, ...papers, ...bills]
}

/** What waits on the reader: pre-bills to review or to issue, sheets to post, conflicts to decide. */
export async function waiting(ctx: Ctx) {
  const m = ctx.db.manager
  const list = may(ctx.actor, 'bills.review') ? await preBills(ctx) : null
  const of = (state: string) => {
    const own = list!.filter((p) => p.state === state)
    return { count: own.length, total: sum(own.map((p) => p.total)) }
  }
  const sheets = may(ctx.actor, 'trust.post')
    ? await row<{ n: number }>(m, `SELECT COUNT(*) AS n FROM deposit_sheet WHERE state = 'draft'`)
    : null
  const enquiries = may(ctx.actor, 'people.see')
    ? await row<{ n: number }>(
        m,
        `SELECT COUNT(*) AS n FROM enquiry e JOIN contact c ON c.id = e.contact_id WHERE e.state = 'open' AND e.owner_id = ? AND e.next_on <= ? AND ${contactScope(ctx.actor)}`,
        [ctx.actor.id, ctx.clock.today()],
      )
    : null
  const given = await row<{ n: number }>(
    m,
    `SELECT COUNT(*) AS n FROM task t LEFT JOIN matter m ON m.id = t.matter_id WHERE t.assigned_by = ? AND t.assignee_id <> ? AND t.done_at IS NULL AND t.due_on < ? AND (m.id IS NULL OR (m.closed_on IS NULL AND ${matterScope(ctx.actor)}))`,
    [ctx.actor.id, ctx.actor.id, ctx.clock.today()],
  )
  const conflicts = may(ctx.actor, 'matters.open')
    ? await row<{ n: number }>(
        m,
        `SELECT COUNT(DISTINCT m.id) AS n FROM conflict_hit h JOIN conflict_check k ON k.id = h.check_id JOIN matter m ON m.id = k.matter_id WHERE h.decision IS NULL AND m.closed_on IS NULL AND m.lead_id = ? AND ${matterScope(ctx.actor)}`,
        [ctx.actor.id],
      )
    : null
  return {
    preBills: list && of('review'),
    approved: list && may(ctx.actor, 'bills.issue') ? of('approved') : null,
    sheets: sheets?.n ?? null,
    conflicts: conflicts?.n ?? 0,
    enquiries: enquiries?.n ?? 0,
    given: given!.n,
    stuck: may(ctx.actor, 'firm.set-up') ? await stuckCount(ctx) : 0,
  }
}
