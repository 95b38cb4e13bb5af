import type { Day } from '@heron/core/calendar'
import type { EntityManager } from 'typeorm'
import { matterScope } from '../platform/access'
import { audit } from '../platform/audit'
import { instant, type Actor, type Ctx } from '../platform/context'
import { row, rows, run, work } from '../platform/database'
import { fieldFault, notFound, refused } from '../platform/problem'
import { sendMail } from '../platform/mail'

type What = 'lead' | 'team' | 'date' | 'task'
interface Held {
  id: number
  text: string
  hint: string
}

/** Matters that the administrator may hand over: all but those the administrator is screened from. */
const handable = (actor: Actor) =>
  `NOT EXISTS (SELECT 1 FROM matter_screen ms WHERE ms.matter_id = m.id AND ms.user_id = ${Number(actor.id)})`
/** A matter kept to its team is named by its number alone to an administrator who is not on it. */
const named = (ctx: Ctx) => `IF(${matterScope(ctx.actor)}, CONCAT(m.number, ' ', m.short_name), CONCAT(m.number, ', kept to its team'))`

async function heldBy(m: EntityManager, ctx: Ctx, userId: number): Promise<Record<What, Held[]>> {
  const today = ctx.clock.today()
  const open = `m.closed_on IS NULL AND ${handable(ctx.actor)}`
  const name = named(ctx)
  return {
    lead: await rows<Held>(
      m,
      `SELECT m.id, ${name} AS text, COALESCE(a.name, '') AS hint FROM matter m LEFT JOIN practice_area a ON a.id = m.area_id WHERE m.lead_id = ? AND ${open} ORDER BY m.number`,
      [userId],
    ),
    team: await rows<Held>(
      m,
      `SELECT m.id, ${name} AS text, t.role AS hint FROM matter_team t JOIN matter m ON m.id = t.matter_id WHERE t.user_id = ? AND m.lead_id <> t.user_id AND ${open} ORDER BY m.number`,
      [userId],
    ),
    date: await rows<Held>(
      m,
      `SELECT d.id, IF(${matterScope(ctx.actor, 'm', 'docket')}, d.title, 'A date') AS text, CONCAT(d.day, ', ', ${name}) AS hint FROM docket_entry d JOIN matter m ON m.id = d.matter_id
        WHERE d.responsible_id = ? AND d.day >= ? AND d.mark IN ('open', 'in hand') AND NOT d.left_out AND ${open} ORDER BY d.day, d.id`,
      [userId, today],
    ),
    task: await rows<Held>(
      m,
      `SELECT t.id, IF(m.id IS NULL OR (${matterScope(ctx.actor)} AND NOT t.only_named), t.text, 'A task') AS text, CONCAT_WS(', ', t.due_on, IF(m.id IS NULL, 'no matter', ${name})) AS hint FROM task t LEFT JOIN matter m ON m.id = t.matter_id
        WHERE t.assignee_id = ? AND t.done_at IS NULL AND (m.id IS NULL OR (${open})) ORDER BY t.due_on IS NULL, t.due_on, t.id`,
      [userId],
    ),
  }
}

/** What someone has that would be handed over. */
export async function holdings(ctx: Ctx, userId: number) {
  const m = ctx.db.manager
  const who = await row<{ name: string }>(m, `SELECT name FROM user_account WHERE id = ?`, [userId])
  if (!who) throw notFound('person')
  const hidden = await row<{ n: number }>(
    m,
    `SELECT COUNT(*) AS n FROM matter m WHERE m.closed_on IS NULL AND NOT ${handable(ctx.actor)} AND (m.lead_id = ? OR EXISTS (SELECT 1 FROM matter_team t WHERE t.matter_id = m.id AND t.user_id = ?))`,
    [userId, userId],
  )
  return { name: who.name, ...(await heldBy(m, ctx, userId)), hidden: hidden!.n }
}

export async function absences(ctx: Ctx) {
  const list = await rows<{
    id: number
    userId: number
    name: string
    kind: 'leave' | 'departure'
    from: Day
    to: Day | null
    ended: number
    handedOver: number
  }>(
    ctx.db.manager,
    `SELECT a.id, a.user_id AS userId, u.name, a.kind, a.from_day AS \`from\`, a.to_day AS \`to\`, a.ended_at IS NOT NULL AS ended,
            (SELECT COUNT(*) FROM handed_over h WHERE h.absence_id = a.id) AS handedOver FROM absence a JOIN user_account u ON u.id = a.user_id ORDER BY a.id DESC`,
  )
  return list.map((a) => ({ ...a, ended: Boolean(a.ended) }))
}

interface Give {
  what: What
  subjectId: number
  toId: number
}

const matterOf = (m: EntityManager, g: Pick<Give, 'what' | 'subjectId'>) =>
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

/** Hands one thing over and says how it was, so that it can be given back. */
async function give(m: EntityManager, ctx: Ctx, userId: number, g: Give, stays: boolean): Promise<object> {
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
  const joined = await joinTeam(m, ctx, g.subjectId, g.toId, g.what === 'lead' ? 'lead' : was.role, userId)
  const before = await row<{ role: string; keeps: number }>(m, `SELECT role, keeps FROM matter_team WHERE matter_id = ? AND user_id = ?`, [
    g.subjectId,
    g.toId,
  ])
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

/** Hands over what someone has. For a departure the account is closed; for a leave all of it can be given back. */
export function handOver(
  ctx: Ctx,
  userId: number,
  input: { kind: 'leave' | 'departure'; from: Day; to: Day | null; gives: readonly Give[] },
): Promise<{ id: number; handedOver: number }> {
  return work(ctx, async (m) => {
    const who = await row<{ name: string; active: number; role: string }>(
      m,
      `SELECT name, active, role FROM user_account WHERE id = ? FOR UPDATE`,
      [userId],
    )
    if (!who?.active) throw notFound('person who works here')
    if (input.kind === 'leave' && input.to && input.to < input.from) throw fieldFault('to', 'It would end before it begins')
    if (userId === ctx.actor.id && input.kind === 'departure')
      throw refused('own-departure', 'Another administrator has to close your account.')
    if (await row(m, `SELECT 1 FROM absence WHERE user_id = ? AND ended_at IS NULL`, [userId]))
      throw refused('absent-already', `${who.name} is away already. End that first.`)
    const active = new Set((await rows<{ id: number }>(m, `SELECT id FROM user_account WHERE active`)).map((u) => u.id))
    input.gives.forEach((g, i) => {
      if (g.toId === userId || !active.has(g.toId)) throw fieldFault(`gives.${i}.toId`, 'Choose someone else who works here')
    })
    if (input.kind === 'departure') {
      const led = new Set(input.gives.filter((g) => g.what === 'lead').map((g) => g.subjectId))
      const left = await row<{ number: string }>(
        m,
        `SELECT number FROM matter WHERE lead_id = ? AND closed_on IS NULL AND id NOT IN (?) ORDER BY number LIMIT 1`,
        [userId, led.size ? [...led] : [0]],
      )
      if (left) throw refused('lead-needed', `${left.number} would have no lead lawyer. Hand it over too.`)
    }
    const made = (await m.query(`INSERT INTO absence (user_id, kind, from_day, to_day, made_by, made_at) VALUES (?, ?, ?, ?, ?, ?)`, [
      userId,
      input.kind,
      input.from,
      input.kind === 'leave' ? input.to : null,
      ctx.actor.id,
      instant(ctx.clock.now()),
    ])) as { insertId: number }
    const order: What[] = ['date', 'task', 'lead', 'team']
    for (const g of [...input.gives].sort((a, b) => order.indexOf(a.what) - order.indexOf(b.what))) {
      const was = await give(m, ctx, userId, g, input.kind === 'leave')
      await run(m, `INSERT INTO handed_over (absence_id, what, subject_id, to_id, was) VALUES (?, ?, ?, ?, ?)`, [
        made.insertId,
        g.what,
        g.subjectId,
        g.toId,
        JSON.stringify(was),
      ])
    }
    if (input.kind === 'departure') {
      await run(m, `UPDATE user_account SET active = FALSE, left_on = ? WHERE id = ?`, [input.from, userId])
      await run(m, `DELETE FROM session WHERE user_id = ?`, [userId])
      await run(
        m,
        `DELETE t FROM matter_team t JOIN matter m ON m.id = t.matter_id WHERE t.user_id = ? AND m.closed_on IS NULL AND m.lead_id <> t.user_id`,
        [userId],
      )
    }
    await tellAll(m, ctx, who.name, made.insertId, input.gives)
    await logByMatter(m, ctx, input.gives, who.name)
    await audit(m, ctx, {
      kind: 'handed over',
      text: `${who.name}, ${input.kind}: ${input.gives.length} handed over`,
      subject: 'user',
      subjectId: userId,
      detail: { became: { from: input.from, to: input.to } },
    })
    return { id: made.insertId, handedOver: input.gives.length }
  })
}

async function tellAll(m: EntityManager, ctx: Ctx, from: string, absenceId: number, gives: readonly Give[]) {
  for (const toId of new Set(gives.map((g) => g.toId))) {
    const own = gives.filter((g) => g.toId === toId)
    const count = (w: What) => own.filter((g) => g.what === w).length
    await sendMail(m, ctx, {
      key: `handover ${absenceId} ${toId}`,
      to: toId,
      subject: `Handed over from ${from}`,
      body: `From ${from} you have now: ${count('lead')} matters to lead, ${count('team')} teams, ${count('date')} dates and ${count('task')} tasks. They are on your calendar and in your list.`,
    })
  }
}

async function logByMatter(m: EntityManager, ctx: Ctx, gives: readonly Give[], from: string) {
  const byMatter = new Map<number, Give[]>()
  for (const g of gives) {
    const of = await matterOf(m, g)
    if (of?.matterId) byMatter.set(of.matterId, [...(byMatter.get(of.matterId) ?? []), g])
  }
  const names = new Map((await rows<{ id: number; name: string }>(m, `SELECT id, name FROM user_account`)).map((u) => [u.id, u.name]))
  for (const [matterId, own] of byMatter) {
    const to = [...new Set(own.map((g) => names.get(g.toId)!))].join(', ')
    const lead = own.some((g) => g.what === 'lead')
    await audit(m, ctx, {
      kind: 'team',
      text: `Handed over from ${from} to ${to}${lead ? ', the lead included' : ''}`,
      matterId,
      subject: 'matter',
      subjectId: matterId,
    })
  }
}

/** Someone is back. What still lies where it was handed returns; what was changed or done meanwhile stays. */
export function endLeave(ctx: Ctx, absenceId: number): Promise<{ returned: number; stayed: string[] }> {
  return work(ctx, async (m) => {
    const a = await row<{ userId: number; kind: string; endedAt: string | null; name: string }>(
      m,
      `SELECT a.user_id AS userId, a.kind, a.ended_at AS endedAt, u.name FROM absence a JOIN user_account u ON u.id = a.user_id WHERE a.id = ? FOR UPDATE`,
      [absenceId],
    )
    if (!a || a.endedAt) throw notFound('leave')
    if (a.kind !== 'leave') throw refused('departed', 'A departure is not taken back. Add the person anew.')
    const list = await rows<{ id: number; what: What; subjectId: number; toId: number; was: string }>(
      m,
      `SELECT id, what, subject_id AS subjectId, to_id AS toId, was FROM handed_over WHERE absence_id = ? AND given_back_at IS NULL ORDER BY id`,
      [absenceId],
    )
    const stayed: string[] = []
    let returned = 0
    for (const h of list) {
      if (await giveBack(m, a.userId, h)) {
        returned += 1
        await run(m, `UPDATE handed_over SET given_back_at = ? WHERE id = ?`, [instant(ctx.clock.now()), h.id])
      } else stayed.push(await nameOf(m, h))
    }
    await run(m, `UPDATE absence SET ended_at = ? WHERE id = ?`, [instant(ctx.clock.now()), absenceId])
    await logByMatter(
      m,
      ctx,
      list.map((h) => ({ ...h, toId: a.userId })),
      'those who stood in',
    )
    await audit(m, ctx, {
      kind: 'handed over',
      text: `${a.name} is back: ${returned} returned, ${stayed.length} stayed`,
      subject: 'user',
      subjectId: a.userId,
    })
    return { returned, stayed }
  })
}

async function nameOf(m: EntityManager, h: { what: What; subjectId: number }) {
  const sql = {
    task: `SELECT text AS t FROM task WHERE id = ?`,
    date: `SELECT title AS t FROM docket_entry WHERE id = ?`,
    lead: `SELECT number AS t FROM matter WHERE id = ?`,
    team: `SELECT number AS t FROM matter WHERE id = ?`,
  }[h.what]
  return (await row<{ t: string }>(m, sql, [h.subjectId]))?.t ?? 'something deleted'
}

async function giveBack(
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
  const was = JSON.parse(h.was) as { role: string; keeps: boolean; joined: boolean; before: { role: string; keeps: number } | null }
  if (h.what === 'lead') {
    if (!(await run(m, `UPDATE matter SET lead_id = ? WHERE id = ? AND lead_id = ? AND closed_on IS NULL`, [userId, h.subjectId, h.toId])))
      return false
    await run(m, `UPDATE matter_team SET role = 'lead', keeps = TRUE WHERE matter_id = ? AND user_id = ?`, [h.subjectId, userId])
    if (!was.joined && was.before)
      await run(m, `UPDATE matter_team SET role = ?, keeps = ? WHERE matter_id = ? AND user_id = ?`, [
        was.before.role,
        was.before.keeps,
        h.subjectId,
        h.toId,
      ])
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
