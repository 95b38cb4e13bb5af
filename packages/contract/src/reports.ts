import { z } from 'zod'
import { dayOut, fileOut, id, made, ok, route } from './base'
import { agendaIn } from './docket'

export const reportKinds = ['span', 'matter', 'teams', 'closed'] as const
export const reportFormats = ['pdf', 'csv', 'xlsx'] as const
/** What a report is of: a span of dates, a matter's docket, who is on which matter, days on which courts are closed. */
const reportIn = {
  ...agendaIn,
  kind: z.enum(reportKinds).default('span'),
  matterId: id.optional(),
}
export type ReportIn = z.infer<z.ZodObject<typeof reportIn>>
const how = {
  format: z.enum(reportFormats).default('pdf'),
  texts: z.stringbool().or(z.boolean()).default(false),
  /** A list, or events and dates along a line of time. */
  layout: z.enum(['list', 'line']).default('list'),
  paper: z.enum(['LETTER', 'A4']).default('LETTER'),
}
export type ReportHow = z.infer<z.ZodObject<typeof how>>

const spread = z.object({
  count: z.number(),
  shortest: z.number().nullable(),
  lowerQuartile: z.number().nullable(),
  median: z.number().nullable(),
  upperQuartile: z.number().nullable(),
  longest: z.number().nullable(),
  bars: z.array(z.object({ from: z.number(), to: z.number(), count: z.number() })),
})

export const reports = {
  file: route('docket.see', 'GET', '/docket/report', 'A report of dates as PDF, CSV or XLSX')
    .input(z.object({ ...reportIn, ...how }))
    .output(fileOut),
  table: route('docket.see', 'GET', '/docket/report/table', 'A report of dates to read on screen or print')
    .input(z.object({ ...reportIn, texts: z.stringbool().default(false) }))
    .output(
      z.object({
        title: z.string(),
        under: z.string(),
        columns: z.array(z.string()),
        rows: z.array(z.array(z.string())),
        asOf: dayOut,
      }),
    ),
  mail: route('docket.see', 'POST', '/docket/report/letters', 'Send a report to people of the firm now, each as they may see it')
    .input(z.object({ ...reportIn, ...how, userIds: z.array(id).min(1, 'Choose who gets it').max(60) }))
    .output(z.object({ sent: z.number() })),
  schedules: route('docket.see', 'GET', '/docket/report/schedules', 'The reader’s own reports that are sent every week').output(
    z.array(z.object({ id: z.number(), words: z.string(), weekday: z.number(), to: z.array(z.string()), lastOn: dayOut.nullable() })),
  ),
  schedule: route('docket.see', 'POST', '/docket/report/schedules', 'Send a report every week on a set day')
    .input(
      z.object({ ...reportIn, ...how, userIds: z.array(id).min(1, 'Choose who gets it').max(60), weekday: z.number().int().min(1).max(7) }),
    )
    .output(made),
  endSchedule: route('docket.see', 'DELETE', '/docket/report/schedules/{id}', 'Send a report no longer').input(z.object({ id })).output(ok),
  figures: route('docket.see', 'GET', '/docket/figures', 'Days from commencement to trial, or from motion to ruling')
    .input(
      z.object({
        of: z.enum(['trial', 'ruling']).default('trial'),
        scope: z.enum(['mine', 'firm']).default('firm'),
        areaId: id.optional(),
        judgeId: id.optional(),
      }),
    )
    .output(
      z.object({
        spread,
        judges: z.array(z.object({ id: z.number(), name: z.string() })),
        matters: z.array(
          z.object({
            matterId: z.number(),
            number: z.string(),
            name: z.string(),
            from: z.string(),
            to: z.string(),
            days: z.number(),
            what: z.string(),
          }),
        ),
      }),
    ),
}
