import { createHash, randomBytes, randomInt, timingSafeEqual } from 'node:crypto'
import { addDays, type Day } from '@heron/core/calendar'
import { fileName } from '@heron/core/formats'
import { counted } from '@heron/core/words'
import { LessThan, type EntityManager } from 'typeorm'
import { change, requireMatter, touchMatter } from '../platform/access'
import { audit } from '../platform/audit'
import { actorOf } from '../platform/auth'
import { instant, isoOf, type Ctx } from '../platform/context'
import { insertRow, work } from '../platform/database'
import { downloadStored, keepFile } from '../platform/files'
import { sendMail } from '../platform/mail'
import { mediaTypeOf } from '../platform/media'
import { fieldFault, notFound, Problem } from '../platform/problem'
import { Paper, PaperLink, PaperLinkItem, PaperLinkVisit } from './entities'
import { addPaper } from './store'
import { safeType } from './viewing'
import { Firm, Matter } from '../platform/shared-entities'
import { paperInLink, papersInLink, sentThroughLink } from './link-queries'

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
  if (shut) return { ...base, papers: [], total: 0 }
  await visit(m, ctx, link, 'opened', address)
  const papers = await papersInLink(m, link)
  const shown = papers.map(({ madeAt, total: _total, ...p }) => ({ ...p, day: p.day ?? ctx.clock.at(madeAt).day }))
  return { ...base, papers: shown, total: papers[0]?.total ?? 0 }
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
  const found = await paperInLink(m, id, link)
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
    const sent = await sentThroughLink(m, open.id)
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
