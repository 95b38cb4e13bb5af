import { rightsOfRole, type ReportHow, type ReportIn } from '@heron/contract'
import { addDays, weekday } from '@heron/core/calendar'
import { In, IsNull, LessThan, type EntityManager } from 'typeorm'
import { audit } from '../platform/audit'
import { actorOf, firstWith } from '../platform/auth'
import { instant, type Ctx } from '../platform/context'
import { insertRow, locked, touched, work } from '../platform/database'
import { keepFile } from '../platform/files'
import { sendMail } from '../platform/mail'
import { fieldFault, notFound } from '../platform/problem'
import { isMorning } from './reminders'
import { reportFile } from './report'
import { PracticeArea, UserAccount } from '../platform/shared-entities'
import { ReportSchedule, ReportScheduleTo } from './entities'
import { readersOf } from './reminder-queries'

type Report = ReportIn & ReportHow

/** Sends a report as a file to one person, made as that person may see it. */
async function sendTo(m: EntityManager, ctx: Ctx, userId: number, report: Report, key: string): Promise<boolean> {
  const actor = await actorOf(m, userId)
  if (!actor || !rightsOfRole[actor.role].includes('docket.see')) return false
  const file = await reportFile({ ...ctx, actor, tx: m }, report, report).catch((error: unknown) => {
    // A matter they may no longer see: there is nothing to send them.
    if (error instanceof Error && 'status' in error) return null
    throw error
  })
  if (!file) return false
  const kept = await keepFile(m, ctx, new Uint8Array(await file.arrayBuffer()), file.type)
  await sendMail(m, ctx, {
    key,
    to: userId,
    subject: `Report: ${file.name}`,
    body: `The report is attached, as of ${ctx.clock.today()}.\n\nSent by ${ctx.actor.name}.`,
    matterId: report.kind === 'matter' ? (report.matterId ?? null) : null,
    files: [{ id: kept.id, name: file.name }],
  })
  return true
}

async function readers(m: EntityManager, userIds: readonly number[]) {
  const list = await m.find(UserAccount, {
    select: { id: true, name: true, role: true },
    where: { active: true, id: In([...new Set(userIds)]) },
    order: { name: 'ASC' },
  })
  const not = list.find((u) => !rightsOfRole[u.role].includes('docket.see'))
  if (not) throw fieldFault('userIds', `${not.name} does not see the docket`)
  if (list.length < new Set(userIds).size) throw fieldFault('userIds', 'Choose people who work here')
  return list
}

export function mailReport(ctx: Ctx, report: Report, userIds: number[]): Promise<{ sent: number }> {
  return work(ctx, async (m) => {
    let sent = 0
    for (const u of await readers(m, userIds))
      if (await sendTo(m, ctx, u.id, report, `report ${u.id} ${ctx.actor.id} ${ctx.clock.now().getTime()}`)) sent += 1
    await audit(m, ctx, {
      kind: 'shared',
      text: `Report (${report.kind}, ${report.format}) sent to ${sent} ${sent === 1 ? 'person' : 'people'}`,
      subject: 'report',
    })
    return { sent }
  })
}

/** What a weekly report is of, in words that name no matter: someone may be screened from it later. */
async function wordsOf(m: EntityManager, r: Report): Promise<string> {
  const format = r.format.toUpperCase()
  if (r.kind !== 'span') return `${kindWords[r.kind]}, ${format}`
  const person = r.userId ? await m.findOne(UserAccount, { select: { name: true, id: true }, where: { id: r.userId } }) : null
  const area = r.areaId ? await m.findOne(PracticeArea, { select: { name: true, id: true }, where: { id: r.areaId } }) : null
  const whose = person?.name ?? { mine: 'my own', team: 'my teams', firm: 'the firm' }[r.scope]
  const ahead = r.to ? `${daysOf(r) + 1} days ahead` : `${r.courtDays} court days ahead`
  return ['Dates of ' + whose, area?.name, r.weight, r.only, r.q && `“${r.q}”`, ahead, format].filter(Boolean).join(', ').slice(0, 300)
}

const kindWords = { span: 'Dates', matter: 'A matter’s docket', teams: 'Who is on which matter', closed: 'Closed days ahead' }

/** Keeps a report that goes out every week. Its days move along with the week. */
export function scheduleReport(ctx: Ctx, report: Report, userIds: number[], on: number): Promise<{ id: number }> {
  return work(ctx, async (m) => {
    const list = await readers(m, userIds)
    const id = await insertRow(m, ReportSchedule, {
      ownerId: ctx.actor.id,
      report: JSON.stringify(report),
      words: await wordsOf(m, report),
      weekday: on,
      createdAt: instant(ctx.clock.now()),
      lastOn: ctx.clock.today(),
    })
    for (const u of list) await m.insert(ReportScheduleTo, { scheduleId: id, userId: u.id })
    await audit(m, ctx, {
      kind: 'shared',
      text: `Weekly report (${report.kind}) set up for ${list.map((u) => u.name).join(', ')}`,
      subject: 'report',
      subjectId: id,
    })
    return { id }
  })
}

export function endSchedule(ctx: Ctx, id: number): Promise<void> {
  return work(ctx, async (m) => {
    const done = await touched(
      m.update(ReportSchedule, { id, ownerId: ctx.actor.id, endedAt: IsNull() }, { endedAt: instant(ctx.clock.now()) }),
    )
    if (!done) throw notFound('report')
    await audit(m, ctx, { kind: 'changed', text: 'Weekly report ended', subject: 'report', subjectId: id })
  })
}

/**
 * A report goes on when whoever set it up has left: each reader gets what they may see themselves, and nobody should miss dates for it.
 * The first of its readers who works here has it from then on, and is told; null where there is none.
 */
const heirOf = async (m: EntityManager, scheduleId: number) => firstWith(m, (await readersOf(m, scheduleId)).map((r) => r.id), 'docket.see') // prettier-ignore
async function passOn(m: EntityManager, ctx: Ctx, scheduleId: number, fromId: number): Promise<void> {
  const s = await m.findOneByOrFail(ReportSchedule, { id: scheduleId })
  const from = await m.findOne(UserAccount, { select: { name: true, id: true }, where: { id: fromId } })
  await m.update(ReportSchedule, { id: scheduleId }, { ownerId: ctx.actor.id })
  await audit(m, ctx, { kind: 'changed', text: `Weekly report of ${from?.name ?? 'one'} who left is ${ctx.actor.name}’s now`, subject: 'report', subjectId: scheduleId }) // prettier-ignore
  await sendMail(m, ctx, {
    key: `report ${scheduleId} of ${ctx.actor.id}`,
    to: ctx.actor.id,
    subject: 'A weekly report is yours now',
    body: `${s.words}\n\n${from?.name ?? 'Whoever set it up'}, who set it up, has left. It goes on to all who get it, in your name; you can end it where you see it among the reports of the docket.`,
  })
}

/** Sends the weekly reports whose day has come since they last went out, once each, however often this runs. */
export async function sendScheduled(base: Omit<Ctx, 'actor'>): Promise<number> {
  const today = base.clock.today()
  if (!(await isMorning(base))) return 0
  const due = await base.db.manager.find(ReportSchedule, {
    select: { id: true, ownerId: true, weekday: true, lastOn: true },
    where: { endedAt: IsNull(), lastOn: LessThan(today) },
  })
  let sent = 0
  for (const s of due) {
    // The latest such day, today included: a server that stood still on it sends it late, and once.
    const on = addDays(today, -((weekday(today) - s.weekday + 7) % 7))
    if (on <= s.lastOn!) continue
    const owner = await actorOf(base.db.manager, s.ownerId)
    const actor = owner ?? (await heirOf(base.db.manager, s.id))
    if (!actor) continue
    const ctx: Ctx = { ...base, actor }
    sent += await work(ctx, async (m) => {
      const mine = await m.findOne(ReportSchedule, {
        select: { report: true, id: true },
        where: { id: s.id, lastOn: LessThan(on), endedAt: IsNull() },
        ...locked(m),
      })
      if (!mine) return 0
      if (!owner) await passOn(m, ctx, s.id, s.ownerId)
      const report = JSON.parse(mine.report) as Report
      const moved = { ...report, from: today, ...(report.to ? { to: addDays(today, daysOf(report)) } : {}) }
      const to = await readersOf(m, s.id)
      let n = 0
      for (const u of to) if (await sendTo(m, ctx, u.id, moved, `report ${s.id} ${u.id} ${on}`)) n += 1
      await m.update(ReportSchedule, { id: s.id }, { lastOn: on })
      return n
    })
  }
  return sent
}
const daysOf = (r: Report) => Math.round((Date.parse(r.to ?? r.from) - Date.parse(r.from)) / 86_400_000)
