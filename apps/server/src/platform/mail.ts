import nodemailer from 'nodemailer'
import type { EntityManager } from 'typeorm'
import { instant, type Ctx } from './context'
import { row, run } from './database'
import { readStored } from './files'
import { forDays, jobKind } from './area'
import { enqueue } from './enqueue'

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
  /** A kept file that goes with it. */
  file?: { id: number; name: string }
}

/** Thrown by a job that cannot be done yet through no fault of anyone's: it waits, and this is no try. */
export class NotYet extends Error {}

let smtpPort: number | null = null
/** Where letters go out; none are sent until this is known, and they wait. */
export const useMailServer = (port: number | undefined) => void (smtpPort = port ?? null)

/** Writes a letter to someone of the firm, in the caller's transaction; a worker sends it after the commit. */
export async function sendMail(m: EntityManager, ctx: Ctx, letter: Letter): Promise<void> {
  if (ctx.quiet) return
  const who =
    typeof letter.to === 'number'
      ? await row<{ name: string; email: string }>(m, `SELECT name, email FROM user_account WHERE id = ? AND active`, [letter.to])
      : letter.to
  if (!who) return
  const fresh = await run(
    m,
    `INSERT IGNORE INTO mail (message_key, to_address, to_name, subject, body, matter_id, created_at, calendar_method, calendar, file_id, file_name) VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?)`,
    [
      letter.key.slice(0, 120),
      who.email,
      who.name,
      letter.subject.slice(0, 300),
      letter.body,
      letter.matterId ?? null,
      instant(ctx.clock.now()),
      letter.calendar?.method ?? null,
      letter.calendar?.text ?? null,
      letter.file?.id ?? null,
      letter.file?.name ?? null,
    ],
  )
  if (fresh) await enqueue(m, ctx, 'send mail', { key: letter.key.slice(0, 120) })
}

/** Sends one letter; another machine takes it, so it is tried for days. */
export const letters = jobKind<{ key: string }>({ noun: 'letter', waits: forDays, run: (ctx, { key }) => send(ctx, key) })

async function send(ctx: Ctx, key: string): Promise<null> {
  if (!smtpPort) throw new NotYet('There is no mail server yet; letters wait.')
  const letter = await row<{
    id: number
    toAddress: string
    toName: string
    subject: string
    body: string
    method: string | null
    calendar: string | null
    fileId: number | null
    fileName: string | null
  }>(
    ctx.db.manager,
    `SELECT id, to_address AS toAddress, to_name AS toName, subject, body, calendar_method AS method, calendar, file_id AS fileId, file_name AS fileName FROM mail WHERE message_key = ? AND sent_at IS NULL`,
    [key],
  )
  if (!letter) return null
  const firm = await row<{ name: string }>(ctx.db.manager, `SELECT name FROM firm`)
  const file = letter.fileId ? await readStored(ctx.db.manager, ctx, letter.fileId) : null
  const transport = nodemailer.createTransport({ host: '127.0.0.1', port: smtpPort, secure: false, ignoreTLS: true })
  await transport.sendMail({
    from: { name: firm?.name ?? 'Astute Heron', address: 'office@firm.example' },
    to: { name: letter.toName, address: letter.toAddress },
    subject: letter.subject,
    text: letter.body,
    ...(letter.calendar ? { icalEvent: { method: letter.method ?? 'REQUEST', filename: 'entry.ics', content: letter.calendar } } : {}),
    ...(file ? { attachments: [{ filename: letter.fileName ?? 'report', content: file.data, contentType: file.mediaType }] } : {}),
    // The same letter keeps its id, so that a mailbox shows it once if it went out and the note of it was lost.
    messageId: `<${key.replace(/[^\w.-]/g, '.')}@firm.example>`,
  })
  await run(ctx.db.manager, `UPDATE mail SET sent_at = ? WHERE id = ?`, [instant(ctx.clock.now()), letter.id])
  return null
}
