import { counted } from '@heron/core/words'
import { addDays, courtDaysUntil, showCourtDays, showDay, weekday, type Day } from '@heron/core/calendar'
import type { ReminderRules } from '@heron/contract'
import { leadsFor, remindersDue, type Weight } from '@heron/core/docket'
import { In, type EntityManager } from 'typeorm'
import { matterScope } from '../platform/access'
import { audit } from '../platform/audit'
import { actorOf } from '../platform/auth'
import { instant, isoOf, type Ctx } from '../platform/context'
import { row, rows, run, work } from '../platform/database'
import { fieldFault, notFound } from '../platform/problem'
import { sendMail } from '../platform/mail'
import { courtCalendarOf } from './state'
import { Firm } from '../platform/shared-entities'
import { DocketReminder, EntryReminderChoice, ReminderChoice } from './entities'

const read = (leads: string | null) => (leads === null ? null : leads ? leads.split(',').map(Number) : [])

/** When the firm reminds of dates: for whoever chose nothing, of strict dates always, and from which hour on. */
export async function reminderRules(m: EntityManager): Promise<ReminderRules> {
  const found = await row<{ usual: string; strict: string; lettersFrom: string }>(
    m,
    `SELECT usual_leads AS \`usual\`, strict_leads AS strict, letters_from AS lettersFrom FROM firm`,
  )
  return { usual: read(found?.usual ?? '') ?? [], strict: read(found?.strict ?? '') ?? [], lettersFrom: found?.lettersFrom ?? '06:00' }
}

const written = (leads: readonly number[]) => [...new Set(leads)].sort((a, b) => b - a).join(',')

export function changeReminderRules(ctx: Ctx, input: ReminderRules): Promise<void> {
  return work(ctx, async (m) => {
    const was = await reminderRules(m)
    await m.updateAll(Firm, { usualLeads: written(input.usual), strictLeads: written(input.strict), lettersFrom: input.lettersFrom })
    await audit(m, ctx, {
      kind: 'set up',
      text: 'Reminders of dates changed for the firm',
      subject: 'firm',
      subjectId: 1,
      detail: { was, became: input },
    })
  })
}

/** Letters about the day go out from an hour on, by the clock of the firm; nobody's telephone rings at midnight. */
export async function isMorning(base: Omit<Ctx, 'actor'>): Promise<boolean> {
  return base.clock.time() >= (await reminderRules(base.db.manager)).lettersFrom
}

interface Near {
  id: number
  title: string
  authority: string
  weight: Weight
  day: Day
  placedOn: Day
  time: string | null
  matterId: number
  number: string
  matter: string
  ruleSetKey: string | null
  userId: number
  ofEntry: string | null
  ofPerson: string | null
}

/** Open dates, for everyone on the team who may see the docket, for whoever is responsible, and for those who take part. */
const nearSql = `SELECT d.id, d.title, d.authority, d.weight, d.day, COALESCE(d.placed_on, DATE(d.created_at)) AS placedOn, TIME_FORMAT(d.at_time, '%H:%i') AS time,
    m.id AS matterId, m.number, m.name AS matter, m.rule_set_key AS ruleSetKey, u.id AS userId, e.leads AS ofEntry, c.leads AS ofPerson
  FROM docket_entry d JOIN matter m ON m.id = d.matter_id JOIN user_account u ON u.active AND (u.id = d.responsible_id OR u.id IN (SELECT t.user_id FROM matter_team t WHERE t.matter_id = m.id AND t.at_docket > 0) OR u.id IN (SELECT a.user_id FROM docket_attendee a WHERE a.entry_id = d.id))
  LEFT JOIN reminder_choice c ON c.user_id = u.id LEFT JOIN entry_reminder_choice e ON e.entry_id = d.id AND e.user_id = u.id
 WHERE d.mark IN ('open', 'in hand') AND NOT d.left_out AND NOT d.off_calendar AND m.closed_on IS NULL AND m.kind <> 'practice'
   AND NOT EXISTS (SELECT 1 FROM matter_screen s WHERE s.matter_id = m.id AND s.user_id = u.id)`

/**
 * Reminds everyone of the dates whose day to be reminded has come: one letter a person. The note of each reminder and the
 * letter stand in one transaction, and a reminder is noted once only; so none goes out twice, and none is lost when the
 * server stops at the wrong moment: what was not noted goes out at the next run, and says that it is late.
 */
export async function remindOfDates(base: Omit<Ctx, 'actor'>): Promise<number> {
  const today = base.clock.today()
  const m = base.db.manager
  const firm = await reminderRules(m)
  if (base.clock.time() < firm.lettersFrom) return 0
  // Nothing further ahead than the longest reminder anyone chose is looked at; weekends and holidays stretch court days.
  const chosen = await rows<{ leads: string | null }>(m, `SELECT leads FROM reminder_choice UNION SELECT leads FROM entry_reminder_choice`)
  const longest = Math.max(...firm.usual, ...firm.strict, ...chosen.flatMap((c) => read(c.leads) ?? []))
  const near = await rows<Near>(m, `${nearSql} AND d.day BETWEEN ? AND ? ORDER BY u.id, d.day, d.id`, [
    addDays(today, -30),
    addDays(today, Math.ceil(longest * 1.5) + 14),
  ])
  const calendars = new Map<string | null, Awaited<ReturnType<typeof courtCalendarOf>>>()
  for (const key of new Set(near.map((n) => n.ruleSetKey))) calendars.set(key, await courtCalendarOf(m, key))
  const due = near.flatMap((n) =>
    remindersDue(n, leadsFor(n.weight, read(n.ofEntry), read(n.ofPerson), firm), today, calendars.get(n.ruleSetKey)!).map((r) => ({
      ...n,
      ...r,
    })),
  )
  if (!due.length) return 0
  const known = await m.find(DocketReminder, {
    select: { entryId: true, userId: true, day: true, lead: true, id: true },
    where: { entryId: In([...new Set(due.map((d) => d.id))]) },
  })
  const went = new Set(known.map((k) => `${k.entryId} ${k.userId} ${k.day} ${k.lead}`))
  const fresh = due.filter((d) => !went.has(`${d.id} ${d.userId} ${d.day} ${d.lead}`))
  let sent = 0
  for (const userId of new Set(fresh.map((d) => d.userId))) {
    const actor = await actorOf(m, userId)
    if (!actor) continue
    const own = fresh.filter((x) => x.userId === userId)
    // Whoever answers for a date or takes part may have lost sight of its matter since.
    const open = await rows<{ id: number }>(m, `SELECT m.id FROM matter m WHERE m.id IN (?) AND ${matterScope(actor, 'm', 'docket')}`, [
      [...new Set(own.map((d) => d.matterId))],
    ])
    const seen = new Set(open.map((x) => x.id))
    sent += await work({ ...base, actor }, async (tx) => {
      const mine: typeof fresh = []
      for (const d of own.filter((x) => seen.has(x.matterId)))
        if (
          await run(tx, `INSERT IGNORE INTO docket_reminder (entry_id, user_id, day, lead, at) VALUES (?, ?, ?, ?, ?)`, [
            d.id,
            userId,
            d.day,
            d.lead,
            instant(base.clock.now()),
          ])
        )
          mine.push(d)
      if (!mine.length) return 0
      // Of several reminders of one date that come at once, the nearest speaks for all.
      const strictFirst = (d: Near) => (d.weight === 'strict' ? 0 : 1)
      const shown = [...new Map(mine.map((d) => [d.id, d])).values()].sort((a, b) => strictFirst(a) - strictFirst(b))
      const lines = shown.map((d) => {
        const late = d.late ? ` This reminder was due on ${showDay(d.on)}; it is late.` : ''
        const left = showCourtDays(courtDaysUntil(calendars.get(d.ruleSetKey)!, today, d.day))
        return `${showDay(d.day)}${d.time ? `, ${d.time}` : ''} (${left}): ${d.title}\n${d.number}, ${d.matter}${d.authority ? ` · ${d.authority}` : ''}${d.weight === 'strict' ? ' · strict' : ''}.${late}`
      })
      const first = shown[0]!
      await sendMail(
        tx,
        { ...base, actor },
        {
          key:
            `dates ${userId} ${mine.map((d) => `${d.id}.${d.day}.${d.lead}`).join(' ')}`.slice(0, 100) + ` ${base.clock.now().getTime()}`,
          to: userId,
          subject:
            shown.length === 1
              ? `Reminder: ${first.title}, ${showDay(first.day)}`
              : `Reminder of ${counted(shown.length, 'date')}, the first on ${showDay(first.day)}`,
          body: lines.join('\n\n'),
          matterId: shown.every((d) => d.matterId === first.matterId) ? first.matterId : null,
        },
      )
      return shown.length
    })
  }
  return sent
}

/** Sends the weeks ahead to those who asked for them on this day of the week; once a day, whenever the server runs. */
export async function sendDigests(base: Omit<Ctx, 'actor'>): Promise<number> {
  const today = base.clock.today()
  if (!(await isMorning(base))) return 0
  const who = await rows<{ userId: number }>(
    base.db.manager,
    `SELECT c.user_id AS userId FROM reminder_choice c JOIN user_account u ON u.id = c.user_id AND u.active WHERE c.digest_on = ?`,
    [weekday(today)],
  )
  for (const { userId } of who) {
    const actor = await actorOf(base.db.manager, userId)
    if (!actor) continue
    const ctx: Ctx = { ...base, actor }
    await work(ctx, async (m) => {
      const dates = await rows<Near>(
        m,
        `${nearSql} AND ${matterScope(actor, 'm', 'docket')} AND u.id = ? AND d.day BETWEEN ? AND DATE_ADD(?, INTERVAL 28 DAY) ORDER BY d.day, d.id LIMIT 500`,
        [userId, today, today],
      )
      await sendMail(m, ctx, {
        key: `weeks ahead ${userId} ${today}`,
        to: userId,
        subject: `Your dates until ${showDay(dates.at(-1)?.day ?? today)}`,
        body: dates.length
          ? dates.map((d) => `${showDay(d.day)}  ${d.title} · ${d.number}, ${d.matter}${d.authority ? ` · ${d.authority}` : ''}`).join('\n')
          : 'There are no dates in the next four weeks.',
      })
    })
  }
  return who.length
}

/** The actor's own choice, and reminders not yet put away. */
export async function ownReminders(ctx: Ctx) {
  const m = ctx.db.manager
  const choice = await m.findOne(ReminderChoice, { select: { leads: true, digestOn: true, userId: true }, where: { userId: ctx.actor.id } })
  const list = await rows<{
    id: number
    entryId: number
    title: string
    matterId: number
    matter: string
    day: Day
    lead: number
    at: string
    weight: Weight
    ruleSetKey: string | null
  }>(
    m,
    `SELECT r.id, d.weight, r.entry_id AS entryId, d.title, m.id AS matterId, m.short_name AS matter, d.day, r.lead, r.at, m.rule_set_key AS ruleSetKey
       FROM docket_reminder r JOIN docket_entry d ON d.id = r.entry_id AND d.day = r.day JOIN matter m ON m.id = d.matter_id
      WHERE r.user_id = ? AND NOT r.seen AND d.mark IN ('open', 'in hand') AND NOT d.left_out AND ${matterScope(ctx.actor, 'm', 'docket')} ORDER BY d.weight <> 'strict', d.day, d.id, r.lead LIMIT 500`,
    [ctx.actor.id],
  )
  const shown = [...new Map([...list].reverse().map((r) => [r.entryId, r])).values()].reverse()
  const out = []
  for (const { ruleSetKey, ...r } of shown)
    out.push({ ...r, at: isoOf(r.at), courtDays: courtDaysUntil(await courtCalendarOf(m, ruleSetKey), ctx.clock.today(), r.day) })
  return { leads: read(choice?.leads ?? null) ?? (await reminderRules(m)).usual, digestOn: choice?.digestOn ?? null, rows: out }
}

export function putAway(ctx: Ctx, ids: readonly number[]): Promise<void> {
  return work(ctx, async (m) => {
    const entries = await rows<{ id: number }>(m, `SELECT entry_id AS id FROM docket_reminder WHERE user_id = ? AND id IN (?)`, [
      ctx.actor.id,
      [0, ...ids],
    ])
    if (entries.length) await m.update(DocketReminder, { userId: ctx.actor.id, entryId: In(entries.map((e) => e.id)) }, { seen: true })
  })
}

export function chooseReminders(ctx: Ctx, input: { leads: number[]; digestOn: number | null }): Promise<void> {
  return work(ctx, async (m) => {
    await m.upsert(ReminderChoice, { userId: ctx.actor.id, leads: written(input.leads), digestOn: input.digestOn }, ['userId'])
  })
}

/** One person's reminders of one date. Those of a strict date can be set, and not turned off. */
export function chooseEntryReminders(ctx: Ctx, id: number, leads: number[] | null): Promise<void> {
  return work(ctx, async (m) => {
    const entry = await row<{ weight: Weight }>(
      m,
      `SELECT d.weight FROM docket_entry d JOIN matter m ON m.id = d.matter_id WHERE d.id = ? AND d.removed_at IS NULL AND ${matterScope(ctx.actor, 'm', 'docket')}`,
      [id],
    )
    if (!entry) throw notFound('docket entry')
    if (leads && !leads.length && entry.weight === 'strict') throw fieldFault('leads', 'Reminders of a strict date cannot be turned off')
    if (leads) await m.upsert(EntryReminderChoice, { entryId: id, userId: ctx.actor.id, leads: written(leads) }, ['entryId', 'userId'])
    else await m.delete(EntryReminderChoice, { entryId: id, userId: ctx.actor.id })
  })
}
