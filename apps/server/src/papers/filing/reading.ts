import { fileName, type MailMessage } from '@heron/core/formats'
import { saysNothing, sureEnough, titleIn } from '@heron/core/papers'
import { instant, type Ctx } from '../../platform/context'
import { insertRow, work } from '../../platform/database'
import { keepFile, readStored, storedHead } from '../../platform/files'
import { fieldFault } from '../../platform/problem'
import { apart } from '../apart'
import type { ReadMail } from '../apart/work'
import { MailIn, Upload } from '../entities'
import { messageOf } from '../viewing'
import { proposeMatters, type Summary } from './queries'
import { Not, type EntityManager } from 'typeorm'
import { UserAccount } from '../../platform/shared-entities'

const mostTitles = 20

async function proposedNames(mail: MailMessage): Promise<Summary['parts']> {
  let left = mostTitles
  const out: Summary['parts'] = []
  for (const [index, p] of mail.parts.entries()) {
    const base = { index, name: p.name, proposed: p.name, why: '', mediaType: p.mediaType, size: p.data.length, inline: p.inline }
    if ((saysNothing(p.name) || p.unnamed) && !p.inline && left > 0 && p.data.length < 30_000_000 && !p.mediaType.startsWith('image/')) {
      left -= 1
      const title = titleIn((await apart('words', { data: p.data, mediaType: p.mediaType }).catch(() => null)) ?? '')
      if (title) {
        out.push({ ...base, proposed: fileName(`${title}${p.name.slice(p.name.lastIndexOf('.'))}`), why: 'its first line' })
        continue
      }
    }
    out.push(base)
  }
  return out
}

export async function summaryOf(mail: ReadMail, sha256: string): Promise<Omit<Summary, 'touches'>> {
  const who = mail.from ? mail.from.name || mail.from.address : 'unknown sender'
  return {
    from: mail.from,
    to: mail.to.slice(0, 100),
    cc: mail.cc.slice(0, 100),
    dateText: mail.dateText,
    excerpt: mail.plain.slice(0, 1500).trim(),
    unread: mail.unread,
    name: fileName(`${mail.day ? `${mail.day} ` : ''}${who}, ${mail.subject || 'no subject'}.eml`),
    ids: [...new Set([mail.messageId ?? `sha256:${sha256}`, ...mail.innerIds])],
    parts: await proposedNames(mail),
  }
}

export const staffAddresses = async (m: EntityManager) =>
  new Map(
    (await m.find(UserAccount, { select: { id: true, email: true }, where: { active: true, email: Not('') } })).map((u) => [
      u.email.toLowerCase(),
      u.id,
    ]),
  )

export function cluesOf(subject: string, s: Pick<Summary, 'from' | 'to' | 'cc' | 'excerpt'>, staff: ReadonlyMap<string, number>) {
  const addresses = [s.from, ...s.to, ...s.cc].flatMap((p) => (p ? [p.address.toLowerCase()] : [])).filter((a) => a && !staff.has(a))
  return { subject, excerpt: s.excerpt, addresses: [...new Set(addresses)] }
}

/** Reads an e-mail and lets it wait to be filed. The file itself is kept as it came, whatever can be read of it. */
export async function takeIn(
  ctx: Ctx,
  fileId: number,
  how: { source: 'dropped' | 'address'; userId: number | null; sentBy?: string },
): Promise<{ id: number }> {
  const mail = await messageOf(ctx, fileId)
  const { sha256 } = await storedHead(ctx.db.manager, fileId)
  const read = await summaryOf(mail, sha256)
  // Asked as one who is screened from nothing, so that a matter behind a wall is seen to be meant: who is screened never sees the letter.
  const all: Ctx = { ...ctx, actor: { ...ctx.actor, role: 'docket clerk', screened: [] } }
  const clues = cluesOf(mail.subject, read, await staffAddresses(ctx.db.manager))
  const touches = (await proposeMatters(ctx.db.manager, all, clues)).filter((p) => p.score >= sureEnough).map((p) => p.matterId)
  const summary: Summary = { ...read, touches }
  return work(ctx, async (m) => {
    // The same file, come twice before it is filed, waits once. Its id alone does not make it the same: whoever writes an id that
    // another letter has must not keep that one away.
    const before = await m
      .createQueryBuilder(MailIn, 'x')
      .innerJoin('stored_file', 's', 's.id = x.fileId AND s.sha256 = :sha256', { sha256 })
      .where(`x.state = 'waiting' AND x.source = :source AND x.messageId = :messageId AND x.userId <=> :userId`, {
        source: how.source,
        messageId: summary.ids[0]!.slice(0, 250),
        userId: how.userId,
      })
      .getOne()
    if (before) return { id: before.id }
    const madeId = await insertRow(m, MailIn, {
      fileId,
      source: how.source,
      userId: how.userId,
      sentBy: (how.sentBy ?? '').slice(0, 190),
      fromText: (mail.from ? `${mail.from.name} <${mail.from.address}>` : '').slice(0, 300),
      subject: mail.subject.slice(0, 500),
      messageId: summary.ids[0]!.slice(0, 250),
      innerId: summary.ids[1]?.slice(0, 250) ?? null,
      dated: mail.day,
      summary: JSON.stringify(summary),
      comeAt: instant(ctx.clock.now()),
    })
    return { id: madeId }
  })
}

export async function readDropped(ctx: Ctx, data: Uint8Array): Promise<{ id: number }> {
  if (!data.length) throw fieldFault('file', 'This file is empty')
  const file = await keepFile(ctx.db.manager, ctx, data, 'message/rfc822')
  return takeIn(ctx, file.id, { source: 'dropped', userId: ctx.actor.id })
}

export async function readUploaded(ctx: Ctx, uploadId: number): Promise<{ id: number }> {
  const upload = await ctx.db.manager.findOneBy(Upload, { id: uploadId, userId: ctx.actor.id })
  if (!upload?.fileId) throw fieldFault('uploadId', 'This e-mail has not come whole. Choose it again')
  const head = await storedHead(ctx.db.manager, upload.fileId)
  if (head.size > 60_000_000) throw fieldFault('uploadId', 'An e-mail may have up to 60 MB. File it as a paper instead')
  const { data } = await readStored(ctx.db.manager, ctx, upload.fileId)
  return readDropped(ctx, data)
}
