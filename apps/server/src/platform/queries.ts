import type { DataSource, EntityManager, QueryRunner } from 'typeorm'
import { logOpenTo } from './acts'
import { type Actor, type Clock, type Ctx, instant } from './context'
import { row, rows, run } from './database'
import { billedOn, unbilledOn } from './figures'
import { sha256 } from './files'

export interface Account extends Omit<Actor, 'screened'> {
  initials: string
  passwordHash: string
  screens: string | null
}

/** Matters a person is screened from, as a list; with more than a few hundred each is looked up instead. */
const screensSql = `(SELECT IF(COUNT(*) > 400, NULL, COALESCE(GROUP_CONCAT(ms.matter_id), '')) FROM matter_screen ms WHERE ms.user_id = u.id) AS screens`

/** Whoever acts, from their account: role, rights beyond it, and the matters they are screened from. */
export const actorFrom = (a: Account): Actor => ({
  id: a.id,
  name: a.name,
  role: a.role,
  mayOverride: Boolean(a.mayOverride),
  ...(a.screens === null ? {} : { screened: a.screens ? a.screens.split(',').map(Number) : [] }),
})

export const accountSql = `SELECT u.id, u.name, u.initials, u.role, u.may_override_clearing = 1 AS mayOverride, u.password_hash AS passwordHash, ${screensSql} FROM user_account u WHERE u.active AND u.`

export interface SignedIn {
  actor: Actor
  initials: string
  csrf: string
}

/** Who is signed in by a token, if the session has not ended and the person still works here. */
export async function sessionOf(db: DataSource, clock: Clock, token: string | undefined): Promise<SignedIn | null> {
  if (!token) return null
  const found = await row<Account & { csrf: string }>(
    db.manager,
    `SELECT u.id, u.name, u.initials, u.role, u.may_override_clearing = 1 AS mayOverride, s.csrf, ${screensSql}
       FROM session s JOIN user_account u ON u.id = s.user_id
      WHERE s.token_hash = ? AND s.expires_at > ? AND u.active`,
    [sha256(token), instant(clock.now())],
  )
  if (!found) return null
  return {
    actor: actorFrom(found),
    initials: found.initials,
    csrf: found.csrf,
  }
}

/** Milliseconds of so many seconds. */
export const seconds = (n: number) => n * 1000

export type Base = Pick<Ctx, 'db' | 'clock'>

/** Whether somebody signed in from an address before. */
export const knownHere = (m: EntityManager, email: string, address: string) =>
  row(m, `SELECT 1 FROM sign_in_known k JOIN user_account u ON u.id = k.user_id WHERE u.email = ? AND u.active AND k.address = ?`, [
    email,
    address,
  ])

/** A name whose tries are counted from now on. */
export const countedTries = (m: EntityManager, name: string, now: Date) =>
  run(m, `INSERT INTO sign_in_guard (name, tries, last_at, free_at) VALUES (?, 0, ?, ?) ON DUPLICATE KEY UPDATE tries = tries`, [
    name,
    instant(now),
    instant(now),
  ])

/** A right try takes one of the wrong ones back. */
export const takeOneTry = (m: EntityManager, email: string, address: string) =>
  run(m, `UPDATE sign_in_guard SET tries = IF(tries > 0, tries - 1, 0), free_at = last_at WHERE name IN (?)`, [
    [`account ${email}`, `machine ${address}`],
  ])

/** Tries of long ago. */
export const dropOldTries = (m: EntityManager, base: Base) =>
  run(m, `DELETE FROM sign_in_guard WHERE last_at < ? LIMIT 500`, [instant(new Date(base.clock.now().getTime() - seconds(24 * 60 * 60)))])

/** Tries of one name, from wherever they came. */
export const dropTries = (m: EntityManager, email: string) =>
  run(m, `DELETE FROM sign_in_guard WHERE name = ? OR (name LIKE 'pair %' AND SUBSTRING_INDEX(name, ' ', -1) = ?)`, [
    `account ${email}`,
    email,
  ])

export interface Taken {
  id: number
  kind: string
  payload: string
  attempts: number
  userId: number
}

/** The job that waits longest; what another worker holds is passed over. */
export const jobToTake = (m: EntityManager, now: Date, kind: string, state: 'running' | 'waiting') =>
  row<Taken>(
    m,
    `SELECT id, kind, payload, attempts, user_id AS userId FROM job WHERE kind = ? AND state = ? AND run_after <= ? ORDER BY run_after, id LIMIT 1 FOR UPDATE SKIP LOCKED`,
    [kind, state, instant(now)],
  )

/** A letter by its key, once. */
export const keepMail = (
  m: EntityManager,
  ctx: Ctx,
  to: { email: string; name: string },
  l: { key: string; subject: string; body: string; matterId?: number | null; calendar?: { method: string; text: string } },
) =>
  run(
    m,
    `INSERT IGNORE INTO mail (message_key, to_address, to_name, subject, body, matter_id, created_at, calendar_method, calendar) VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?)`,
    [
      l.key.slice(0, 120),
      to.email,
      to.name,
      l.subject.slice(0, 300),
      l.body,
      l.matterId ?? null,
      instant(ctx.clock.now()),
      l.calendar?.method ?? null,
      l.calendar?.text ?? null,
    ],
  )

export interface MailServer {
  name: string
  address: string
  host: string
  port: number
  security: 'none' | 'starttls' | 'tls'
  user: string
  password: string
}

/** How the firm’s mail goes out. */
export const mailSet = (m: EntityManager) =>
  row<MailServer>(
    m,
    `SELECT IF(mail_name = '', name, mail_name) AS name, mail_address AS address, mail_host AS host, mail_port AS port, mail_security AS security, mail_user AS user, mail_password AS password FROM firm`,
  )

/** A letter that was not sent yet. */
export const mailToSend = (m: EntityManager, key: string) =>
  row<{
    id: number
    toAddress: string
    toName: string
    subject: string
    body: string
    method: string | null
    calendar: string | null
  }>(
    m,
    `SELECT id, to_address AS toAddress, to_name AS toName, subject, body, calendar_method AS method, calendar FROM mail WHERE message_key = ? AND sent_at IS NULL`,
    [key],
  )

/** What is attached to a letter. */
export const filesOfMail = (m: EntityManager, key: string) =>
  rows<{ id: number; name: string }>(m, `SELECT file_id AS id, name FROM mail_file WHERE message_key = ? ORDER BY ordinal`, [key])

/** A letter went out. */
export const mailSent = (m: EntityManager, ctx: Ctx, id: number) =>
  run(m, `UPDATE mail SET sent_at = ? WHERE id = ?`, [instant(ctx.clock.now()), id])

/** One process at a time has a turn of a schedule. */
export const takeTurn = (runner: QueryRunner, lock: string, name: string) =>
  runner.query(`SELECT GET_LOCK(${lock}, 0) AS held`, [name.slice(0, 40)])

/** The turn is over. */
export const endTurn = (runner: QueryRunner, lock: string, name: string) =>
  runner.query(`SELECT RELEASE_LOCK(${lock})`, [name.slice(0, 40)])

/** What stands on a paper of the firm. */
export interface FirmHead {
  name: string
  address: string
  phone: string
  line?: string
  email?: string
  web?: string
  foot?: string
}

/** The letterhead as it is set up now. */
export async function letterheadOf(m: EntityManager): Promise<FirmHead> {
  const found = await row<FirmHead>(
    m,
    `SELECT name, address, phone, letter_line AS line, letter_email AS email, letter_web AS web, letter_foot AS foot FROM firm`,
  )
  return found ?? { name: '', address: '', phone: '' }
}

/** A budget, where the matter has one. */
export const budgetSet = (m: EntityManager, matterId: number) =>
  row<{ budget: number; capped: number; warnAt: string; warnIds: string; lead: number }>(
    m,
    `SELECT t.budget, t.capped, t.warn_at AS warnAt, t.warn_ids AS warnIds, x.lead_id AS lead FROM bill_terms t JOIN matter x ON x.id = t.owner_id
      WHERE t.owner = 'matter' AND t.owner_id = ? AND t.budget IS NOT NULL`,
    [matterId],
  )

/** What was billed, is to be billed, and is not posted yet. */
export const budgetUsed = (m: EntityManager, matterId: number) =>
  row<{ billed: number; unbilled: number; drafts: number }>(
    m,
    `SELECT ${billedOn('x.id')} AS billed,
            ${unbilledOn.time('x')} + ${unbilledOn.costs('x')} + ${unbilledOn.portions('x')} AS unbilled,
            (SELECT COALESCE(SUM(d.amount), 0) FROM time_entry d WHERE d.matter_id = x.id AND d.state = 'draft' AND d.charge = 'billable') AS drafts
       FROM matter x WHERE x.id = ?`,
    [matterId],
  )

/** The last edition of any rules that the firm saved. */
export const lastOfRules = (m: EntityManager) => row<{ last: number }>(m, `SELECT COALESCE(MAX(id), 0) AS last FROM rule_set_edition`)

/** The editions in force up to one. */
export const rulesUpTo = (m: EntityManager, last: number) =>
  rows<{ key: string; part: 'set' | 'practice'; no: number; body: string | null }>(
    m,
    `SELECT e.rule_set_key AS \`key\`, e.part, e.no, e.body FROM rule_set_edition e
           JOIN (SELECT rule_set_key, part, MAX(no) AS no FROM rule_set_edition WHERE id <= ? GROUP BY rule_set_key, part) x USING (rule_set_key, part, no) ORDER BY e.id`,
    [last],
  )

/** The last act on record. */
export const lastAct = (m: EntityManager) => row<{ id: number | null }>(m, `SELECT MAX(id) AS id FROM audit_log`)

/** Acts after one, the last first. */
export const actsAfter = (m: EntityManager, id: number, most: number) =>
  rows<{ id: number }>(m, `SELECT id FROM audit_log WHERE id > ? ORDER BY id DESC LIMIT ${Number(most)}`, [id])

/** What of these acts a person may see, but for their own: the matters, and what they were done to. */
export const actsToTell = (ctx: Ctx, ids: readonly number[]) =>
  rows<{ matterId: number | null; subject: string }>(
    ctx.db.manager,
    `SELECT DISTINCT l.matter_id AS matterId, l.subject FROM audit_log l LEFT JOIN matter m ON m.id = l.matter_id
      WHERE l.id IN (?) AND (l.user_id IS NULL OR l.user_id <> ?) AND ${logOpenTo(ctx)}`,
    [ids, ctx.actor.id],
  )

export interface Due {
  kind: string
  state: 'waiting' | 'running'
  at: string
}
/** What is due of each of these kinds: the first of it by its index, however many wait. */
export async function firstDue(m: EntityManager, kinds: readonly string[], now: Date): Promise<Due[]> {
  const parts = kinds.flatMap((kind) =>
    (['waiting', 'running'] as const).map(
      (state) =>
        `SELECT '${kind}' AS kind, '${state}' AS state, MIN(run_after) AS at FROM job WHERE kind = '${kind}' AND state = '${state}' AND run_after <= ?`,
    ),
  )
  const found = await rows<Due>(
    m,
    parts.join(' UNION ALL '),
    parts.map(() => instant(now)),
  )
  return found.filter((d) => d.at !== null)
}

/** In which zone the firm works; nothing before it is set up. */
export const zoneOfFirm = async (m: EntityManager): Promise<string | null> =>
  (await row<{ zone: string }>(m, `SELECT zone FROM firm`))?.zone ?? null

/** Somebody’s account. */
export const accountOf = (m: EntityManager, id: number) => row<Account>(m, `${accountSql}id = ?`, [id])

/** The account that an address signs in to. */
export const accountByEmail = (asked: string, manager: EntityManager) => row<Account>(manager, `${accountSql}email = ?`, [asked])

/** Whether the database answers. */
export const answers = (m: EntityManager) => row(m, 'SELECT 1')
