import type { Day } from '@heron/core/calendar'
import type { EntityManager } from 'typeorm'
import { matterScope, requireMatter } from '../platform/access'
import { type Ctx, isoOf } from '../platform/context'
import { row, rows } from '../platform/database'
import { UserAccount } from '../platform/shared-entities'
import { PaperLink } from './entities'

/** Whether a colleague may see papers of a matter; who may not is never asked to read one. */
export async function mayRead(m: EntityManager, userId: number, matterId: number): Promise<string | null> {
  const who = await m.findOne(UserAccount, { select: { id: true, name: true, role: true }, where: { id: userId, active: true } })
  if (!who) return null
  return (await row(m, `SELECT 1 FROM matter m WHERE m.id = ? AND ${matterScope({ ...who, mayOverride: false }, 'm', 'papers')}`, [
    matterId,
  ]))
    ? who.name
    : null
}

/** Drafts that wait for the reader, of matters whose papers are open to them. */
export async function reviewsFor(ctx: Ctx) {
  const list = await rows<{
    id: number
    paperId: number
    paper: string
    matterId: number
    matter: string
    from: string
    dueOn: Day | null
    message: string
    askedAt: string
  }>(
    ctx.db.manager,
    `SELECT r.id, p.id AS paperId, p.name AS paper, p.matter_id AS matterId, m.short_name AS matter, u.name AS \`from\`, r.due_on AS dueOn, r.message, r.asked_at AS askedAt
       FROM paper_review r JOIN paper p ON p.id = r.paper_id JOIN matter m ON m.id = p.matter_id JOIN user_account u ON u.id = r.from_id
      WHERE r.to_id = ? AND r.state = 'asked' AND p.deleted_at IS NULL AND ${matterScope(ctx.actor, 'm', 'papers')} ORDER BY r.due_on IS NULL, r.due_on, r.id LIMIT 100`,
    [ctx.actor.id],
  )
  return list.map((r) => ({ ...r, askedAt: isoOf(r.askedAt) }))
}

/** How far the making of a preview has come. */
export const jobOfPreview = (m: EntityManager, ctx: Ctx, pdfJobId: number) =>
  row<{ id: number; state: string; error: string | null; mine: number }>(
    m,
    `SELECT id, state, error, user_id = ? AS mine FROM job WHERE id = ?`,
    [ctx.actor.id, pdfJobId],
  )

/** Papers with where they lie, for one file of all. */
export const papersForZip = (ctx: Ctx, ids: number[]) =>
  rows<{ id: number; name: string; folder: string; number: string; sha256: string; size: number }>(
    ctx.db.manager,
    `SELECT p.id, p.name, p.folder, m.number, s.sha256, s.size FROM paper p JOIN matter m ON m.id = p.matter_id JOIN stored_file s ON s.id = p.file_id WHERE p.id IN (?) AND p.deleted_at IS NULL AND ${matterScope(ctx.actor, 'm', 'papers')} ORDER BY m.number, p.folder, p.name`,
    [ids],
  )

/** Links by which papers of a matter were given to those outside, and who opened them. */
export async function linksOf(ctx: Ctx, matterId: number) {
  const m = ctx.db.manager
  await requireMatter(m, ctx, matterId, 'papers')
  const links = await rows<{
    id: number
    forWhom: string
    email: string
    folder: string | null
    endsOn: Day
    needsCode: number
    mayUpload: number
    madeBy: string
    madeAt: string
    withdrawnAt: string | null
  }>(
    m,
    `SELECT l.id, l.for_whom AS forWhom, l.email, l.folder, l.ends_on AS endsOn, l.needs_code AS needsCode, l.may_upload AS mayUpload, u.name AS madeBy, l.made_at AS madeAt, l.withdrawn_at AS withdrawnAt FROM paper_link l JOIN user_account u ON u.id = l.made_by WHERE l.matter_id = ? ORDER BY l.id DESC LIMIT 200`,
    [matterId],
  )
  if (!links.length) return []
  const ids = links.map((l) => l.id)
  const items = await rows<{ linkId: number; id: number; name: string }>(
    m,
    `SELECT i.link_id AS linkId, p.id, p.name FROM paper_link_item i JOIN paper p ON p.id = i.paper_id WHERE i.link_id IN (?) AND p.deleted_at IS NULL ORDER BY p.name`,
    [ids],
  )
  const visits = await rows<{ linkId: number; what: string; paper: string | null; at: string; address: string }>(
    m,
    `SELECT x.link_id AS linkId, x.what, p.name AS paper, x.at, x.address FROM (SELECT v.*, ROW_NUMBER() OVER (PARTITION BY link_id ORDER BY id DESC) AS k FROM paper_link_visit v WHERE link_id IN (?)) x LEFT JOIN paper p ON p.id = x.paper_id WHERE x.k <= 50 ORDER BY x.id DESC`,
    [ids],
  )
  const today = ctx.clock.today()
  return links.map(({ withdrawnAt, ...l }) => ({
    ...l,
    needsCode: Boolean(l.needsCode),
    mayUpload: Boolean(l.mayUpload),
    madeAt: isoOf(l.madeAt),
    state: withdrawnAt ? ('withdrawn' as const) : l.endsOn < today ? ('ended' as const) : ('open' as const),
    papers: items.filter((i) => i.linkId === l.id).map(({ id, name }) => ({ id, name })),
    visits: visits.filter((v) => v.linkId === l.id).map(({ what, paper, at, address }) => ({ what, paper, at: isoOf(at), address })),
  }))
}

const inLink = `p.matter_id = ? AND p.deleted_at IS NULL AND ((? IS NOT NULL AND (p.folder = ? OR LEFT(p.folder, CHAR_LENGTH(?) + 1) = CONCAT(?, '/'))) OR EXISTS (SELECT 1 FROM paper_link_item i WHERE i.link_id = ? AND i.paper_id = p.id))`

const inLinkValues = (l: PaperLink) => [l.matterId, l.folder, l.folder, l.folder ?? '', l.folder ?? '', l.id]

/** What a link shows: the first thousand by name, and how many there are. */
export const papersInLink = (m: EntityManager, link: PaperLink) =>
  rows<{ id: number; name: string; size: number; day: Day | null; madeAt: string; total: number }>(
    m,
    `SELECT p.id, p.name, s.size, p.paper_on AS day, p.created_at AS madeAt, COUNT(*) OVER () AS total FROM paper p JOIN stored_file s ON s.id = p.file_id WHERE ${inLink} ORDER BY p.name LIMIT 1000`,
    inLinkValues(link),
  )

/** One paper of a link. */
export const paperInLink = (m: EntityManager, id: number, link: PaperLink) =>
  row<{ fileId: number; name: string }>(m, `SELECT p.file_id AS fileId, p.name FROM paper p WHERE p.id = ? AND ${inLink}`, [
    id,
    ...inLinkValues(link),
  ])

/** How much came in through a link. */
export const sentThroughLink = (m: EntityManager, id: number) =>
  row<{ n: number }>(m, `SELECT COUNT(*) AS n FROM paper_link_visit WHERE link_id = ? AND what = 'sent'`, [id])
