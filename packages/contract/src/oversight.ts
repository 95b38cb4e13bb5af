import { flowSteps } from '@heron/core/oversight'
import { z } from 'zod'
import { amountOrNone, cents, day, dayOut, fileOut, id, made, minutesOut, needed, ok, rate, route, text, whole, withId } from './base'
import { boardGroups } from './matters'

export const flowGroups = ['person', 'matter', 'client', 'area', 'originating', 'month'] as const
export const reportKeys = [
  'unbilled',
  'trust',
  'retainers',
  'matters',
  'idle',
  'budget',
  'profit',
  'trial',
  'funding',
  'originating',
  'delays',
] as const
export type ReportKey = (typeof reportKeys)[number]
export const matterGroups = ['court', 'area', 'stage', 'lead'] as const
/** What needs a decision and is not settled by one act: it may be put off for a while. */
export const asideKinds = ['budgets', 'trust', 'months', 'stopped'] as const
export type AsideKind = (typeof asideKinds)[number]
const span = { from: day, to: day }
const flowIn = z.object({
  ...span,
  /** By the day on which each thing was done, or all that became of the work of the span. */
  as: z.enum(['work', 'act']).default('work'),
  by: z.enum(flowGroups).default('person'),
  /** One figure by month beside one another. */
  beside: z.enum(flowSteps).optional(),
})
export type FlowIn = z.infer<typeof flowIn>
/** Figures over a span; long ones are added up in the background. */
export const spanReports = ['flow', 'profit', 'funding', 'originating', 'delays'] as const
const figuresIn = flowIn.extend({ what: z.enum(spanReports) })
export type FiguresIn = z.infer<typeof figuresIn>
const linesIn = z.object({
  ...span,
  as: z.enum(['work', 'act']).default('work'),
  by: z.enum(flowGroups),
  /** The group's own key; nothing for those of none. */
  key: text(20).default(''),
  all: z.enum(['yes', '']).default(''),
  step: z.enum(flowSteps),
})
export type FlowLinesIn = z.infer<typeof linesIn>
const reportIn = {
  asOf: day.optional(),
  from: day.optional(),
  to: day.optional(),
  by: z.enum(matterGroups).default('court'),
  /** Days without anything done, from which on a matter is listed. */
  days: z.coerce.number().int().min(1).max(3650).default(60),
}
const weeksIn = { asOf: day.optional(), weeks: z.coerce.number().int().min(2).max(12).default(5) }
/** Everything that a report may be asked with, as it is kept with a schedule. */
const askedIn = z.object({
  weeks: z.coerce.number().int().min(2).max(12).default(5),
  as: z.enum(['work', 'act']).default('work'),
  group: z.enum(flowGroups).default('person'),
  by: z.enum(matterGroups).default('court'),
  days: z.coerce.number().int().min(1).max(3650).default(60),
})
const whats = ['weeks', 'flow', ...reportKeys] as const
export type ReportWhat = (typeof whats)[number]
const scheduleIn = z.object({
  name: needed('Name it', 80),
  what: z.enum(whats),
  asked: askedIn,
  every: z.enum(['week', 'month']),
  onDay: whole(1, 31, 'Give a day'),
  format: z.enum(['xlsx', 'pdf', 'csv']),
  to: z.array(id).min(1, 'Say to whom').max(50, 'At most 50 people'),
})
export type ScheduleIn = z.infer<typeof scheduleIn>
const kinds = ['text', 'money', 'hours', 'day', 'number', 'share'] as const
export type ReportColumnKind = (typeof kinds)[number]
const cell = z.union([z.string(), z.number(), z.null()])
const table = z.object({
  title: z.string(),
  under: z.string(),
  columns: z.array(z.object({ key: z.string(), text: z.string(), kind: z.enum(kinds) })),
  rows: z.array(z.object({ key: z.string(), to: z.string().nullable(), cells: z.array(cell) })),
  totals: z.array(cell),
  /** There is more than is listed; the sums are of all. */
  more: z.boolean(),
  /** Columns that a chart shows, by their keys; none where shape says nothing. */
  bars: z.array(z.string()),
})
export type ReportTable = z.infer<typeof table>
const flow = z.object(Object.fromEntries(flowSteps.map((s) => [s, cents])) as Record<(typeof flowSteps)[number], typeof cents>)
const flowOut = z.object({
  groups: z.array(z.object({ key: z.string(), name: z.string(), flow, months: z.array(cents) })),
  together: flow,
  months: z.array(z.object({ month: z.string(), amount: cents })),
})
export type FlowOut = z.infer<typeof flowOut>
const week = z.object({
  minutes: minutesOut,
  worth: cents,
  /** What counts towards the goal: value recorded, or money collected. */
  counted: cents,
  goal: cents.nullable(),
  share: z.number().nullable(),
  /** What moved since the reader's last look in a week that was over by then, and what it came to at that time. */
  late: z.object({ minutes: minutesOut, worth: cents, wasWorth: cents, wasMinutes: z.number() }).nullable(),
})

/** What partners see of the whole firm: weeks, how work becomes money, reports, boards, and what needs a decision. */
export const oversight = {
  weeks: route('bills.see', 'GET', '/oversight/weeks', 'Hours, value and goals of every timekeeper by week')
    .input(z.object(weeksIn))
    .output(
      z.object({
        weekEnds: z.number(),
        weeks: z.array(z.object({ from: dayOut, to: dayOut, workDays: z.number(), daysOver: z.number() })),
        month: z.object({ from: dayOut, to: dayOut, workDays: z.number(), daysOver: z.number() }),
        look: z.object({ day: dayOut, at: z.string() }).nullable(),
        rows: z.array(
          z.object({
            id: z.number(),
            name: z.string(),
            title: z.string(),
            left: z.string().nullable(),
            outside: z.boolean(),
            basis: z.enum(['billable', 'collected']).nullable(),
            lastDay: dayOut.nullable(),
            weeks: z.array(week),
            month: week,
            /** They have stopped recording, by their own usual. */
            stopped: z.object({ usual: z.number(), was: z.number(), of: z.enum(['last week', 'this week']) }).nullable(),
          }),
        ),
        totals: z.object({ weeks: z.array(week), month: week }),
      }),
    ),
  look: route('bills.see', 'POST', '/oversight/looks', 'Takes the weeks as seen').input(z.object({})).output(ok),
  goals: route('bills.review', 'GET', '/oversight/goals', 'Goals and costs of timekeepers by their days').output(
    z.object({
      weekEnds: z.number(),
      rows: z.array(
        z.object({
          userId: z.number(),
          name: z.string(),
          from: dayOut,
          basis: z.enum(['billable', 'collected']),
          weekly: cents.nullable(),
          monthly: cents.nullable(),
          costRate: cents.nullable(),
        }),
      ),
      people: z.array(z.object({ id: z.number(), name: z.string() })),
    }),
  ),
  setGoal: route('bills.review', 'PUT', '/oversight/goals', 'Set what someone is to reach from a day on')
    .input(
      z.object({
        userId: id,
        from: day,
        basis: z.enum(['billable', 'collected']),
        weekly: amountOrNone.nullable(),
        monthly: amountOrNone.nullable(),
        costRate: rate.nullable(),
      }),
    )
    .output(ok),
  removeGoal: route('bills.review', 'DELETE', '/oversight/goals/{userId}/{from}', 'Take a goal out')
    .input(z.object({ userId: id, from: day }))
    .output(ok),
  setWeekEnd: route('bills.review', 'PUT', '/oversight/week-end', 'Set the day on which the firm’s week ends')
    .input(z.object({ weekEnds: whole(1, 7, 'Choose a day') }))
    .output(ok),
  note: route('bills.see', 'POST', '/oversight/notes', 'Write to a timekeeper: a task of theirs, and a letter')
    .input(z.object({ userId: id, text: needed('Write something', 500) }))
    .output(made),
  flow: route('bills.see', 'GET', '/oversight/flow', 'What became of recorded work: billed, collected, and what was lost on the way')
    .input(flowIn)
    .output(flowOut),
  addUp: route('bills.see', 'POST', '/oversight/figures', 'Add up a long span in the background')
    .input(figuresIn)
    .output(z.object({ jobId: z.number() })),
  added: route('bills.see', 'GET', '/oversight/figures/{id}', 'What a long span came to, within the hour after it was added up')
    .input(withId)
    .output(z.object({ flow: flowOut.nullable(), table: table.nullable() })),
  flowLines: route('bills.see', 'GET', '/oversight/flow/lines', 'The entries behind one figure')
    .input(linesIn)
    .output(
      z.object({
        name: z.string(),
        /** Null of a long span, whose figure was added up in the background. */
        total: cents.nullable(),
        rows: z.array(
          z.object({
            key: z.string(),
            day: dayOut,
            who: z.string(),
            matter: z.string(),
            matterId: z.number(),
            text: z.string(),
            bill: z.string().nullable(),
            billId: z.number().nullable(),
            amount: cents,
          }),
        ),
        more: z.boolean(),
      }),
    ),
  report: route('bills.see', 'GET', '/oversight/reports/{key}', 'A report of the firm')
    .input(z.object({ key: z.enum(reportKeys), ...reportIn }))
    .output(table),
  file: route('bills.see', 'GET', '/oversight/file', 'A report as a file')
    .input(
      z.object({
        what: z.enum(whats),
        format: z.enum(['pdf', 'xlsx', 'csv']),
        /** The columns that are shown, by their keys; all where nothing is said. */
        columns: text(600).default(''),
        ...reportIn,
        weeks: weeksIn.weeks,
        as: z.enum(['work', 'act']).default('work'),
        group: z.enum(flowGroups).default('person'),
        /** The work in the background that added up a long span. */
        added: id.optional(),
      }),
    )
    .output(fileOut),
  readers: route('bills.see', 'GET', '/oversight/readers', 'Those to whom a report may go').output(
    z.array(z.object({ id: z.number(), name: z.string() })),
  ),
  schedules: route('bills.see', 'GET', '/oversight/schedules', 'Reports that go out by themselves').output(
    z.array(
      scheduleIn.extend({
        id: z.number(),
        madeBy: z.string(),
        mine: z.boolean(),
        names: z.array(z.string()),
        sentOn: dayOut.nullable(),
      }),
    ),
  ),
  makeSchedule: route('bills.see', 'POST', '/oversight/schedules', 'Let a report go out by itself').input(scheduleIn).output(made),
  changeSchedule: route('bills.see', 'PUT', '/oversight/schedules/{id}', 'Change a report that goes out')
    .input(scheduleIn.extend({ id }))
    .output(ok),
  removeSchedule: route('bills.see', 'DELETE', '/oversight/schedules/{id}', 'End a report that goes out').input(withId).output(ok),
  sendSchedule: route('bills.see', 'POST', '/oversight/schedules/{id}/sent', 'Send a report now').input(withId).output(ok),
  decisions: route('bills.see', 'GET', '/oversight/decisions', 'What needs a decision').output(
    z.object({
      kinds: z.array(
        z.object({
          key: z.string(),
          title: z.string(),
          count: z.number(),
          rows: z.array(
            z.object({
              key: z.string(),
              text: z.string(),
              hint: z.string(),
              amount: cents.nullable(),
              day: dayOut.nullable(),
              to: z.string(),
            }),
          ),
          all: z.string(),
          act: z.string(),
          /** Under which name its rows may be put off, where no act of the reader's settles them at once. */
          aside: z.enum(asideKinds).nullable(),
        }),
      ),
      /** How many rows the reader has put off. */
      aside: z.number(),
    }),
  ),
  putOff: route('bills.see', 'POST', '/oversight/decisions/put-off', 'Put something off that needs a decision')
    .input(z.object({ kind: z.enum(asideKinds), key: needed('Say what', 40), days: whole(1, 31) }))
    .output(ok),
  takeUp: route('bills.see', 'POST', '/oversight/decisions/take-up', 'Show again what was put off').output(ok),
  board: route('matters.see', 'GET', '/oversight/board', 'Open matters on a board')
    .input(z.object({ by: z.enum(boardGroups).default('stage'), areaId: id.optional() }))
    .output(
      z.object({
        columns: z.array(
          z.object({
            key: z.string(),
            name: z.string(),
            count: z.number(),
            cards: z.array(
              z.object({
                id: z.number(),
                number: z.string(),
                name: z.string(),
                client: z.string(),
                lead: z.string(),
                next: z.object({ day: dayOut, title: z.string() }).nullable(),
                activeOn: dayOut,
                stageId: z.number().nullable(),
                areaId: z.number().nullable(),
              }),
            ),
          }),
        ),
      }),
    ),
  ask: route('signed in', 'GET', '/oversight/ask', 'A figure by words')
    .input(z.object({ q: text(80) }))
    .output(z.array(z.object({ title: z.string(), hint: z.string(), to: z.string() }))),
}
