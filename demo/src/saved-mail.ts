/** An e-mail as it is saved, with attachments named as scanners name them. */
export function savedMail(of: {
  id: string
  from: string
  to: string
  subject: string
  date: string
  text: string
  attachments?: readonly { name: string; text: string }[]
}): Uint8Array {
  const parts = (of.attachments ?? []).flatMap((a) => [
    '--part',
    `Content-Type: text/plain; name="${a.name}"`,
    `Content-Disposition: attachment; filename="${a.name}"`,
    '',
    a.text,
  ])
  const lines = [
    `From: ${of.from}`,
    `To: ${of.to}`,
    `Subject: ${of.subject}`,
    `Date: ${of.date}`,
    `Message-ID: <${of.id}@mail.example>`,
    'MIME-Version: 1.0',
    'Content-Type: multipart/mixed; boundary=part',
    '',
    '--part',
    'Content-Type: text/plain; charset=utf-8',
    '',
    of.text,
    ...parts,
    '--part--',
    '',
  ]
  return new TextEncoder().encode(lines.join('\r\n'))
}
