import type { Day } from '@heron/core/calendar'
import type { EntityManager } from 'typeorm'
import { handable, matterScope, nameInHandover, requireMatter } from '../platform/access'
import type { Base, Held } from '../platform/area'
import { type Ctx, instant } from '../platform/context'
import { row, rows, run } from '../platform/database'
import { foldersOf } from './queries'

/** Of these matters those whose papers are open to whoever asks. */
export const mattersWithPapersOpen = (m: EntityManager, ctx: Ctx, matters: number[]) =>
  rows<{ id: number }>(m, `SELECT m.id FROM matter m WHERE m.id IN (?) AND ${matterScope(ctx.actor, 'm', 'papers')}`, [matters])

/** Whether somebody keeps a matter. */
export const keeps = (m: EntityManager, ctx: Ctx, matterId: number) =>
  row(m, `SELECT 1 FROM matter_team WHERE matter_id = ? AND user_id = ? AND keeps`, [matterId, ctx.actor.id])

/** The versions of a paper, the last first. */
export const versionsOf = (m: EntityManager, id: number) =>
  rows<{
    number: number
    why: string
    madeBy: string
    madeAt: string
    size: number
    mediaType: string
    made: number
  }>(
    m,
    `SELECT v.number, v.why, u.name AS madeBy, v.made_at AS madeAt, s.size, s.media_type AS mediaType, v.made_with IS NOT NULL AS made FROM paper_version v JOIN user_account u ON u.id = v.made_by JOIN stored_file s ON s.id = v.file_id WHERE v.paper_id = ? ORDER BY v.number DESC LIMIT 200`,
    [id],
  )

/** The mail that a paper came with. */
export const mailOf = (m: EntityManager, id: number) =>
  row<{ id: number; name: string }>(
    m,
    `SELECT p.id, p.name FROM paper_of_mail x JOIN paper p ON p.id = x.mail_paper_id WHERE x.paper_id = ? AND p.deleted_at IS NULL`,
    [id],
  )

/** The papers that came with a mail. */
export const cameWith = (m: EntityManager, id: number) =>
  rows<{ id: number; name: string }>(
    m,
    `SELECT p.id, p.name FROM paper_of_mail x JOIN paper p ON p.id = x.paper_id WHERE x.mail_paper_id = ? AND p.deleted_at IS NULL ORDER BY p.id LIMIT 300`,
    [id],
  )

/** Links through which a paper is seen. */
export const linksShowing = (m: EntityManager, ctx: Ctx, matterId: number, folder: string, id: number) =>
  rows<{ id: number; forWhom: string; endsOn: Day }>(
    m,
    `SELECT l.id, l.for_whom AS forWhom, l.ends_on AS endsOn FROM paper_link l WHERE l.matter_id = ? AND l.withdrawn_at IS NULL AND l.ends_on >= ?
       AND ((l.folder IS NOT NULL AND (? = l.folder OR LEFT(?, CHAR_LENGTH(l.folder) + 1) = CONCAT(l.folder, '/'))) OR EXISTS (SELECT 1 FROM paper_link_item i WHERE i.link_id = l.id AND i.paper_id = ?)) ORDER BY l.id DESC LIMIT 50`,
    [matterId, ctx.clock.today(), folder, folder, id],
  )

/** Reviews of a paper. */
export const reviewsOfPaper = (m: EntityManager, id: number) =>
  rows<{
    id: number
    version: number
    from: string
    to: string
    toId: number
    dueOn: Day | null
    message: string
    state: string
    remarks: string
    askedAt: string
    answeredAt: string | null
  }>(
    m,
    `SELECT r.id, r.version_no AS version, f.name AS \`from\`, t.name AS \`to\`, r.to_id AS toId, r.due_on AS dueOn, r.message, r.state, r.remarks, r.asked_at AS askedAt, r.answered_at AS answeredAt FROM paper_review r JOIN user_account f ON f.id = r.from_id JOIN user_account t ON t.id = r.to_id WHERE r.paper_id = ? ORDER BY r.id DESC LIMIT 50`,
    [id],
  )

/** The folders of a matter with how many papers lie in each, in the bin, and unread by the index. */
export async function folders(ctx: Ctx, matterId: number) {
  const m = ctx.db.manager
  const matter = await requireMatter(m, ctx, matterId, 'papers')
  const counts = await row<{ alive: number; bin: number; waiting: number; none: number }>(
    m,
    `SELECT COALESCE(SUM(deleted_at IS NULL), 0) AS alive, COALESCE(SUM(deleted_at IS NOT NULL), 0) AS bin, COALESCE(SUM(deleted_at IS NULL AND text_state = 'waiting'), 0) AS waiting, COALESCE(SUM(deleted_at IS NULL AND text_state IN ('none', 'failed')), 0) AS none FROM paper WHERE matter_id = ?`,
    [matterId],
  )
  return {
    folders: await foldersOf(m, matterId, matter.areaId),
    all: counts!.alive,
    bin: counts!.bin,
    words: { waiting: counts!.waiting, none: counts!.none },
  }
}

/** The longest path below a folder. */
export const longestPath = (m: EntityManager, inside: readonly [number, string, number, `${string}/`]) =>
  row<{ n: number | null }>(
    m,
    `SELECT MAX(CHAR_LENGTH(folder)) AS n FROM paper WHERE matter_id = ? AND (folder = ? OR LEFT(folder, ?) = ?)`,
    inside,
  )

/** What lies in a folder and below it has its new path. */
export const moveBelow = (
  m: EntityManager,
  table: string,
  column: string,
  to: string,
  from: string,
  inside: readonly [number, string, number, `${string}/`],
) =>
  run(
    m,
    `UPDATE ${table} SET ${column} = CONCAT(?, SUBSTRING(${column}, ?)) WHERE matter_id = ? AND (${column} = ? OR LEFT(${column}, ?) = ?)`,
    [to, [...from].length + 1, ...inside],
  )

/** The folders below it too; one that is there already stays. */
export const moveFolderRows = (m: EntityManager, to: string, from: string, inside: readonly [number, string, number, `${string}/`]) =>
  m.query(`UPDATE IGNORE paper_folder SET path = CONCAT(?, SUBSTRING(path, ?)) WHERE matter_id = ? AND (path = ? OR LEFT(path, ?) = ?)`, [
    to,
    [...from].length + 1,
    ...inside,
  ])

/** A folder and those below it. */
export const dropFolderRows = (m: EntityManager, inside: readonly [number, string, number, `${string}/`]) =>
  run(m, `DELETE FROM paper_folder WHERE matter_id = ? AND (path = ? OR LEFT(path, ?) = ?)`, inside)

/** Whether anything lies in a folder or below it. */
export const lyingIn = (m: EntityManager, inside: readonly [number, string, number, `${string}/`]) =>
  row(m, `SELECT 1 FROM paper WHERE matter_id = ? AND deleted_at IS NULL AND (folder = ? OR LEFT(folder, ?) = ?)`, inside)

/** The folders that papers of a new matter begin with, by area. */
export const standardFolders = (ctx: Ctx) =>
  rows<{ id: number; areaId: number | null; area: string | null; path: string }>(
    ctx.db.manager,
    `SELECT f.id, f.area_id AS areaId, a.name AS area, f.path FROM standard_folder f LEFT JOIN practice_area a ON a.id = f.area_id ORDER BY f.area_id IS NOT NULL, a.name, f.place, f.path LIMIT 5000`,
  )

/** The standard folders of an area are written anew. */
export const emptyStandardFolders = (m: EntityManager, areaId: number | null) =>
  m.query(`DELETE FROM standard_folder WHERE area_id <=> ?`, [areaId])

/** Whether the papers of a matter are open to whoever asks. */
export const papersOpen = (m: EntityManager, ctx: Ctx, matterId: number) =>
  row(m, `SELECT 1 FROM matter m WHERE m.id = ? AND ${matterScope(ctx.actor, 'm', 'papers')}`, [matterId])

/** The number of the last version of a paper. */
export const lastVersion = (m: EntityManager, id: number) =>
  row<{ n: number }>(m, `SELECT MAX(number) AS n FROM paper_version WHERE paper_id = ?`, [id])

/** Papers that a person has out; what whoever asks may not see is told without its name. */
export const papersOutTo = (m: EntityManager, ctx: Ctx, userId: number) =>
  rows<Held>(
    m,
    `SELECT p.id, IF(${matterScope(ctx.actor, 'm', 'papers')}, p.name, 'A paper') AS text, ${nameInHandover(ctx.actor)} AS hint FROM paper p JOIN matter m ON m.id = p.matter_id
        WHERE p.out_to = ? AND p.deleted_at IS NULL AND m.closed_on IS NULL AND ${handable(ctx.actor)} ORDER BY p.out_at, p.id`,
    [userId],
  )

/** The matter of a paper. */
export const matterOfPaper = (m: EntityManager, id: number) =>
  row<{ matterId: number | null; number: string | null }>(
    m,
    `SELECT p.matter_id AS matterId, m.number FROM paper p JOIN matter m ON m.id = p.matter_id WHERE p.id = ?`,
    [id],
  )

/** Reviews that wait for a person; what whoever asks may not see is told without its name. */
export const reviewsOf = (m: EntityManager, ctx: Ctx, userId: number) =>
  rows<Held>(
    m,
    `SELECT r.id, IF(${matterScope(ctx.actor, 'm', 'papers')}, p.name, 'A draft') AS text, CONCAT_WS(', ', r.due_on, ${nameInHandover(ctx.actor)}) AS hint
         FROM paper_review r JOIN paper p ON p.id = r.paper_id JOIN matter m ON m.id = p.matter_id
        WHERE r.to_id = ? AND r.state = 'asked' AND p.deleted_at IS NULL AND m.closed_on IS NULL AND ${handable(ctx.actor)} ORDER BY r.due_on IS NULL, r.due_on, r.id`,
    [userId],
  )

/** The matter of a paper under review. */
export const matterOfReview = (m: EntityManager, id: number) =>
  row<{ matterId: number | null; number: string | null }>(
    m,
    `SELECT p.matter_id AS matterId, m.number FROM paper_review r JOIN paper p ON p.id = r.paper_id JOIN matter m ON m.id = p.matter_id WHERE r.id = ?`,
    [id],
  )

/** The name of a paper under review. */
export const paperUnderReview = (m: EntityManager, id: number) =>
  row<{ name: string }>(m, `SELECT p.name FROM paper_review r JOIN paper p ON p.id = r.paper_id WHERE r.id = ?`, [id])

/** Who asked for a review, and of what. */
export const reviewAsked = (m: EntityManager, subjectId: number) =>
  row<{ matterId: number; askedBy: number; name: string }>(
    m,
    `SELECT p.matter_id AS matterId, r.from_id AS askedBy, p.name FROM paper_review r JOIN paper p ON p.id = r.paper_id WHERE r.id = ?`,
    [subjectId],
  )

const dayMs = 86_400_000

/** Previews that were made long ago. */
export const dropOldPreviews = (base: Base) =>
  run(base.db.manager, `DELETE FROM paper_preview WHERE made_at < ? LIMIT 5000`, [instant(new Date(base.clock.now().getTime() - dayMs))])

/** Visits through the links of a removed matter. */
export const dropVisits = (m: EntityManager, id: number) =>
  run(m, `DELETE v FROM paper_link_visit v JOIN paper_link l ON l.id = v.link_id WHERE l.matter_id = ?`, [id])

/** Papers of a matter that are out, and with whom. */
export const outOnMatter = (m: EntityManager, id: number) =>
  row<{ n: number; names: string | null }>(
    m,
    `SELECT COUNT(*) AS n, GROUP_CONCAT(DISTINCT u.name SEPARATOR ', ') AS names FROM paper p JOIN user_account u ON u.id = p.out_to WHERE p.matter_id = ? AND p.deleted_at IS NULL`,
    [id],
  )

/** Reviews of a matter that wait. */
export const reviewsOnMatter = (m: EntityManager, id: number) =>
  row<{ n: number }>(
    m,
    `SELECT COUNT(*) AS n FROM paper_review r JOIN paper p ON p.id = r.paper_id WHERE p.matter_id = ? AND r.state = 'asked' AND p.deleted_at IS NULL`,
    [id],
  )

/** Links of a matter that are open. */
export const linksOnMatter = (m: EntityManager, ctx: Ctx, id: number) =>
  row<{ n: number }>(m, `SELECT COUNT(*) AS n FROM paper_link WHERE matter_id = ? AND withdrawn_at IS NULL AND ends_on >= ?`, [
    id,
    ctx.clock.today(),
  ])
