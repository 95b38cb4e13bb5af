import { counted } from '@heron/core/words'
import { courtDaysUntil, showCourtDays, showDay, type Day } from '@heron/core/calendar'
import type { ReminderRules } from '@heron/contract'
import { leadsFor, remindersDue } from '@heron/core/docket'
import { In } from 'typeorm'
import { audit } from '../platform/audit'
import { actorOf } from '../platform/auth'
import type { Ctx } from '../platform/context'
import { work } from '../platform/database'
import { fieldFault, notFound } from '../platform/problem'
import { sendMail } from '../platform/mail'
import { courtCalendars } from './state-queries'
import { Firm } from '../platform/shared-entities'
import { DocketReminder, EntryReminderChoice, ReminderChoice } from './entities'
import {
  datesReminded,
  digestsOn,
  docketsSeen,
  leadsInUse,
  noteReminder,
  read,
  reminderRules,
  weightOf,
  digestDates,
  type Near,
  nearBetween,
} from './reminder-queries'

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
  const chosen = await leadsInUse(m)
  const longest = Math.max(...firm.usual, ...firm.strict, ...chosen.flatMap((c) => read(c.leads) ?? []))
  const near = await nearBetween(m, today, longest)
  const courts = await courtCalendars(m)
  // An entry comes once for each who is reminded of it.
  const placed = new Map<number, Day>()
  const placedOn = (n: Near) => {
    const day = n.placedOn ?? placed.get(n.id) ?? base.clock.at(n.createdAt).day
    placed.set(n.id, day)
    return day
  }
  const due = near.flatMap((n) =>
    remindersDue(
      { day: n.day, placedOn: placedOn(n) },
      leadsFor(n.weight, read(n.ofEntry), read(n.ofPerson), firm),
      today,
      courts(n.ruleSetKey),
    ).map((r) => ({
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
    const open = await docketsSeen(m, actor, own)
    const seen = new Set(open.map((x) => x.id))
    sent += await work({ ...base, actor }, async (tx) => {
      const mine: typeof fresh = []
      for (const d of own.filter((x) => seen.has(x.matterId))) if (await noteReminder(tx, d.id, userId, d.day, d.lead, base)) mine.push(d)
      if (!mine.length) return 0
      // Of several reminders of one date that come at once, the nearest speaks for all.
      const strictFirst = (d: Near) => (d.weight === 'strict' ? 0 : 1)
      const shown = [...new Map(mine.map((d) => [d.id, d])).values()].sort((a, b) => strictFirst(a) - strictFirst(b))
      const lines = shown.map((d) => {
        const late = d.late ? ` This reminder was due on ${showDay(d.on)}; it is late.` : ''
        const left = showCourtDays(courtDaysUntil(courts(d.ruleSetKey), today, d.day))
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
  const who = await digestsOn(base, today)
  for (const { userId } of who) {
    const actor = await actorOf(base.db.manager, userId)
    if (!actor) continue
    const ctx: Ctx = { ...base, actor }
    await work(ctx, async (m) => {
      const dates = await digestDates(m, actor, userId, today)
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

export function putAway(ctx: Ctx, ids: readonly number[]): Promise<void> {
  return work(ctx, async (m) => {
    const entries = await datesReminded(m, ctx, ids)
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
    const entry = await weightOf(m, ctx, id)
    if (!entry) throw notFound('docket entry')
    if (leads && !leads.length && entry.weight === 'strict') throw fieldFault('leads', 'Reminders of a strict date cannot be turned off')
    if (leads) await m.upsert(EntryReminderChoice, { entryId: id, userId: ctx.actor.id, leads: written(leads) }, ['entryId', 'userId'])
    else await m.delete(EntryReminderChoice, { entryId: id, userId: ctx.actor.id })
  })
}
