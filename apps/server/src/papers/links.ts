import { createHash, randomBytes, randomInt, timingSafeEqual } from 'node:crypto'
import { addDays, type Day } from '@heron/core/calendar'
import { fileName } from '@heron/core/formats'
import { counted } from '@heron/core/words'
import { LessThan, type EntityManager } from 'typeorm'
import { change, requireMatter, touchMatter } from '../platform/access'
import { audit } from '../platform/audit'
import { actorOf } from '../platform/auth'
import { instant, isoOf, type Ctx } from '../platform/context'
import { insertRow, row, rows, work } from '../platform/database'
import { downloadStored, keepFile } from '../platform/files'
import { sendMail } from '../platform/mail'
import { mediaTypeOf } from '../platform/media'
import { fieldFault, notFound, Problem } from '../platform/problem'
import { Paper, PaperLink, PaperLinkItem, PaperLinkVisit } from './entities'
import { addPaper } from './store'
import { safeType } from './viewing'
import { Firm, Matter } from '../platform/shared-entities'

const hashed = (secret: string) => createHash('sha256').update(secret).digest('hex')
const minute = 60_000

interface LinkIn {
  id: number
  forWhom: string
  email: string
  message: string
  paperIds: number[]
  folder: string | null
  endsOn: Day
  needsCode: boolean
  mayUpload: boolean
  send: boolean
}

/** Shows chosen papers, or a folder with what comes into it, to someone outside by a secret address that is told only now. */
export function makeLink(ctx: Ctx, input: LinkIn, origin: string): Promise<{ id: number; token: string }> {
  const today = ctx.clock.today()
  if (input.endsOn < today) throw fieldFault('endsOn', 'Give a day that is still to come')
  if (input.endsOn > addDays(today, 731)) throw fieldFault('endsOn', 'A link ends within two years')
  if ((input.needsCode || input.send) && !input.email) throw fieldFault('email', 'Give the address to which it is sent')
  if (!input.paperIds.length && !input.folder) throw fieldFault('paperIds', 'Choose papers or a folder')
  return work(ctx, async (m) => {
    const matter = await requireMatter(m, ctx, input.id, 'papers', change)
    const token = randomBytes(24).toString('base64url')
    const ids = [...new Set(input.paperIds)]
    if (ids.length) {
      const there = await m
        .createQueryBuilder(Paper, 'p')
        .where('p.id IN (:...ids) AND p.matterId = :matterId AND p.deletedAt IS NULL', { ids, matterId: matter.id })
        .getCount()
      if (there !== ids.length) throw fieldFault('paperIds', 'Choose papers of this matter')
    }
    const id = await insertRow(m, PaperLink, {
      matterId: matter.id,
      tokenHash: hashed(token),
      forWhom: input.forWhom,
      email: input.email,
      message: input.message,
      needsCode: Number(input.needsCode),
      mayUpload: Number(input.mayUpload),
      uploadFolder: input.folder ?? 'Correspondence',
      folder: input.folder,
      endsOn: input.endsOn,
      madeBy: ctx.actor.id,
      madeAt: instant(ctx.clock.now()),
    })
    if (ids.length) await m.insert(PaperLinkItem, ids.map((paperId) => ({ linkId: id, paperId }))) // prettier-ignore
    const what = input.folder ? `the folder ${input.folder}` : counted(ids.length, 'paper')
    await audit(m, ctx, {
      kind: 'shared',
      text: `Link to ${what} for ${input.forWhom}, until ${input.endsOn}`,
      matterId: matter.id,
      subject: 'paper',
      subjectId: ids[0] ?? null,
    })
    if (input.send)
      await sendMail(m, ctx, {
        key: `link ${id}`,
        to: { name: input.forWhom, email: input.email },
        subject: 'Papers for you',
        body: `${ctx.actor.name} shares papers with you until ${input.endsOn}:\n\n${origin}/outside/${token}${input.message ? `\n\n${input.message}` : ''}`,
        matterId: matter.id,
      })
    await touchMatter(m, ctx, matter.id)
    return { id, token }
  })
}

export function withdrawLink(ctx: Ctx, id: number): Promise<void> {
  return work(ctx, async (m) => {
    const link = await m.createQueryBuilder(PaperLink, 'l').where({ id }).setLock('pessimistic_write').getOne()
    if (!link) throw notFound('link')
    await requireMatter(m, ctx, link.matterId, 'papers', change).catch(() => {
      throw notFound('link')
    })
    if (link.withdrawnAt) return
    await m.update(PaperLink, id, { withdrawnAt: instant(ctx.clock.now()), passHash: null, codeHash: null })
    await audit(m, ctx, { kind: 'shared', text: `Ended the link for ${link.forWhom}`, matterId: link.matterId, subject: 'paper' })
  })
}

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

const gone = () => new Problem(404, 'not-found', 'This link has ended or was withdrawn. Ask whoever sent it to you for a new one.')

/** The link of an address, as long as it lives. Whether it is unknown, over or withdrawn is not told apart. */
async function linkOf(m: EntityManager, ctx: Ctx, token: string, lock = false): Promise<PaperLink> {
  const builder = m.createQueryBuilder(PaperLink, 'l').where({ tokenHash: hashed(token) })
  const link = await (lock ? builder.setLock('pessimistic_write') : builder).getOne()
  if (!link || link.withdrawnAt || link.endsOn < ctx.clock.today()) throw gone()
  return link
}

const passes = (link: PaperLink, pass: string) => {
  if (!link.needsCode) return true
  if (!link.passHash || !pass) return false
  return timingSafeEqual(Buffer.from(hashed(pass)), Buffer.from(link.passHash))
}
async function openLink(m: EntityManager, ctx: Ctx, token: string, pass: string): Promise<PaperLink> {
  const link = await linkOf(m, ctx, token)
  if (!passes(link, pass)) throw new Problem(403, 'code-needed', 'Give the code that was sent to you first.')
  return link
}

const inLink = `p.matter_id = ? AND p.deleted_at IS NULL AND ((? IS NOT NULL AND (p.folder = ? OR LEFT(p.folder, CHAR_LENGTH(?) + 1) = CONCAT(?, '/'))) OR EXISTS (SELECT 1 FROM paper_link_item i WHERE i.link_id = ? AND i.paper_id = p.id))`
const inLinkValues = (l: PaperLink) => [l.matterId, l.folder, l.folder, l.folder ?? '', l.folder ?? '', l.id]

const visit = (
  m: EntityManager,
  ctx: Ctx,
  link: PaperLink,
  what: 'opened' | 'read' | 'sent',
  address: string,
  paperId: number | null = null,
) => m.insert(PaperLinkVisit, { linkId: link.id, paperId, what, at: instant(ctx.clock.now()), address: address.slice(0, 60) })

export async function openOutside(ctx: Ctx, token: string, pass: string, address: string) {
  const m = ctx.db.manager
  const link = await linkOf(m, ctx, token)
  const firm = await m.findOne(Firm, { select: { name: true, id: true }, where: { id: 1 } })
  const shut = !passes(link, pass)
  const [name, host] = link.email.split('@')
  const base = {
    firm: firm?.name ?? '',
    forWhom: shut ? '' : link.forWhom,
    message: shut ? '' : link.message,
    endsOn: link.endsOn,
    needsCode: shut,
    codeTo: shut ? `${name?.slice(0, 2) ?? ''}…@${host ?? ''}` : '',
    mayUpload: !shut && Boolean(link.mayUpload),
  }
  if (shut) return { ...base, papers: [] }
  await visit(m, ctx, link, 'opened', address)
  const papers = await rows<{ id: number; name: string; size: number; day: Day }>(
    m,
    `SELECT p.id, p.name, s.size, COALESCE(p.paper_on, DATE(p.created_at)) AS day FROM paper p JOIN stored_file s ON s.id = p.file_id WHERE ${inLink} ORDER BY p.name LIMIT 1000`,
    inLinkValues(link),
  )
  return { ...base, papers }
}

/** Sends a code of six digits, good for ten minutes; at most one a minute. */
export function sendCode(ctx: Ctx, token: string): Promise<void> {
  return work(ctx, async (m) => {
    const link = await linkOf(m, ctx, token, true)
    if (!link.needsCode) return
    const now = ctx.clock.now()
    if (link.codeUntil && new Date(isoOf(link.codeUntil)).getTime() - now.getTime() > 9 * minute) return
    const code = String(randomInt(0, 1_000_000)).padStart(6, '0')
    const sender = await actorOf(m, link.madeBy)
    await m.update(PaperLink, link.id, {
      codeHash: hashed(`${link.id} ${code}`),
      codeUntil: instant(new Date(now.getTime() + 10 * minute)),
    })
    if (sender)
      await sendMail(
        m,
        { ...ctx, actor: sender },
        {
          key: `link code ${link.id} ${now.getTime()}`,
          to: { name: link.forWhom, email: link.email },
          subject: `Your code: ${code}`,
          body: `The code for the papers shared with you is ${code}. It is good for ten minutes.`,
        },
      )
  })
}

/** Wrong codes after which a link takes none any more, however many were sent: nobody tries a million of them. */
const mostTries = 15

export function giveCode(ctx: Ctx, token: string, code: string): Promise<{ pass: string }> {
  return work(ctx, async (m) => {
    const link = await linkOf(m, ctx, token, true)
    const alive = link.codeHash && link.codeUntil && new Date(isoOf(link.codeUntil)) > ctx.clock.now() && link.codeTries < mostTries
    if (!alive) return null
    const right = timingSafeEqual(Buffer.from(hashed(`${link.id} ${code.trim()}`)), Buffer.from(link.codeHash!))
    if (!right) {
      // Counted also where the answer is a refusal, so it is not undone with it.
      await m.update(PaperLink, link.id, { codeTries: link.codeTries + 1 })
      return null
    }
    const pass = randomBytes(18).toString('base64url')
    await m.update(PaperLink, link.id, { passHash: hashed(pass), codeHash: null, codeUntil: null, codeTries: 0 })
    return { pass }
  }).then((given) => {
    if (!given)
      throw fieldFault(
        'code',
        'This is not the code, or it is over ten minutes old. Ask for a new one; after many wrong ones, ask for a new link',
      )
    return given
  })
}

export async function outsidePaper(ctx: Ctx, token: string, id: number, pass: string, address: string): Promise<File> {
  const m = ctx.db.manager
  const link = await openLink(m, ctx, token, pass)
  const found = await row<{ fileId: number; name: string }>(
    m,
    `SELECT p.file_id AS fileId, p.name FROM paper p WHERE p.id = ? AND ${inLink}`,
    [id, ...inLinkValues(link)],
  )
  if (!found) throw notFound('paper')
  await visit(m, ctx, link, 'read', address, id)
  return downloadStored(m, ctx, found.fileId, found.name, safeType)
}

const mostFromOutside = 200

/** A file that someone outside sends by a link that lets them; it comes into the folder of the link, in the name of who made the link. */
export async function sendFromOutside(
  ctx: Ctx,
  token: string,
  pass: string,
  name: string,
  data: Uint8Array,
  address: string,
): Promise<void> {
  await work(ctx, async (m) => {
    const open = await openLink(m, ctx, token, pass)
    const link = await linkOf(m, ctx, token, true)
    if (!link.mayUpload) throw new Problem(403, 'not-allowed', 'Nothing can be sent by this link.')
    const sent = await row<{ n: number }>(m, `SELECT COUNT(*) AS n FROM paper_link_visit WHERE link_id = ? AND what = 'sent'`, [open.id])
    if (sent!.n >= mostFromOutside) throw new Problem(409, 'too-many', 'As many files as this link takes were sent. Ask for a new one.')
    const maker = await actorOf(m, link.madeBy)
    if (!maker) throw gone()
    const by: Ctx = { ...ctx, actor: maker }
    const file = await keepFile(m, by, data, mediaTypeOf(data.subarray(0, 4100), name))
    const id = await addPaper(m, by, {
      matterId: link.matterId,
      folder: link.uploadFolder || 'Correspondence',
      name: fileName(name),
      fileId: file.id,
      author: link.forWhom,
    })
    await visit(m, ctx, link, 'sent', address, id)
    await audit(m, by, {
      kind: 'filed',
      text: `${link.forWhom} sent ${fileName(name)} by a link`,
      matterId: link.matterId,
      subject: 'paper',
      subjectId: id,
    })
    await sendMail(m, by, {
      key: `from outside ${id}`,
      to: link.madeBy,
      subject: `${link.forWhom} sent ${fileName(name)}`,
      body: `${link.forWhom} sent ${fileName(name)} by the link that you made.`,
      matterId: link.matterId,
    })
    await m.update(Matter, { id: link.matterId, activeOn: LessThan(ctx.clock.today()) }, { activeOn: ctx.clock.today() })
  })
}
