import type { Day } from '@heron/core/calendar'
import { counted } from '@heron/core/words'
import { In, type EntityManager } from 'typeorm'
import { change, requireMatter, touchMatter } from '../../platform/access'
import { audit } from '../../platform/audit'
import { instant, type Ctx } from '../../platform/context'
import { work } from '../../platform/database'
import { keepFile } from '../../platform/files'
import { mediaTypeOf } from '../../platform/media'
import { fieldFault, notFound, refused } from '../../platform/problem'
import { makeNote } from '../../notes'
import { makeTask } from '../../tasks'
import { FiledMessage, MailIn, PaperOfMail } from '../entities'
import { addPaper } from '../store'
import { messageOf } from '../viewing'
import {
  proposeMatters,
  type Proposal,
  type Summary,
  filedBefore,
  filingAddress,
  lockMatterForMail,
  matterForMail,
  touchesWall,
  tray,
  watches,
} from './queries'
import { cluesOf, staffAddresses, takeIn } from './reading'
import { UserAccount } from '../../platform/shared-entities'

/**
 * The message, when it waits for the reader: their own, or a stranger's for those who keep watch. A stranger's letter that may
 * belong to a matter from which the reader is screened is not there for them.
 */
async function requireMail(m: EntityManager, ctx: Ctx, id: number, lock = false): Promise<{ mail: MailIn; summary: Summary }> {
  const builder = m.createQueryBuilder(MailIn, 'x').where({ id })
  const mail = await (lock ? builder.setLock('pessimistic_write') : builder).getOne()
  const mine = mail && (mail.userId === ctx.actor.id || (mail.userId === null && watches(ctx)))
  if (!mail || !mine) throw notFound('e-mail')
  const summary = JSON.parse(mail.summary) as Summary
  if (mail.userId === null && touchesWall(ctx, summary)) throw notFound('e-mail')
  return { mail, summary }
}

const proposalsFor = async (m: EntityManager, ctx: Ctx, mail: MailIn, s: Summary): Promise<Proposal[]> =>
  proposeMatters(m, ctx, cluesOf(mail.subject, s, await staffAddresses(m)))

export async function oneMail(ctx: Ctx, id: number, matterId?: number) {
  const m = ctx.db.manager
  const { mail, summary } = await requireMail(m, ctx, id)
  // Once filed it belongs to its matter, and is read there by whoever may.
  if (mail.state === 'filed') throw notFound('e-mail that waits')
  const found = await proposalsFor(m, ctx, mail, summary)
  const here = matterId ? await matterForMail(m, ctx, matterId) : null
  const proposals = here
    ? [{ matterId: matterId!, ...here, score: 200, why: ['you are here'] }, ...found.filter((p) => p.matterId !== matterId)]
    : found
  const { ids, touches: _touches, ...rest } = summary
  return {
    id,
    state: mail.state,
    known: mail.userId !== null,
    source: mail.source,
    subject: mail.subject,
    day: mail.dated,
    ...rest,
    proposals,
    before: distinctPapers(await filedBefore(m, ctx, ids)),
  }
}

/** A message may be known by several ids; each paper is named once. */
const distinctPapers = <T extends { paperId: number }>(list: readonly T[]): T[] =>
  list.filter((b, i) => list.findIndex((x) => x.paperId === b.paperId) === i)

interface FileIn {
  id: number
  matterId: number
  name: string
  folder: string
  parts: { index: number; name: string; folder: string }[]
  again: boolean
  task: { text: string; assigneeId: number; dueOn: Day | null } | null
  tell: number[]
  tellText: string
}

const kindOfPart: Record<string, string> = { 'message/rfc822': 'e-mail' }

/** Files a message and what was chosen of its parts as one act, with a task and a word to others where wanted. */
export async function fileMail(ctx: Ctx, input: FileIn): Promise<{ paperId: number; partIds: number[] }> {
  const before = await requireMail(ctx.db.manager, ctx, input.id)
  const message = await messageOf(ctx, before.mail.fileId)
  if (new Set(input.parts.map((p) => p.index)).size !== input.parts.length) throw fieldFault('parts', 'Each attachment is filed once')
  return work(ctx, async (m) => {
    const { mail, summary } = await requireMail(m, ctx, input.id, true)
    const matter = await requireMatter(m, ctx, input.matterId, 'papers', change)
    if (mail.state !== 'waiting')
      throw refused('already-filed', mail.state === 'filed' ? 'This e-mail was filed already.' : 'This e-mail was put aside.')
    // Two who file the same message into one matter go one after the other.
    await lockMatterForMail(m, matter.id)
    const same = (await filedBefore(m, ctx, summary.ids)).find((b) => b.matterId === matter.id)
    if (same && !input.again)
      throw refused('already-filed', `This message is on file already as ${same.name}. File it again only if you mean to.`)
    const author = message.from ? message.from.name || message.from.address : ''
    const paperId = await addPaper(m, ctx, {
      matterId: matter.id,
      folder: input.folder,
      name: input.name,
      fileId: mail.fileId,
      kind: 'e-mail',
      author: author.slice(0, 120),
      paperOn: message.day,
    })
    await m.insert(FiledMessage, [...new Set(summary.ids)].map((messageId) => ({ paperId, matterId: matter.id, messageId }))) // prettier-ignore
    const partIds: number[] = []
    for (const p of input.parts) {
      const part = message.parts[p.index]
      if (!part) throw fieldFault('parts', 'There is no such attachment')
      const file = await keepFile(m, ctx, part.data, mediaTypeOf(part.data.subarray(0, 4100), part.name))
      const id = await addPaper(m, ctx, {
        matterId: matter.id,
        folder: p.folder,
        name: p.name,
        fileId: file.id,
        kind: kindOfPart[part.mediaType] ?? '',
        author: author.slice(0, 120),
        paperOn: message.day,
      })
      await m.insert(PaperOfMail, { paperId: id, mailPaperId: paperId })
      partIds.push(id)
    }
    await m.update(MailIn, mail.id, { state: 'filed', doneAt: instant(ctx.clock.now()), doneBy: ctx.actor.id })
    const withParts = partIds.length ? ` with ${counted(partIds.length, 'attachment')}` : ''
    await audit(m, ctx, {
      kind: 'filed',
      text: `Filed ${input.name}${withParts} in ${input.folder}`,
      matterId: matter.id,
      subject: 'paper',
      subjectId: paperId,
    })
    const within: Ctx = { ...ctx, tx: m }
    if (input.task)
      await makeTask(within, {
        text: input.task.text,
        details: '',
        matterId: matter.id,
        assigneeId: input.task.assigneeId,
        dueOn: input.task.dueOn,
        dueTime: null,
        remindOn: null,
        estimateMinutes: null,
        priority: 'normal',
        onlyNamed: false,
        named: [],
        items: [],
        paperIds: [paperId, ...partIds].slice(0, 40),
      })
    if (input.tell.length) await tell(m, within, matter.id, paperId, input)
    await touchMatter(m, ctx, matter.id)
    return { paperId, partIds }
  })
}

const escaped = (t: string) => t.replaceAll('&', '&amp;').replaceAll('<', '&lt;').replaceAll('>', '&gt;').replaceAll('"', '&quot;')

async function tell(m: EntityManager, ctx: Ctx, matterId: number, paperId: number, input: FileIn) {
  const people = await m.find(UserAccount, { select: { id: true, name: true }, where: { id: In([...new Set(input.tell)]), active: true } })
  const names = people
    .map((p) => `<span data-type="mention" data-id="${p.id}" data-label="${escaped(p.name)}">@${escaped(p.name)}</span>`)
    .join(' ')
  await makeNote(ctx, {
    matterId,
    contactId: null,
    topicId: null,
    paperId,
    html: `<p>${names} ${escaped(input.tellText || `Filed: ${input.name}`)}</p>`,
  })
}

export function putAside(ctx: Ctx, id: number): Promise<void> {
  return work(ctx, async (m) => {
    const { mail } = await requireMail(m, ctx, id, true)
    if (mail.state === 'filed') throw refused('already-filed', 'This e-mail was filed already.')
    await m.update(MailIn, id, { state: 'put aside', doneAt: instant(ctx.clock.now()), doneBy: ctx.actor.id })
  })
}

/** A letter to the firm's address for filing, handed over by the mail server. */
export async function arrive(ctx: Ctx, input: { to: string; from: string; data: Uint8Array }): Promise<void> {
  const m = ctx.db.manager
  const firm = await filingAddress(m)
  const [wanted, to] = [firm?.address.toLowerCase() ?? '', input.to.toLowerCase()]
  if (!wanted || to !== wanted) throw notFound('address for filing')
  const file = await keepFile(m, ctx, input.data, 'message/rfc822')
  const mail = await messageOf(ctx, file.id)
  const staff = await staffAddresses(m)
  const said = mail.from?.address.toLowerCase() ?? ''
  // Someone's own only where the letter and whoever handed it over say the same address of ours.
  const known = staff.get(said) ?? null
  const userId = known !== null && (!input.from || staff.get(input.from.toLowerCase()) === known) ? known : null
  await takeIn(ctx, file.id, { source: 'address', userId, sentBy: input.from })
}

/** How many e-mails wait for the reader, for Today. */
export const waitingMail = async (ctx: Ctx): Promise<number> => (await tray(ctx, { page: 1, size: 1 })).total
