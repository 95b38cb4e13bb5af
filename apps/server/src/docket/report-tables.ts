import { counted } from '@heron/core/words'
import type { ReportIn } from '@heron/contract'
import { addDays, showDay, showDayInWords, type Day } from '@heron/core/calendar'
import { isOverdue } from '@heron/core/docket'
import { matterScope, requireMatter } from '../platform/access'
import type { Ctx } from '../platform/context'
import { fieldFault } from '../platform/problem'
import { ruleSets } from '../platform/rule-sets'
import { agenda, docketOf } from './queries'
import { districtOf } from './state'
import { courtCalendarOf } from './state-queries'
import { Firm } from '../platform/shared-entities'
import { onTeam, teamRows } from './reminder-queries'

export type ReportRow = Awaited<ReturnType<typeof docketOf>>[number]

/** A report as a table: what CSV, XLSX, the screen and a plain PDF show. Days are ISO dates. */
export interface ReportTable {
  title: string
  under: string
  columns: string[]
  rows: string[][]
  /** The dates themselves, where it is a report of dates. */
  dates: ReportRow[] | null
  /** A file name without its ending. */
  file: string
  withMatter: boolean
  matterId: number | null
}

/** How a date stands as of a day: its marking, and whether it is overdue. */
export const standing = (r: ReportRow, today: Day) =>
  [
    r.mark === 'open' ? '' : r.mark,
    isOverdue(r, today) ? 'overdue' : '',
    r.urgent ? 'urgent' : '',
    r.tentative ? 'tentative' : '',
    r.provisional ? 'provisional' : '',
    r.leftOut ? 'left out' : '',
    r.offCalendar ? 'off calendar' : '',
  ]
    .filter(Boolean)
    .join(', ')
export const rolled = (r: ReportRow) => (r.beforeRoll && r.beforeRoll !== r.day ? `rolled from ${showDay(r.beforeRoll)}` : '')
export const fixed = (r: ReportRow) =>
  r.trigger && r.setBy !== 'rule'
    ? `${r.setBy === 'court' ? 'set by the court' : 'set by hand'}${r.ruleDay ? `; the rule gives ${showDay(r.ruleDay)}` : ''}`
    : ''

const dateColumns = [
  'Date',
  'Time',
  'Matter',
  'Title',
  'Weight',
  'Authority',
  'Standing',
  'Counted',
  'Rolled from',
  'Set',
  'Responsible',
  'Place',
  'What must be done',
]
const dateRow = (today: Day) => (r: ReportRow) => [
  r.day,
  r.time ?? '',
  r.matter,
  r.title,
  r.weight,
  r.authority,
  standing(r, today),
  r.how,
  r.beforeRoll && r.beforeRoll !== r.day ? r.beforeRoll : '',
  fixed(r),
  r.responsible ?? '',
  r.place,
  r.text,
]

/** Dates of a span, late ones first, as the agenda shows them. */
async function spanTable(ctx: Ctx, f: ReportIn): Promise<ReportTable> {
  const found = await agenda(ctx, f, { rows: 5000, late: 5000 })
  const list = [...found.late, ...found.rows]
  const whose = { mine: ctx.actor.name, team: `${ctx.actor.name}’s teams`, firm: 'the whole firm' }[f.scope]
  return {
    title: `Docket, ${showDayInWords(f.from)} to ${showDayInWords(found.until)}`,
    under: `Dates of ${whose}${found.late.length ? `; ${found.late.length} overdue stand first` : ''}${found.more.rows || found.more.late ? '; not all fit here, narrow the list' : ''}`,
    columns: dateColumns,
    rows: list.map(dateRow(ctx.clock.today())),
    dates: list,
    file: 'docket',
    withMatter: true,
    matterId: null,
  }
}

/** One matter's docket, with authorities, rolls and counts. */
async function matterTable(ctx: Ctx, id: number): Promise<ReportTable> {
  const matter = await requireMatter(ctx.db.manager, ctx, id, 'docket')
  const list = (await docketOf(ctx, id)).filter((r) => !r.leftOut)
  return {
    title: `Docket of ${matter.name}`,
    under: `Matter ${matter.number}; ${counted(list.length, 'date')}`,
    columns: dateColumns,
    rows: list.map(dateRow(ctx.clock.today())),
    dates: list,
    file: `docket-${matter.number}`,
    withMatter: false,
    matterId: id,
  }
}

/** Who is on which open matter, since when. */
async function teamsTable(ctx: Ctx, f: ReportIn): Promise<ReportTable> {
  const where = [matterScope(ctx.actor), 'm.closed_on IS NULL', `m.kind <> 'practice'`]
  const values: number[] = []
  if (f.userId) {
    where.push('t.user_id = ?')
    values.push(f.userId)
  }
  if (f.areaId) {
    where.push('m.area_id = ?')
    values.push(f.areaId)
  }
  if (f.scope === 'mine') {
    where.push(onTeam)
    values.push(ctx.actor.id)
  }
  const list = await teamRows(ctx, where, values)
  return {
    title: 'Who is on which matter',
    under: `${counted(new Set(list.map((r) => r.number)).size, 'open matter')}, ${counted(new Set(list.map((r) => r.who)).size, 'person', 'people')}`,
    columns: ['Person', 'Role', 'Since', 'Matter', 'Name', 'Practice area', 'Next date'],
    rows: list.map((r) => [r.who, r.role, r.since, r.number, r.name, r.area ?? '', r.next ?? '']),
    dates: null,
    file: 'teams',
    withMatter: true,
    matterId: null,
  }
}

/** Days ahead on which a court is closed, or only filing is impossible, besides weekends. */
async function closedTable(ctx: Ctx, f: ReportIn): Promise<ReportTable> {
  const m = ctx.db.manager
  const until = f.to ?? addDays(f.from, 366)
  if (until < f.from || until > addDays(f.from, 1100)) throw fieldFault('to', 'Give a span of at most three years')
  const district = await districtOf(m)
  const list: string[][] = []
  for (const { set } of (await ruleSets(m)).values()) {
    const calendar = await courtCalendarOf(m, set.key, district)
    for (let day = f.from; day <= until; day = addDays(day, 1)) {
      const name = calendar.nameOf(day)
      if (!name) continue
      const kind = calendar.closedWhy(day, 'before')
        ? 'closed'
        : calendar.closedWhy(day, 'after')
          ? 'closed for periods counted on'
          : 'no filing'
      list.push([day, showDay(day).slice(0, 3), name, set.title, kind])
    }
  }
  return {
    title: 'Days on which courts are closed',
    under: `${showDayInWords(f.from)} to ${showDayInWords(until)}, besides weekends`,
    columns: ['Date', 'Day', 'Why', 'Court', 'How'],
    rows: list.sort((a, b) => (a[0]! + a[3]! < b[0]! + b[3]! ? -1 : 1)),
    dates: null,
    file: 'closed-days',
    withMatter: false,
    matterId: null,
  }
}

export async function reportTable(ctx: Ctx, f: ReportIn): Promise<ReportTable> {
  switch (f.kind) {
    case 'span':
      return spanTable(ctx, f)
    case 'matter':
      if (!f.matterId) throw fieldFault('matterId', 'Choose a matter')
      return matterTable(ctx, f.matterId)
    case 'teams':
      return teamsTable(ctx, f)
    case 'closed':
      return closedTable(ctx, f)
  }
}

export const firmName = async (ctx: Ctx) =>
  (await ctx.db.manager.findOne(Firm, { select: { name: true, id: true }, where: { id: 1 } }))?.name ?? ''
