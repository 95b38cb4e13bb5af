import { addDays, type Day } from '@heron/core/calendar'
import type { EntityManager } from 'typeorm'
import { matterScope } from '../platform/access'
import { instant, isoOf, type Ctx } from '../platform/context'
import { literal, row, rows } from '../platform/database'

// Lists with counts, tags, links and reviews of many papers at once are one statement each, which the builder would not say more clearly.

export interface PaperFilter {
  matterId?: number | undefined
  folder?: string | undefined
  kind?: string | undefined
  by?: number | undefined
  from?: Day | undefined
  to?: Day | undefined
  tag?: string | undefined
}
interface Raw {
  id: number
  matterId: number
  matter: string
  folder: string
  name: string
  kind: string
  author: string
  day: Day | null
  tags: string | null
  note: string
  mediaType: string
  size: number
  version: number
  madeBy: string
  madeAt: string
  changedAt: string
  template: string | null
  outId: number | null
  outName: string | null
  outAt: string | null
  outNote: string
  shared: number
  words: 'waiting' | 'done' | 'none' | 'failed'
  review: 'asked' | 'approved' | 'sent back' | null
  deletedAt: string | null
  deletedBy: string | null
  rowVersion: number
}
export type PaperRow = Omit<Raw, 'tags' | 'outId' | 'outName' | 'outAt' | 'outNote'> & {
  tags: string[]
  out: { id: number; name: string; at: string; note: string } | null
}

/** Which papers are meant; every list of papers starts from it. */
export function paperWhere(ctx: Ctx, f: PaperFilter, bin: boolean): { sql: string; values: (string | number)[] } {
  const values: (string | number)[] = []
  const and = (sql: string, ...v: (string | number)[]) => {
    values.push(...v)
    return ` AND ${sql}`
  }
  let sql = `p.deleted_at IS ${bin ? 'NOT ' : ''}NULL AND ${matterScope(ctx.actor, 'm', 'papers')}`
  if (f.matterId) sql += and('p.matter_id = ?', f.matterId)
  if (f.folder) sql += and(`(p.folder = ? OR p.folder LIKE ?)`, f.folder, `${literal(f.folder)}/%`)
  if (f.kind) sql += and('p.kind = ?', f.kind)
  if (f.by) sql += and('p.created_by = ?', f.by)
  if (f.from) sql += and('IF(p.paper_on IS NULL, p.created_at >= ?, p.paper_on >= ?)', instant(ctx.clock.beginOf(f.from)), f.from)
  if (f.to) sql += and('IF(p.paper_on IS NULL, p.created_at < ?, p.paper_on <= ?)', instant(ctx.clock.beginOf(addDays(f.to, 1))), f.to)
  if (f.tag) sql += and('EXISTS (SELECT 1 FROM paper_tag t WHERE t.paper_id = p.id AND t.tag = ?)', f.tag)
  return { sql, values }
}

const from = `FROM paper p JOIN matter m ON m.id = p.matter_id`

/**
 * Papers by their ids, with all that a list shows, in the order of the ids. Read from the papers on, which few ids name: with old
 * statistics the database would begin with whoever filed them, and read all of theirs.
 */
export async function paperRows(m: EntityManager, ctx: Ctx, ids: readonly number[]): Promise<PaperRow[]> {
  if (!ids.length) return []
  const list = await rows<Raw>(
    m,
    `SELECT STRAIGHT_JOIN p.id, p.matter_id AS matterId, m.short_name AS matter, p.folder, p.name, p.kind, p.author, p.paper_on AS day, p.note, s.media_type AS mediaType, s.size, p.version_no AS version,
            u.name AS madeBy, p.created_at AS madeAt, COALESCE(v.made_at, p.created_at) AS changedAt, t.name AS template, p.out_to AS outId, o.name AS outName, p.out_at AS outAt, p.out_note AS outNote,
            p.text_state AS words, p.deleted_at AS deletedAt, d.name AS deletedBy, p.row_version AS rowVersion,
            (SELECT GROUP_CONCAT(g.tag ORDER BY g.tag SEPARATOR '\\n') FROM paper_tag g WHERE g.paper_id = p.id) AS tags,
            (SELECT r.state FROM paper_review r WHERE r.paper_id = p.id AND r.state <> 'withdrawn' ORDER BY r.id DESC LIMIT 1) AS review,
            (SELECT COUNT(*) FROM paper_link l WHERE l.matter_id = p.matter_id AND l.withdrawn_at IS NULL AND l.ends_on >= ?
                AND ((l.folder IS NOT NULL AND (p.folder = l.folder OR LEFT(p.folder, CHAR_LENGTH(l.folder) + 1) = CONCAT(l.folder, '/'))) OR EXISTS (SELECT 1 FROM paper_link_item i WHERE i.link_id = l.id AND i.paper_id = p.id))) AS shared
       ${from} JOIN stored_file s ON s.id = p.file_id JOIN user_account u ON u.id = p.created_by LEFT JOIN template t ON t.id = p.template_id
       LEFT JOIN user_account o ON o.id = p.out_to LEFT JOIN user_account d ON d.id = p.deleted_by LEFT JOIN paper_version v ON v.paper_id = p.id AND v.number = p.version_no
      WHERE p.id IN (?) AND ${matterScope(ctx.actor, 'm', 'papers')}`,
    [ctx.clock.today(), ids],
  )
  const shown = new Map(
    list.map((p) => [
      p.id,
      {
        ...p,
        madeAt: isoOf(p.madeAt),
        changedAt: isoOf(p.changedAt),
        deletedAt: p.deletedAt && isoOf(p.deletedAt),
        tags: p.tags ? p.tags.split('\n') : [],
        out: p.outId === null ? null : { id: p.outId, name: p.outName ?? '', at: isoOf(p.outAt!), note: p.outNote },
      },
    ]),
  )
  return ids.flatMap((id) => shown.get(id) ?? [])
}

/** A page of papers by a filter, the newest first. */
export async function papersOf(ctx: Ctx, f: PaperFilter & { q: string; bin?: 'yes' | undefined; page: number; size: number }) {
  const m = ctx.db.manager
  const where = paperWhere(ctx, f, f.bin === 'yes')
  const named = f.q ? ` AND p.name LIKE ?` : ''
  const values = [...where.values, ...(f.q ? [`%${literal(f.q)}%`] : [])]
  const total = await row<{ n: number }>(m, `SELECT COUNT(*) AS n ${from} WHERE ${where.sql}${named}`, values)
  const ids = await rows<{ id: number }>(
    m,
    `SELECT p.id ${from} WHERE ${where.sql}${named} ORDER BY p.created_at DESC, p.id DESC LIMIT ${Number(f.size)} OFFSET ${(Number(f.page) - 1) * Number(f.size)}`,
    values,
  )
  return { rows: await paperRows(m, ctx, ids.map((x) => x.id)), total: total!.n } // prettier-ignore
}

/** Folders of a matter: those that matters start with, those made by hand, and those in which papers lie. */
export async function foldersOf(
  m: EntityManager,
  matterId: number,
  areaId: number | null,
): Promise<{ path: string; count: number; standard: boolean }[]> {
  const standard = await rows<{ path: string }>(
    m,
    `SELECT path FROM standard_folder WHERE area_id IS NULL OR area_id = ? ORDER BY area_id IS NOT NULL, place, path`,
    [areaId],
  )
  const used = await rows<{ path: string; n: number }>(
    m,
    `SELECT folder AS path, COUNT(*) AS n FROM paper WHERE matter_id = ? AND deleted_at IS NULL GROUP BY folder LIMIT 3000`,
    [matterId],
  )
  const made = await rows<{ path: string }>(m, `SELECT path FROM paper_folder WHERE matter_id = ?`, [matterId])
  const own = new Map(used.map((u) => [u.path, u.n]))
  const isStandard = new Set(standard.map((s) => s.path))
  const all = new Set<string>()
  const add = (path: string) => {
    const steps = path.split('/')
    for (let i = 1; i <= steps.length; i += 1) all.add(steps.slice(0, i).join('/'))
  }
  for (const s of standard) add(s.path)
  for (const path of [...used, ...made].map((x) => x.path).sort((a, b) => a.localeCompare(b))) add(path)
  const counts = new Map<string, number>()
  for (const [path, n] of own) {
    const steps = path.split('/')
    for (let i = 1; i <= steps.length; i += 1) {
      const at = steps.slice(0, i).join('/')
      counts.set(at, (counts.get(at) ?? 0) + n)
    }
  }
  // Subfolders stand under their folder, each level in the order in which it came.
  const inner = new Map<string, string[]>()
  for (const path of all) {
    const parent = path.split('/').slice(0, -1).join('/')
    inner.set(parent, [...(inner.get(parent) ?? []), path])
  }
  const under = (parent: string): string[] => (inner.get(parent) ?? []).flatMap((p) => [p, ...under(p)])
  return under('').map((path) => ({ path, count: counts.get(path) ?? 0, standard: isStandard.has(path) }))
}
