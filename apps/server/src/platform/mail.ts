import nodemailer from 'nodemailer'
import type { EntityManager } from 'typeorm'
import type { Ctx } from './context'
import { insertMany } from './database'
import { readStored } from './files'
import { letterHtml } from './letter-html'
import { letterheadOf, filesOfMail, keepMail, mailSent, type MailServer, mailSet, mailToSend } from './queries'
import { forDays, jobKind } from './area'
import { enqueue } from './enqueue'
import { UserAccount } from './shared-entities'

export interface Letter {
  /** Says what the letter is; the same one is never sent twice. */
  key: string
  /** Someone of the firm, or someone outside. */
  to: number | { name: string; email: string }
  subject: string
  body: string
  matterId?: number | null
  /** A message for calendar programs (RFC 5546). */
  calendar?: { method: 'REQUEST' | 'CANCEL'; text: string }
  /** Kept files that go with it. */
  files?: readonly { id: number; name: string }[]
}

/** Thrown by a job that cannot be done yet through no fault of anyone's: it waits, and this is no try. */
export class NotYet extends Error {}

let ownPort: number | null = null
/** The mail server on this machine, for a firm that has set up no other. Without any, letters wait. */
export const useMailServer = (port: number | undefined) => void (ownPort = port ?? null)

/** Writes a letter to someone of the firm, in the caller's transaction; a worker sends it after the commit. */
export async function sendMail(m: EntityManager, ctx: Ctx, letter: Letter): Promise<void> {
  if (ctx.quiet) return
  const who =
    typeof letter.to === 'number'
      ? await m.findOne(UserAccount, { select: { name: true, email: true, id: true }, where: { id: letter.to, active: true } })
      : letter.to
  if (!who) return
  const fresh = await keepMail(m, ctx, who, letter)
  if (fresh && letter.files?.length)
    await insertMany(
      m,
      'mail_file',
      ['message_key', 'ordinal', 'file_id', 'name'],
      letter.files.map((f, i) => [letter.key.slice(0, 120), i + 1, f.id, f.name.slice(0, 200)]),
    )
  if (fresh) await enqueue(m, ctx, 'send mail', { key: letter.key.slice(0, 120) })
}

/** Sends one letter; another machine takes it, so it is tried for days. */
export const letters = jobKind<{ key: string }>({ noun: 'letter', waits: forDays, run: (ctx, { key }) => send(ctx, key) })

/** By which server letters go out, and from whom. */
export async function mailServer(m: EntityManager): Promise<MailServer | null> {
  const own = await mailSet(m)
  const from = { name: own?.name || 'Astute Heron', address: own?.address || 'office@firm.example' }
  if (own?.host) return { ...own, ...from }
  return ownPort ? { ...from, host: '127.0.0.1', port: ownPort, security: 'none', user: '', password: '' } : null
}

async function send(ctx: Ctx, key: string): Promise<null> {
  const m = ctx.db.manager
  const server = await mailServer(m)
  if (!server) throw new NotYet('There is no mail server yet; letters wait. Set one up under Set-up, Letters.')
  const letter = await mailToSend(m, key)
  if (!letter) return null
  const files = await filesOfMail(m, key)
  const attachments = []
  for (const f of files) {
    const kept = await readStored(m, ctx, f.id)
    attachments.push({ filename: f.name, content: kept.data, contentType: kept.mediaType })
  }
  const transport = nodemailer.createTransport({
    host: server.host,
    port: server.port,
    secure: server.security === 'tls',
    requireTLS: server.security === 'starttls',
    ignoreTLS: server.security === 'none',
    connectionTimeout: 10_000,
    greetingTimeout: 10_000,
    socketTimeout: 60_000,
    ...(server.user ? { auth: { user: server.user, pass: server.password } } : {}),
  })
  try {
    await transport.sendMail({
      from: { name: server.name, address: server.address },
      to: { name: letter.toName, address: letter.toAddress },
      subject: letter.subject,
      text: letter.body,
      html: letterHtml(await letterheadOf(m), letter.body),
      ...(letter.calendar ? { icalEvent: { method: letter.method ?? 'REQUEST', filename: 'entry.ics', content: letter.calendar } } : {}),
      ...(attachments.length ? { attachments } : {}),
      // The same letter keeps its id, so that a mailbox shows it once if it went out and the note of it was lost.
      messageId: `<${key.replace(/[^\w.-]/g, '.')}@${server.address.split('@')[1] ?? 'firm.example'}>`,
    })
  } finally {
    transport.close()
  }
  await mailSent(m, ctx, letter.id)
  return null
}
