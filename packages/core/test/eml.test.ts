import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { distinctNames, fileName, readMessage, writtenDay } from '@heron/core/formats'

const bytes = (text: string) => Uint8Array.from([...text].map((c) => c.charCodeAt(0) & 255))
const read = (...lines: string[]) => readMessage(bytes(lines.join('\r\n')))
const head = [
  'From: Ada Finch <ada@example.com>',
  'To: team@example.com',
  'Subject: Lark',
  'Date: Mon, 23 Nov 2026 10:00:00 -0500',
  'Message-ID: <one@example.com>',
  'MIME-Version: 1.0',
]
const mixed = (...parts: string[][]) =>
  read(...head, 'Content-Type: multipart/mixed; boundary=x', '', ...parts.flatMap((p) => ['--x', ...p]), '--x--', '')
const b64 = (text: string) => Buffer.from(text).toString('base64')

describe('a message', () => {
  it('is read whole', async () => {
    const m = await read(...head, 'Cc: "Heron, Bo" <bo@example.com>, cy@example.com', '', 'Hello')
    expect(m).toMatchObject({
      messageId: 'one@example.com',
      subject: 'Lark',
      day: '2026-11-23',
      at: '2026-11-23T15:00:00.000Z',
      unread: '',
      parts: [],
    })
    expect(m.from).toEqual({ name: 'Ada Finch', address: 'ada@example.com' })
    expect(m.cc.map((p) => p.name)).toEqual(['Heron, Bo', ''])
    expect(m.text.trim()).toBe('Hello')
  })
  it('has names by RFC 2047 and 2231, and made-up ones', async () => {
    const m = await mixed(
      [
        'Content-Type: application/pdf; name="=?UTF-8?Q?Klageschrift_=C3=84.pdf?="',
        'Content-Disposition: attachment',
        'Content-Transfer-Encoding: base64',
        '',
        b64('%PDF-1'),
      ],
      ['Content-Type: application/pdf', "Content-Disposition: attachment; filename*0*=UTF-8''se%C3%B1; filename*1=or.pdf", '', 'x'],
      ['Content-Type: application/pdf', 'Content-Disposition: attachment', '', 'x'],
      ['Content-Type: application/octet-stream', 'Content-Disposition: attachment; filename="..\\\\..\\\\etc/passwd"', '', 'x'],
    )
    expect(m.parts.map((p) => p.name)).toEqual(['Klageschrift Ä.pdf', 'señor.pdf', 'part 3.pdf', 'passwd'])
    expect(m.parts.map((p) => p.unnamed)).toEqual([false, false, true, false])
  })
  it('reads charsets each for itself', async () => {
    const m = await mixed(
      ['Content-Type: text/plain; charset=iso-8859-1', '', 'Caf\xe9'],
      ['Content-Type: text/plain; charset=windows-1252', '', '\x93quoted\x94'],
    )
    expect(m.text).toContain('Café')
    expect(m.text).toContain('“quoted”')
  })
  it('keeps a message within a message, with its id and a name from its subject', async () => {
    const inner = ['From: z@example.com', 'Subject: =?utf-8?B?w5xiZXI=?=', 'Message-ID: <inner@example.com>', '', 'inner words']
    const m = await mixed(['Content-Type: text/plain', '', 'see below'], ['Content-Type: message/rfc822', '', ...inner])
    expect(m.innerIds).toEqual(['inner@example.com'])
    expect(m.parts).toHaveLength(1)
    expect(m.parts[0]).toMatchObject({ mediaType: 'message/rfc822' })
    expect(m.parts[0]!.name).toMatch(/\.eml$/)
    expect(m.text).not.toContain('inner words')
  })
  it('tells pictures of the text from papers', async () => {
    const m = await read(
      ...head,
      'Content-Type: multipart/related; boundary=x',
      '',
      '--x',
      'Content-Type: text/html',
      '',
      '<img src="cid:logo">',
      '--x',
      'Content-Type: image/png; name=logo.png',
      'Content-ID: <logo>',
      'Content-Disposition: inline',
      '',
      'png',
      '--x--',
    )
    expect(m.parts[0]).toMatchObject({ name: 'logo.png', inline: true, contentId: 'logo' })
  })
  it('keeps winmail.dat, and 200 parts of one name', async () => {
    const m = await mixed(
      ['Content-Type: application/ms-tnef; name="winmail.dat"', 'Content-Disposition: attachment; filename="winmail.dat"', '', 'tnef'],
      ...Array.from({ length: 200 }, () => [
        'Content-Type: application/pdf; name=scan0001.pdf',
        'Content-Disposition: attachment',
        '',
        'x',
      ]),
    )
    expect(m.parts).toHaveLength(201)
    expect(m.parts[0]!.name).toBe('winmail.dat')
    expect(new Set(m.parts.map((p) => p.name)).size).toBe(201)
    expect(m.parts[200]!.name).toBe('scan0001 (200).pdf')
  })
  it('lives without an id, a zone, an end, or a from', async () => {
    const m = await read(
      'Subject: x',
      'Date: 3 Nov 26 10:00',
      'Content-Type: multipart/mixed; boundary=q',
      '',
      '--q',
      'Content-Type: application/pdf; name=a.pdf',
      'Content-Transfer-Encoding: base64',
      '',
      'JVBERi0xLj',
    )
    expect(m).toMatchObject({ messageId: null, from: null, day: '2026-11-03', at: null, unread: '' })
    expect(m.parts[0]!.name).toBe('a.pdf')
    expect((await readMessage(bytes('not a letter at all'))).unread).toMatch(/kept as it came/)
    expect((await readMessage(new Uint8Array())).unread).toMatch(/kept as it came/)
  })
  it('is not drowned by boxes within boxes', async () => {
    const deep = Array.from({ length: 500 }, (_, i) => `Content-Type: multipart/mixed; boundary=b${i}\r\n\r\n--b${i}`).join('\r\n')
    expect((await readMessage(bytes(`${head.join('\r\n')}\r\n${deep}`))).subject).toBe('Lark')
  })
  it('never fails, whatever comes', async () => {
    const line = fc.constantFrom(
      ...head,
      '',
      '--x',
      '--x--',
      'Content-Type: multipart/mixed; boundary=x',
      'Content-Type: text/html; charset=utf-7',
      'Content-Transfer-Encoding: base64',
      'Content-Type: message/rfc822',
      'Subject: =?utf-8?B?\xff?=',
      '=?x?Q?=ZZ',
      "Content-Disposition: attachment; filename*=UTF-8''%FF%",
    )
    await fc.assert(
      fc.asyncProperty(fc.array(fc.oneof(line, fc.string()), { maxLength: 25 }), async (lines) => {
        const m = await read(...lines)
        expect(typeof m.subject).toBe('string')
        for (const p of m.parts) expect(p.name).toBe(fileName(p.name))
      }),
      { numRuns: 3000 },
    )
  })
})

describe('names of files', () => {
  it.each([
    ['../../etc/passwd', 'passwd'], ['C:\\x\\Order.pdf', 'Order.pdf'], ['a\u202efdp.exe', 'a fdp.exe'], ['...', 'file'], ['', 'file'], ['.hidden', 'hidden'], ['a\u0000b?.pdf', 'a b .pdf'],
  ])('%j becomes %j', (raw, is) => expect(fileName(raw)).toBe(is)) // prettier-ignore
  it('keeps the ending of a long one', () => expect(fileName(`${'a'.repeat(400)}.docx`)).toMatch(/^a{145}\.docx$/))
  it('numbers those that are alike', () =>
    expect(distinctNames(['a.pdf', 'A.pdf', 'b', 'b'])).toEqual(['a.pdf', 'A (2).pdf', 'b', 'b (2)']))
  it('reads days as written', () => {
    expect(writtenDay('Tue, 3 Nov 2026 23:59 -0800')).toBe('2026-11-03')
    expect(writtenDay('31 Feb 2026')).toBeNull()
    expect(writtenDay('2026-11-03T10:00:00Z')).toBe('2026-11-03')
  })
})
