import type { AreaIn, FirmSettings, Grants, Letterhead, LogFilter, MailIn } from '@heron/contract'
import { addDays } from '@heron/core/calendar'
import type { EntityManager } from 'typeorm'
import { changesIn } from '../matters'
import { matterScope } from '../platform/access'
import { logOpenTo } from '../platform/acts'
import { type Ctx, instant, isoOf } from '../platform/context'
import { literal, mostWords, row, rows, run } from '../platform/database'
import { jobKinds } from '../platform/jobs'
import { mailServer } from '../platform/mail'
import { AreaTeam } from './entities'

/** What a job is called where it is told of. */
export const nounOf = (kind: string) => jobKinds()[kind]?.noun ?? kind

/** A letter that has waited for so long is told of on Today, like what has failed. */
const longHours = 4

/** What is stuck: given up after all its tries, or still waiting after at least one. */
const stuck = `(j.state = 'failed' OR (j.state = 'waiting' AND j.error IS NOT NULL))`

interface Stuck {
  id: number
  kind: string
  state: 'waiting' | 'failed'
  attempts: number
  createdAt: string
  runAfter: string
  error: string
  who: string
  to: string | null
  subject: string | null
}

/** Work in the background that did not go well, what failed first. Of a letter on a matter that is closed to the reader, no subject. */
export async function background(ctx: Ctx) {
  const list = await rows<Stuck>(
    ctx.db.manager,
    `SELECT j.id, j.kind, j.state, j.attempts, j.created_at AS createdAt, j.run_after AS runAfter, COALESCE(j.error, '') AS error, u.name AS who, l.to_name AS \`to\`,
            IF(l.matter_id IS NULL OR ${matterScope(ctx.actor)}, l.subject, NULL) AS subject
       FROM job j JOIN user_account u ON u.id = j.user_id
       LEFT JOIN mail l ON j.kind = 'send mail' AND l.message_key = JSON_VALUE(j.payload, '$.key') LEFT JOIN matter m ON m.id = l.matter_id
      WHERE j.state IN ('failed', 'waiting') AND ${stuck} ORDER BY j.state = 'waiting', j.id DESC LIMIT 200`,
  )
  return list.map(({ kind, ...j }) => ({
    ...j,
    what: nounOf(kind),
    createdAt: isoOf(j.createdAt),
    runAfter: j.state === 'failed' ? null : isoOf(j.runAfter),
  }))
}

/** How much is stuck so that somebody should look: what failed, and what has waited long. */
export async function stuckCount(ctx: Ctx): Promise<number> {
  const before = instant(new Date(ctx.clock.now().getTime() - longHours * 3_600_000))
  const found = await row<{ n: number }>(
    ctx.db.manager,
    `SELECT COUNT(*) AS n FROM job j WHERE j.state IN ('failed', 'waiting') AND ${stuck} AND (j.state = 'failed' OR j.created_at < ?)`,
    [before],
  )
  return found!.n
}

/** A job that is stuck, locked until it is settled. */
export const stuckJob = (m: EntityManager, id: number) =>
  row<{ kind: string }>(m, `SELECT j.kind FROM job j WHERE j.id = ? AND ${stuck} FOR UPDATE`, [id])

/** By the firm's clock; whoever runs the application makes it. */
export const nightly = '02:00'

/** Backups that were made or wanted, newest first. */
export async function backups(ctx: Ctx) {
  const m = ctx.db.manager
  const found = await rows<{
    id: number
    wantedAt: string
    who: string
    endedAt: string | null
    state: 'wanted' | 'running' | 'done' | 'failed'
    name: string
    place: string
    size: number
    tables: number
    rows: number
    files: number
    triedAt: string | null
    restored: number
    words: string
  }>(
    m,
    `SELECT b.id, b.wanted_at AS wantedAt, COALESCE(u.name, 'By night') AS who, b.ended_at AS endedAt, b.state, b.name, b.place, b.size, b.tables,
            b.row_count AS \`rows\`, b.files, b.tried_at AS triedAt, b.restored, b.words
       FROM backup b LEFT JOIN user_account u ON u.id = b.user_id ORDER BY b.id DESC LIMIT 60`,
  )
  return {
    place: found.find((b) => b.place)?.place ?? '',
    nightly,
    rows: found.map(({ place: _, ...b }) => ({
      ...b,
      restored: Boolean(b.restored),
      wantedAt: isoOf(b.wantedAt),
      endedAt: b.endedAt && isoOf(b.endedAt),
      triedAt: b.triedAt && isoOf(b.triedAt),
    })),
  }
}

/** Whether a backup is wanted or being made. */
export const backupUnderWay = (m: EntityManager) => row(m, `SELECT 1 FROM backup WHERE state IN ('wanted', 'running') FOR UPDATE`)

/** Areas of practice with their stages, what staff see in each, and how many matters stand there. */
export async function areas(ctx: Ctx) {
  const m = ctx.db.manager
  const list = await rows<{ id: number; name: string; ruleSetKey: string | null; retired: number; matters: number } & Grants>(
    m,
    `SELECT a.id, a.name, a.rule_set_key AS ruleSetKey, a.retired, a.staff_file AS file, a.staff_docket AS docket, a.staff_papers AS papers, a.staff_money AS money, a.staff_trust AS trust,
            (SELECT COUNT(*) FROM matter m WHERE m.area_id = a.id) AS matters FROM practice_area a ORDER BY a.retired, a.name`,
  )
  const stages = await rows<{ id: number; areaId: number; name: string; retired: number; matters: number }>(
    m,
    `SELECT s.id, s.area_id AS areaId, s.name, s.retired, (SELECT COUNT(*) FROM matter m WHERE m.stage_id = s.id) AS matters FROM stage s ORDER BY s.area_id, s.ordinal`,
  )
  const teams = await m.find(AreaTeam, { select: { areaId: true, userId: true, role: true } })
  const procedures = await rows<{ areaId: number; id: number }>(m, `SELECT area_id AS areaId, procedure_id AS id FROM area_procedure`)
  return list.map(({ file, docket, papers, money, trust, ...a }) => ({
    ...a,
    retired: Boolean(a.retired),
    staff: { file, docket, papers, money, trust },
    stages: stages.filter((s) => s.areaId === a.id).map(({ areaId: _area, ...s }) => ({ ...s, retired: Boolean(s.retired) })),
    team: teams.filter((t) => t.areaId === a.id).map(({ userId, role }) => ({ userId, role })),
    procedureIds: procedures.filter((p) => p.areaId === a.id).map((p) => p.id),
  }))
}

/** Whether a stage stands on any matter. */
export const stageInUse = (m: EntityManager, id: number) =>
  row(m, `SELECT 1 FROM matter_stage WHERE stage_id = ? UNION SELECT 1 FROM matter WHERE stage_id = ? LIMIT 1`, [id, id])

const own = (input: AreaIn) => [
  input.name,
  input.ruleSetKey,
  input.staff.file,
  input.staff.docket,
  input.staff.papers,
  input.staff.money,
  input.staff.trust,
  input.retired,
]

/** A practice area, by the columns of its form. */
export const addArea = (m: EntityManager, input: AreaIn) =>
  m.query(
    `INSERT INTO practice_area (name, rule_set_key, staff_file, staff_docket, staff_papers, staff_money, staff_trust, retired) VALUES (?, ?, ?, ?, ?, ?, ?, ?)`,
    own(input),
  )

/** The same columns, changed. */
export const writeAreaRow = (m: EntityManager, input: AreaIn, id: number) =>
  run(
    m,
    `UPDATE practice_area SET name = ?, rule_set_key = ?, staff_file = ?, staff_docket = ?, staff_papers = ?, staff_money = ?, staff_trust = ?, retired = ? WHERE id = ?`,
    [...own(input), id],
  )

/** Kinds that contacts have. */
export const kindsInUse = (m: EntityManager) => rows<{ kind: string }>(m, `SELECT DISTINCT kind FROM contact_kind`)

/** The list of kinds is written anew. */
export const emptyKinds = (m: EntityManager) => run(m, `DELETE FROM contact_kind_listed`)

/** Activity codes that entries have. */
export const activitiesInUse = (m: EntityManager) =>
  rows<{ code: string }>(m, `SELECT DISTINCT activity AS code FROM time_entry WHERE activity IS NOT NULL`)

/** Whether the firm was set up. */
export const firmThere = (m: EntityManager) => row(m, `SELECT 1 FROM firm`)

/** Puts people of the new firm on the team of an area, by their addresses. */
export const addToAreaTeam = (
  m: EntityManager,
  areas: Map<string, number>,
  name: string,
  role: 'lawyer' | 'paralegal' | 'lead',
  email: string,
) =>
  run(m, `INSERT INTO area_team (area_id, user_id, role) SELECT ?, id, ? FROM user_account WHERE email = ?`, [
    areas.get(name)!,
    role,
    email,
  ])

/** How letters go out. The password is never told. */
export async function mailSettings(ctx: Ctx) {
  const found = await row<Omit<MailIn, 'password'> & { hasPassword: number }>(
    ctx.db.manager,
    `SELECT mail_name AS name, mail_address AS address, filing_address AS filing, mail_host AS host, mail_port AS port, mail_security AS security, mail_user AS user, mail_password <> '' AS hasPassword FROM firm`,
  )
  const { hasPassword, ...own } = found!
  return { ...own, hasPassword: Boolean(hasPassword), own: (await mailServer(ctx.db.manager)) !== null && !own.host }
}

/** How mail goes out, locked until it is changed. */
export const lockedMail = (m: EntityManager) =>
  row<{ host: string; user: string; password: string }>(
    m,
    `SELECT mail_host AS host, mail_user AS user, mail_password AS password FROM firm FOR UPDATE`,
  )

/** What the firm has set, in one row. */
export const settingsRow = (m: EntityManager) =>
  row<
    Omit<FirmSettings, 'workDays' | 'twoPeopleForBills' | 'paymentOrder'> & {
      workDays: string
      twoPeopleForBills: number
      paymentOrder: string
    }
  >(
    m,
    `SELECT name, address, phone, district, zone, time_unit_minutes AS timeUnitMinutes, time_rounding AS timeRounding, tax_number AS taxNumber, bill_terms_days AS billTermsDays, trust_notice_days AS trustNoticeDays, two_people_for_bills = 1 AS twoPeopleForBills,
            tax_basis_points AS taxBasisPoints, COALESCE(tax_soft_basis_points, tax_basis_points) AS taxSoftBasisPoints, COALESCE(tax_hard_basis_points, 0) AS taxHardBasisPoints,
            payment_order AS paymentOrder, matter_pattern AS matterPattern, work_days AS workDays FROM firm`,
  )

/** The list of holidays is written anew. */
export const emptyHolidays = (m: EntityManager) => run(m, `DELETE FROM firm_holiday`)

/** How far back words are looked for where no day is given. */
const mostDays = 400

interface Logged {
  id: number
  at: string
  who: string
  kind: string
  text: string
  matterId: number | null
  matter: string | null
  detail: string | null
}

/** Acts of the firm's log that are open to the reader, the newest first, before one that was seen. */
export function find(ctx: Ctx, f: LogFilter, before: number | undefined, most: number): Promise<Logged[]> {
  const where = [logOpenTo(ctx)]
  const values: (string | number)[] = []
  const add = (sql: string, ...own: (string | number)[]) => {
    where.push(sql)
    values.push(...own)
  }
  if (before) add(`l.id < ?`, before)
  if (f.userId) add(`l.user_id = ?`, f.userId)
  if (f.matterId) add(`l.matter_id = ?`, f.matterId)
  if (f.kind) add(`l.kind = ?`, f.kind)
  // Words are looked for in a year and a month, unless a day says otherwise: the log grows for ever.
  const from = f.from ?? (f.q ? addDays(f.to ?? ctx.clock.today(), -mostDays) : undefined)
  if (from) add(`l.at >= ?`, instant(ctx.clock.beginOf(from)))
  if (f.to) add(`l.at < ?`, instant(ctx.clock.beginOf(addDays(f.to, 1))))
  for (const word of f.q.split(/\s+/).filter(Boolean).slice(0, mostWords)) add(`l.text LIKE ?`, `%${literal(word)}%`)
  return rows<Logged>(
    ctx.db.manager,
    `SELECT l.id, l.at, COALESCE(u.name, 'The application') AS who, l.kind, l.text, l.matter_id AS matterId, m.short_name AS matter, l.detail
       FROM audit_log l LEFT JOIN matter m ON m.id = l.matter_id LEFT JOIN user_account u ON u.id = l.user_id
      WHERE ${where.join(' AND ')} ORDER BY l.id DESC LIMIT ${Number(most)}`,
    values,
  )
}

const shown = ({ detail, ...l }: Logged) => ({ ...l, at: isoOf(l.at), changes: changesIn(detail) })

/** What was done in the firm, newest first, as far as it is open to the reader; further back from the last one seen. */
export async function auditLog(ctx: Ctx, f: LogFilter & { before?: number | undefined; size: number }) {
  const found = await find(ctx, f, f.before, f.size + 1)
  const kinds = await rows<{ kind: string }>(ctx.db.manager, `SELECT DISTINCT kind FROM audit_log ORDER BY kind LIMIT 200`)
  return { rows: found.slice(0, f.size).map(shown), more: found.length > f.size, kinds: kinds.map((k) => k.kind) }
}

/** What the letterhead has besides name and address. */
export const extras = async (m: EntityManager): Promise<Letterhead> =>
  (await row<Letterhead>(m, `SELECT letter_line AS line, letter_email AS email, letter_web AS web, letter_foot AS foot FROM firm`)) ?? {
    line: '',
    email: '',
    web: '',
    foot: '',
  }
