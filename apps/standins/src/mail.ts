import { existsSync, readFileSync, writeFileSync } from 'node:fs'
import { createServer, type Server } from 'node:http'
import { buffer } from 'node:stream/consumers'
import { simpleParser } from 'mailparser'
import { SMTPServer } from 'smtp-server'

export interface Letter {
  id: string
  at: string
  from: string
  to: string
  subject: string
  text: string
  html: string
  /** What came with it: calendar messages with their text, other files by name. */
  with: { name: string; type: string; text: string }[]
}
export interface Mailbox {
  smtpPort: number
  webPort: number
  letters: () => readonly Letter[]
  stop: () => Promise<void>
}

const escape = (s: string) => s.replace(/[&<>"]/g, (c) => ({ '&': '&amp;', '<': '&lt;', '>': '&gt;', '"': '&quot;' })[c]!)

function page(letters: readonly Letter[]): string {
  const list = letters
    .map(
      (l) =>
        `<article><h2>${escape(l.subject)}</h2><p class="of">${escape(l.at.slice(0, 16).replace('T', ' '))} · to ${escape(l.to)}</p><pre>${escape(l.text)}</pre>${(l.with ?? []).map((f) => `<p class="of">With it: ${escape(f.name)}</p>`).join('')}</article>`,
    )
    .join('')
  return `<!doctype html><html lang="en"><meta charset="utf-8"><title>Letters sent</title><link rel="stylesheet" href="/page.css"><main><h1>Letters sent</h1><p>This stands in for the firm’s mail: what the application sends ends here and goes nowhere else.</p>${list || '<p>None yet.</p>'}</main></html>`
}
const css = `body{font:15px/1.45 system-ui,sans-serif;background:#f5f7f6;color:#1c262b;margin:0}main{max-width:760px;margin:2rem auto;padding:0 1rem}article{background:#fff;border:1px solid #d5ddde;border-radius:8px;padding:.8rem 1rem;margin:.8rem 0}h2{font-size:1.05rem;margin:0}.of{color:#55646b;margin:.1rem 0 .5rem}pre{white-space:pre-wrap;font:inherit;margin:0}`

const listen = (
  server: { listen: (port: number, host: string, then: () => void) => unknown; once: (e: 'error', f: (x: Error) => void) => unknown },
  port: number,
) =>
  new Promise<void>((resolve, reject) => {
    server.once('error', reject)
    server.listen(port, '127.0.0.1', () => resolve())
  })

/**
 * A small mail server on loopback that keeps what it is sent and shows it on a page. Letters with the id of one that is
 * there are kept once, as a mailbox shows them. `keep` is a file in which they outlast a restart.
 */
export async function startMailbox(
  wanted: {
    smtpPort?: number
    webPort?: number
    keep?: string
    /** Is handed each letter as it came, with whom it is to and who sent it: the application takes those to its address for filing. */
    deliver?: (letter: Buffer, to: string, from: string) => Promise<unknown>
  } = {},
): Promise<Mailbox> {
  const letters: Letter[] = wanted.keep && existsSync(wanted.keep) ? (JSON.parse(readFileSync(wanted.keep, 'utf8')) as Letter[]) : []
  const smtp = new SMTPServer({
    authOptional: true,
    disabledCommands: ['STARTTLS'],
    onData(stream, session, done) {
      const from = session.envelope.mailFrom ? session.envelope.mailFrom.address : ''
      const read = buffer(stream).then(async (letter) => {
        for (const to of session.envelope.rcptTo) await wanted.deliver?.(letter, to.address, from)
        return simpleParser(letter)
      })
      read.then(
        (mail) => {
          const to = Array.isArray(mail.to) ? mail.to.map((t) => t.text).join(', ') : (mail.to?.text ?? '')
          const id = mail.messageId ?? String(letters.length)
          if (!letters.some((l) => l.id === id))
            letters.unshift({
              id,
              at: new Date().toISOString(),
              from: mail.from?.text ?? '',
              to,
              subject: mail.subject ?? '',
              text: mail.text ?? '',
              html: typeof mail.html === 'string' ? mail.html : '',
              with: mail.attachments.map((a) => ({
                name: a.filename ?? 'file',
                type: a.contentType,
                text: a.contentType.startsWith('text/') ? a.content.toString('utf8') : '',
              })),
            })
          letters.length = Math.min(letters.length, 500)
          if (wanted.keep) writeFileSync(wanted.keep, JSON.stringify(letters))
          done()
        },
        (error: unknown) => done(error instanceof Error ? error : new Error(String(error))),
      )
    },
  })
  await listen(smtp.server as never, wanted.smtpPort ?? 0)
  const web: Server = createServer((req, res) => {
    if (req.url === '/page.css') return void res.setHeader('content-type', 'text/css').end(css)
    if (req.url === '/letters.json') return void res.setHeader('content-type', 'application/json').end(JSON.stringify(letters))
    res
      .setHeader('content-type', 'text/html; charset=utf-8')
      .setHeader('content-security-policy', "default-src 'none'; style-src 'self'")
      .end(page(letters))
  })
  await listen(web as never, wanted.webPort ?? 0)
  const portOf = (s: { address: () => unknown }) => (s.address() as { port: number }).port
  return {
    smtpPort: portOf(smtp.server),
    webPort: portOf(web),
    letters: () => letters,
    stop: async () => {
      await new Promise<void>((r) => smtp.close(() => r()))
      await new Promise((r) => web.close(r))
    },
  }
}
