import type { FirmHead } from './queries'

const escape = (text: string) => text.replace(/[&<>"']/g, (c) => `&#${c.charCodeAt(0)};`)

/** Text as HTML: paragraphs at empty lines, breaks kept, addresses of the web as links. Nothing of it is taken as HTML. */
function paragraphs(text: string): string {
  const linked = (line: string) =>
    line
      .split(/(https?:\/\/[^\s<>"']{1,500})/)
      .map((part, i) => (i % 2 ? `<a href="${escape(part)}" style="color:#0e6660">${escape(part)}</a>` : escape(part)))
      .join('')
  return text
    .trim()
    .split(/\n{2,}/)
    .map((p) => `<p style="margin:0 0 12px">${p.split('\n').map(linked).join('<br>')}</p>`)
    .join('')
}

/** A letter as HTML under the firm's letterhead, in what mail programs show alike: one column, styles in place, no pictures. */
export function letterHtml(firm: FirmHead, body: string): string {
  const small = 'font-size:12px;line-height:17px;color:#55646b'
  const head = [firm.line, firm.address, firm.phone, [firm.email, firm.web].filter(Boolean).join(' · ')].filter(Boolean) as string[]
  const lines = (list: string[]) =>
    list
      .flatMap((l) => l.split('\n'))
      .map(escape)
      .join('<br>')
  return [
    '<!doctype html><html lang="en"><head><meta charset="utf-8"></head>',
    '<body style="margin:0;padding:24px 12px;background:#f5f7f6;font-family:Helvetica,Arial,sans-serif;font-size:14px;line-height:20px;color:#1c262b">',
    '<div style="max-width:600px;margin:0 auto;padding:24px 28px;background:#ffffff;border:1px solid #d5ddde">',
    `<div style="padding-bottom:12px;margin-bottom:18px;border-bottom:1px solid #d5ddde"><div style="font-family:Georgia,serif;font-size:18px;line-height:24px">${escape(firm.name)}</div>`,
    head.length ? `<div style="${small}">${lines(head)}</div>` : '',
    `</div>${paragraphs(body)}`,
    firm.foot ? `<div style="margin-top:18px;padding-top:12px;border-top:1px solid #d5ddde;${small}">${lines([firm.foot])}</div>` : '',
    '</div></body></html>',
  ].join('')
}
