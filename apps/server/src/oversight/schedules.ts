import { rightsOfRole, type ScheduleIn } from '@heron/contract'
import { showDay } from '@heron/core/calendar'
import { lastDue } from '@heron/core/oversight'
import { In, type EntityManager } from 'typeorm'
import { isMorning } from '../docket'
import { audit } from '../platform/audit'
import { actorOf, firstWith } from '../platform/auth'
import { aFewTries, jobKind, type Base } from '../platform/area'
import type { Ctx } from '../platform/context'
import { insertMany, work } from '../platform/database'
import { enqueue } from '../platform/enqueue'
import { keepFile } from '../platform/files'
import { sendMail } from '../platform/mail'
import { fieldFault, notFound, refused } from '../platform/problem'
import { siteAddress } from '../platform/site'
import { tableFile } from '../platform/table-file'
import { fileOf, type Asked } from './files'
import { UserAccount } from '../platform/shared-entities'
import { OversightSchedule, OversightScheduleTo } from './entities'
import {
  addSchedule,
  type Kept,
  mostSchedules,
  readersOfSchedule,
  schedulesMade,
  writeSchedule,
  lockedSchedule,
  ownSchedule,
  scheduleRow,
  schedulesDue,
} from './schedule-queries'

/** Those to whom a report may go: people of the firm who see bills. */
async function readers(m: EntityManager, ids: readonly number[]) {
  const list = await m.find(UserAccount, { select: { id: true, name: true, role: true }, where: { active: true, id: In([...new Set(ids)]) } }) // prettier-ignore
  if (list.length < new Set(ids).size) throw fieldFault('to', 'Choose people who work here')
  const not = list.find((u) => !rightsOfRole[u.role].includes('bills.see'))
  if (not) throw fieldFault('to', `${not.name} does not see bills and sums`)
}
export const mayRead = async (ctx: Ctx) =>
  (
    await ctx.db.manager.find(UserAccount, {
      select: { id: true, name: true, role: true },
      where: { active: true },
      order: { name: 'ASC' },
    })
  )
    .filter((u) => rightsOfRole[u.role].includes('bills.see'))
    .map(({ id, name }) => ({ id, name }))
function judge(s: ScheduleIn) {
  if (s.every === 'week' && s.onDay > 7) throw fieldFault('onDay', 'Choose a day of the week')
}

export const makeSchedule = (ctx: Ctx, s: ScheduleIn) =>
  work(ctx, async (m) => {
    judge(s)
    await readers(m, s.to)
    const n = await schedulesMade(m)
    if (n!.n >= mostSchedules) throw refused('too-much', `There are ${mostSchedules} reports that go out already. End one first.`)
    const made = (await addSchedule(m, ctx, s)) as { insertId: number }
    await insertMany(m, 'oversight_schedule_to', ['schedule_id', 'user_id'], [...new Set(s.to)].map((u) => [made.insertId, u])) // prettier-ignore
    await audit(m, ctx, { kind: 'shared', text: `Report “${s.name}” goes out every ${s.every}`, subject: 'oversight', subjectId: made.insertId }) // prettier-ignore
    return { id: made.insertId }
  })

/** One of one's own; whoever made it changes and ends it. */
async function own(m: EntityManager, ctx: Ctx, id: number): Promise<Kept> {
  const s = await ownSchedule(m, ctx, id)
  if (!s) throw notFound('report of yours')
  return s
}
export const changeSchedule = (ctx: Ctx, id: number, s: ScheduleIn) =>
  work(ctx, async (m) => {
    await own(m, ctx, id)
    judge(s)
    await readers(m, s.to)
    await writeSchedule(m, ctx, s, id)
    await m.delete(OversightScheduleTo, { scheduleId: id })
    await insertMany(m, 'oversight_schedule_to', ['schedule_id', 'user_id'], [...new Set(s.to)].map((u) => [id, u])) // prettier-ignore
    await audit(m, ctx, { kind: 'shared', text: `Report “${s.name}” that goes out changed`, subject: 'oversight', subjectId: id })
  })
export const removeSchedule = (ctx: Ctx, id: number) =>
  work(ctx, async (m) => {
    const s = await own(m, ctx, id)
    await m.delete(OversightSchedule, { id })
    await audit(m, ctx, { kind: 'shared', text: `Report “${s.name}” goes out no more`, subject: 'oversight', subjectId: id })
  })

interface Sending {
  scheduleId: number
  /** Says which sending it is; the same is written to each reader once. */
  key: string
}
/** Writes a report to all its readers; many figures take their time, so it is done beside the requests. */
export const sending = jobKind<Sending>({
  noun: 'report',
  waits: aFewTries,
  run: (ctx, { scheduleId, key }) =>
    work(ctx, async (m) => {
      const s = await scheduleRow(m, scheduleId)
      if (s) await send(m, ctx, s, key)
    }),
})

/** Writes a report to each of its readers, with the figures that are open to them; one letter for each key and reader. */
async function send(m: EntityManager, ctx: Ctx, s: Kept, key: string) {
  const to = await readersOfSchedule(m, s.id)
  for (const { id } of to) {
    const actor = await actorOf(m, id)
    if (!actor || !rightsOfRole[actor.role].includes('bills.see')) continue
    const asked: Asked = { ...(JSON.parse(s.asked) as ScheduleIn['asked']) }
    const reader = { ...ctx, actor }
    const t = await fileOf(reader, s.what, asked)
    const file = await tableFile(reader, t, s.format)
    const kept = await keepFile(m, ctx, new Uint8Array(await file.arrayBuffer()), file.type)
    const first = t.columns.findIndex((c) => c.kind === 'money')
    const lines = t.rows.slice(0, 30).map((r) => `${String(r.cells[0] ?? '')}${first > 0 ? `: ${((Number(r.cells[first] ?? 0) || 0) / 100).toLocaleString('en-US', { style: 'currency', currency: 'USD' })}` : ''}`) // prettier-ignore
    await sendMail(m, ctx, {
      key: `${key} ${id}`,
      to: id,
      subject: `${s.name}, ${showDay(ctx.clock.today())}`,
      body: `${t.title}, ${t.under}.${first > 0 ? ` ${t.columns[first]!.text}:` : ''}\n\n${lines.join('\n')}\n\nThe page: ${siteAddress()}/reports/${s.what}\nThe figures are of the matters whose money is open to you.`,
      files: [{ id: kept.id, name: file.name }],
    })
  }
}
export const sendNow = (ctx: Ctx, id: number) =>
  work(ctx, async (m) => {
    const s = await own(m, ctx, id)
    await enqueue(m, ctx, 'send report', { scheduleId: id, key: `oversight ${id} ${ctx.clock.now().getTime()}` } satisfies Sending)
    await audit(m, ctx, { kind: 'shared', text: `Report “${s.name}” sent`, subject: 'oversight', subjectId: id })
  })

/** Who has a report from when its maker left: the first of its readers who sees such figures; each gets their own anyway. */
const heirOf = async (m: EntityManager, scheduleId: number) => firstWith(m, (await readersOfSchedule(m, scheduleId)).map((r) => r.id), 'bills.see') // prettier-ignore
async function passOn(m: EntityManager, ctx: Ctx, s: Kept): Promise<void> {
  await m.update(OversightSchedule, { id: s.id }, { madeBy: ctx.actor.id })
  await audit(m, ctx, { kind: 'shared', text: `Report “${s.name}” is ${ctx.actor.name}’s now: whoever set it up has left`, subject: 'oversight', subjectId: s.id }) // prettier-ignore
  await sendMail(m, ctx, {
    key: `oversight ${s.id} of ${ctx.actor.id}`,
    to: ctx.actor.id,
    subject: `The report “${s.name}” is yours now`,
    body: `Whoever set up “${s.name}” has left. It goes on to all who get it, in your name; you can change or end it under Reports, Sent by themselves.\n\n${siteAddress()}/reports/sent`,
  })
}

/** Sends what is due, also what was missed while the server stood still, each once, from the firm's hour of letters on. One that fails keeps no other back. */
export async function sendDue(base: Base, warn: (what: object, text: string) => void): Promise<void> {
  if (!(await isMorning(base))) return
  const today = base.clock.today()
  const due = (await schedulesDue(today, base)).filter((s) => (s.sentOn ?? '') < lastDue(s.every, s.onDay, today))
  for (const { id } of due) {
    const known = due.find((s) => s.id === id)!
    const maker = await actorOf(base.db.manager, known.madeById)
    const actor = maker ?? (await heirOf(base.db.manager, id))
    if (!actor) continue
    const ctx: Ctx = { ...base, actor }
    try {
      await work(ctx, async (m) => {
        const s = await lockedSchedule(m, id)
        if (!s || (s.sentOn ?? '') >= lastDue(s.every, s.onDay, today)) return
        if (!maker) await passOn(m, ctx, s)
        await enqueue(m, ctx, 'send report', { scheduleId: id, key: `oversight ${id} ${today}` } satisfies Sending)
        await m.update(OversightSchedule, { id }, { sentOn: today })
      })
    } catch (error) {
      warn({ error, schedule: id }, 'a report could not be sent')
    }
  }
}
