import nodemailer from 'nodemailer'
import type { EntityManager } from 'typeorm'
import { instant, type Ctx } from './context'
import { row, run } from './database'
import { enqueue, onJob } from './jobs'

export interface Letter {
  /** Says what the letter is; the same one is never sent twice. */
  key: string
  to: number
  subject: string
  body: string
  matterId?: number | null
}

let smtpPort: number | null = null
/** Where letters go out; none are sent until this is known, and they wait. */
export const useMailServer = (port: number | undefined) => void (smtpPort = port ?? null)

/** Writes a letter to someone of the firm, in the caller's transaction; a worker sends it after the commit. */
export async function sendMail(m: EntityManager, ctx: Ctx, letter: Letter): Promise<void> {
  if (ctx.quiet) return
  const who = await row<{ name: string; email: string }>(m, `SELECT name, email FROM user_account WHERE id = ? AND active`, [letter.to])
  if (!who) return
  const fresh = await run(
    m,
    `INSERT IGNORE INTO mail (message_key, to_address, to_name, subject, body, matter_id, created_at) VALUES (?, ?, ?, ?, ?, ?, ?)`,
    [
      letter.key.slice(0, 120),
      who.email,
      who.name,
      letter.subject.slice(0, 300),
      letter.body,
      letter.matterId ?? null,
      instant(ctx.clock.now()),
    ],
  )
  if (fresh) await enqueue(m, ctx, 'send mail', { key: letter.key.slice(0, 120) })
}

onJob<{ key: string }>('send mail', async (ctx, { key }) => {
  if (!smtpPort) return { waits: true }
  const letter = await row<{ id: number; toAddress: string; toName: string; subject: string; body: string }>(
    ctx.db.manager,
    `SELECT id, to_address AS toAddress, to_name AS toName, subject, body FROM mail WHERE message_key = ? AND sent_at IS NULL`,
    [key],
  )
  if (!letter) return null
  const firm = await row<{ name: string }>(ctx.db.manager, `SELECT name FROM firm`)
  const transport = nodemailer.createTransport({ host: '127.0.0.1', port: smtpPort, secure: false, ignoreTLS: true })
  await transport.sendMail({
    from: { name: firm?.name ?? 'Astute Heron', address: 'office@firm.example' },
    to: { name: letter.toName, address: letter.toAddress },
    subject: letter.subject,
    text: letter.body,
    // The same letter keeps its id, so that a mailbox shows it once if it went out and the note of it was lost.
    messageId: `<${key.replace(/[^\w.-]/g, '.')}@firm.example>`,
  })
  await run(ctx.db.manager, `UPDATE mail SET sent_at = ? WHERE id = ?`, [instant(ctx.clock.now()), letter.id])
  return null
})
