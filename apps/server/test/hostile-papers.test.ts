import { randomUUID } from 'node:crypto'
import fc from 'fast-check'
import PizZip from 'pizzip'
import { afterAll, beforeAll, describe, expect, it, vi } from 'vitest'
import { checkTemplate, fieldTree } from '@heron/core/templates'
import { docx, p } from '../../../packages/core/test/docx'
import { apart } from '../src/papers/apart'
import { openZip, Unreadable } from '../src/papers/apart/zip'
import { docxType } from '../src/platform/media'
import { Office, stillAnswers, type Person } from './office'
import { actAs, docxOf, filed, form, list, sentPiece } from './papers'

let office: Office
let noor: Person
let ferdi: Person
beforeAll(async () => {
  office = await Office.open()
  noor = await office.signIn('noor')
  ferdi = await office.signIn('ferdi')
  actAs(noor)
})
afterAll(() => office.close())

describe('files of strangers', () => {
  const good = docx([p('{client.name}'), p('{if client.is_person}x{end if}')].join('')).generate({
    type: 'uint8array',
    compression: 'DEFLATE',
  })
  it('two thousand damaged documents are told to be, and none brings anything down', async () => {
    const tree = fieldTree()
    // The parser of XML tells its own faults to the console.
    for (const how of ['error', 'warn'] as const) vi.spyOn(console, how).mockImplementation(() => undefined)
    await fc.assert(
      fc.asyncProperty(
        fc.array(fc.tuple(fc.nat(good.length - 1), fc.nat(255)), { minLength: 1, maxLength: 12 }),
        fc.nat(good.length),
        async (changes, cut) => {
          const bad = good.slice(0, cut % 3 ? good.length : cut)
          for (const [at, byte] of changes) if (at < bad.length) bad[at] = byte
          const zip = await openZip(bad).catch((error: unknown) => {
            expect(error).toBeInstanceOf(Unreadable)
            return null
          })
          if (!zip) return
          try {
            checkTemplate(zip, tree)
          } catch (error) {
            expect(error).toBeInstanceOf(Error)
          }
        },
      ),
      // Two readers of ZIPs take their directories differently: what one can unpack, the other may not.
      { numRuns: 2000, examples: [[[[495, 0], [878, 0]], 1]] }, // prettier-ignore
    )
  })
  it('documents whose XML is anything are kept, and said to have no words', async () => {
    await fc.assert(
      fc.asyncProperty(fc.string({ maxLength: 200 }), async (xml) => {
        const zip = new PizZip()
        zip.file('word/document.xml', xml)
        const words = await apart('words', { data: zip.generate({ type: 'uint8array' }), mediaType: docxType }).catch(() => null)
        expect(words === null || typeof words === 'string').toBe(true)
      }),
      { numRuns: 300 },
    )
  })
  it('damaged PDFs are kept, and said to have no words', async () => {
    const pdf = new TextEncoder().encode(
      '%PDF-1.4\n1 0 obj<</Type/Catalog/Pages 2 0 R>>endobj\n2 0 obj<</Type/Pages/Kids[3 0 R]/Count 1>>endobj\n3 0 obj<</Type/Page/Parent 2 0 R/MediaBox[0 0 200 200]/Contents 4 0 R>>endobj\n4 0 obj<</Length 44>>stream\nBT /F1 12 Tf 10 10 Td (Hello) Tj ET\nendstream endobj\ntrailer<</Root 1 0 R>>\n%%EOF',
    )
    await fc.assert(
      fc.asyncProperty(fc.array(fc.tuple(fc.nat(pdf.length - 1), fc.nat(255)), { maxLength: 20 }), async (changes) => {
        const bad = pdf.slice()
        for (const [at, byte] of changes) bad[at] = byte
        const words = await apart('words', { data: bad, mediaType: 'application/pdf' }).catch((error: unknown) =>
          error instanceof Error ? null : 0,
        )
        expect(words === null || typeof words === 'string').toBe(true)
      }),
      { numRuns: 120 },
    )
  })
  it('a template of twenty thousand conditions within one another holds nobody up', async () => {
    const text = '{if client.is_person}'.repeat(20_000)
    const sent = await stillAnswers(
      office,
      form<{ id: number }>(ferdi, '/templates', { name: `Deep ${randomUUID()}` }, { name: 'a.docx', data: docxOf(text) }),
    )
    if (sent.status === 200) expect((await stillAnswers(office, ferdi.get(`/templates/${sent.body.id}`))).status).toBeLessThan(500)
    await ferdi.post(`/templates/${sent.body.id ?? 0}/retire`, { retired: true })
    // What cannot be judged in time must not stay in everyone's list.
    await office.db.query(`DELETE v FROM template_version v JOIN template t ON t.id = v.template_id WHERE t.name LIKE 'Deep %'`)
    await office.db.query(`DELETE FROM template WHERE name LIKE 'Deep %'`)
  })
  it('two long versions are compared, and a letter of a million tags is shown, beside the work of others', async () => {
    const m = await office.matter(noor, 'Longcompare')
    const words = (n: number) => Array.from({ length: 9000 }, (_, i) => `w${(i * n) % 9973}`).join(' ')
    const id = await filed(m, 'long.txt', words(7))
    const upload = await noor.must<{ id: number }>('POST', '/uploads', { name: 'long.txt', size: words(11).length })
    await sentPiece(noor, upload.id, 0, words(11))
    await noor.must('POST', `/matters/${m.id}/papers/uploads`, {
      files: [{ uploadId: upload.id, name: 'long.txt', folder: 'Notes', versionOf: id }],
    })
    expect([200, 400]).toContain((await stillAnswers(office, noor.get(`/papers/${id}/compare?from=1&to=2`))).status)
    const mail = await filed(m, 'big.eml', `Subject: x\r\nFrom: a@b.example\r\nContent-Type: text/html\r\n\r\n${'<b><i>'.repeat(150_000)}`)
    expect((await stillAnswers(office, noor.get(`/papers/${mail}/mail`))).status).toBeLessThan(500)
  })
  it('an e-mail with 1,500 parts is read beside the work of others, and filed whole or not at all', async () => {
    const m = await office.matter(noor, 'Manyparts')
    const parts = Array.from(
      { length: 1500 },
      (_, i) => `--x\r\nContent-Type: text/plain; name=p${i}.txt\r\nContent-Disposition: attachment\r\n\r\n${i}`,
    ).join('\r\n')
    const text = `Subject: many\r\nFrom: a@b.example\r\nMessage-ID: <${randomUUID()}>\r\nContent-Type: multipart/mixed; boundary=x\r\n\r\n${parts}\r\n--x--`
    const { body } = await stillAnswers(office, form<{ id: number }>(noor, '/filing/read', {}, { name: 'm.eml', data: text }))
    const input = { matterId: m.id, name: 'many.eml', folder: 'Notes', task: null, tell: [] }
    const wrong = [{ index: 0, name: 'a', folder: 'Notes' }, { index: 1999, name: 'b', folder: 'Notes' }] // prettier-ignore
    expect((await noor.post(`/filing/${body.id}`, { ...input, parts: wrong })).status).toBe(400)
    expect((await list(m)).total).toBe(0)
    expect((await noor.post(`/filing/${body.id}`, { ...input, parts: [wrong[0], wrong[0]] })).status).toBe(400)
    const [once, twice] = await Promise.all([
      noor.post(`/filing/${body.id}`, { ...input, parts: [] }),
      noor.post(`/filing/${body.id}`, { ...input, parts: [] }),
    ])
    expect([once.status, twice.status].sort()).toEqual([200, 409])
    expect((await list(m)).total).toBe(1)
  })
  it('names, folders and searches out of bounds are refused in words', async () => {
    const m = await office.matter(noor, 'Boundsworth')
    for (const path of ['', '/', '../x', 'a/b/c/d/e/f/g', 'x'.repeat(61), 'x'.repeat(400)])
      expect((await noor.post(`/matters/${m.id}/folders`, { path })).status, path).toBe(400)
    expect((await noor.post('/papers/move', { ids: Array.from({ length: 501 }, (_, i) => i + 1), folder: 'a' })).status).toBe(400)
    expect((await noor.post('/uploads', { name: 'x', size: 3_000_000_000 })).status).toBe(400)
    expect((await noor.get(`/papers/search?q=${'a+'.repeat(300)}`)).status).toBe(400)
    expect((await noor.get(`/papers/zip?ids=${'1,'.repeat(5000)}`)).status).toBe(400)
    expect((await stillAnswers(office, noor.get(`/papers/search?q=${encodeURIComponent(Array.from({ length: 40 }, (_, i) => `word${i}*`).join(' ').slice(0, 200))}`))).status).toBe(200) // prettier-ignore
  })
})
