import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { decodeText, readCards, readTable, writeCards, writeTable, type Card } from '../src/formats'

const card: Card = {
  uid: '7b0c3d8e-1111-4222-8333-444455556666',
  kind: 'person',
  name: 'Dr. Leonie Hartigan, Esq.',
  greeting: 'Dr. Hartigan; dear colleague',
  aliases: [
    { kind: 'nickname', name: 'Leo' },
    { kind: 'former name', name: 'Leonie Marsh, née Ström' },
  ],
  reaches: [
    { what: 'e-mail', label: 'work', value: 'leonie@hartigan.example' },
    { what: 'phone', label: 'mobile', value: '+1 555 0100; ext. 4' },
    { what: 'address', label: 'home', value: '1 Quay\nHarrow Sound, Wexmoor 04417' },
    { what: 'address', label: '', value: 'P.O. Box 3' },
  ],
  birthDate: '1971-02-28',
  language: 'es',
  pronouns: 'she/her',
  taxNumber: '12-3456789',
  notes: 'Speaks; slowly, with "quotes" \\ and\nlines. '.trim(),
  kinds: ['expert', 'medical provider'],
  relations: [
    { kind: 'works for', name: 'Harrow Clinic; East', title: 'Chief, surgery' },
    { kind: 'spouse of', name: 'Ilse Vandermeer', title: '' },
  ],
  fields: [{ key: 'hull_number', item: 1, value: 'HX-12, port' }],
}

describe('vCard 4.0', () => {
  it('keeps everything on the way out and back', () => {
    const written = writeCards([card, { ...card, uid: '', kind: 'organization', name: 'Lund & Co.', relations: [] }])
    expect(written).toContain('VERSION:4.0')
    for (const line of written.split('\r\n')) expect(Buffer.byteLength(line)).toBeLessThanOrEqual(76)
    const { cards, faults } = readCards(written)
    expect(faults).toEqual([])
    expect(cards[0]).toEqual(card)
    expect(cards[1]).toMatchObject({ kind: 'organization', name: 'Lund & Co.' })
  })

  const text = fc.string({ unit: 'grapheme', minLength: 1, maxLength: 60 }).map((s) => s.replace(/[\p{C}]/gu, 'x').trim() || 'x')
  it('whatever the names and notes are', () =>
    void fc.assert(
      fc.property(text, text, (name, notes) => {
        const [back] = readCards(writeCards([{ ...card, name, notes, kind: 'person' }])).cards
        expect(back).toMatchObject({ name, notes })
      }),
    ))

  it('reads version 3.0 of other programs, and tells which card it could not read', () => {
    const { cards, faults } = readCards(
      'BEGIN:VCARD\r\nVERSION:3.0\r\nN:Munro;Giles;;Mr.;\r\nFN:Giles Munro\r\nORG:Pellan Survey;Field\r\nTITLE:Surveyor\r\nEMAIL;TYPE=INTERNET:giles@munro.example\r\nBDAY:19800115\r\nEND:VCARD\r\n' +
        'this is no card\r\nBEGIN:VCARD\r\nVERSION:4.0\r\nNOTE:nameless\r\nEND:VCARD\r\n',
    )
    expect(cards).toHaveLength(1)
    expect(cards[0]).toMatchObject({
      name: 'Giles Munro',
      birthDate: '1980-01-15',
      reaches: [{ what: 'e-mail', value: 'giles@munro.example' }],
      relations: [{ kind: 'works for', name: 'Pellan Survey', title: 'Surveyor' }],
    })
    expect(faults.length).toBeGreaterThanOrEqual(1)
  })
})

describe('CSV', () => {
  const bytes = (text: string) => new TextEncoder().encode(text)
  it('reads what it writes', () =>
    void fc.assert(
      fc.property(fc.array(fc.tuple(fc.string(), fc.string()), { maxLength: 8 }), (rows) => {
        const clean = rows.map((r) =>
          r.map((c) =>
            c
              .replaceAll(/[\r\0]/g, ' ')
              .replace(/^['\s]+/, '')
              .trim(),
          ),
        )
        const back = readTable(bytes(writeTable(['Name', 'Notes, long'], clean)))
        expect(back.columns).toEqual(['Name', 'Notes, long'])
        expect(back.rows).toEqual(clean.filter((r) => r.some((c) => c !== '')))
      }),
    ))
  it('disarms what a spreadsheet would run', () => expect(writeTable(['a'], [['=1+1']])).toContain("'=1+1"))
  it('reads semicolons, short rows and rows without anything', () =>
    expect(readTable(bytes('Name;Kind\r\nMunro\r\n;;\r\n"Lund; Co";firm;extra\r\n'))).toMatchObject({
      columns: ['Name', 'Kind'],
      rows: [
        ['Munro', ''],
        ['Lund; Co', 'firm'],
      ],
      delimiter: ';',
    }))
  it.each([
    ['UTF-8', new TextEncoder().encode('Ström')],
    ['Windows-1252', Uint8Array.from([0x53, 0x74, 0x72, 0xf6, 0x6d])],
    ['UTF-16', Uint8Array.from([0xff, 0xfe, 0x53, 0, 0x74, 0, 0x72, 0, 0xf6, 0, 0x6d, 0])],
  ])('knows %s', (encoding, raw) => expect(decodeText(raw)).toEqual({ text: 'Ström', encoding }))
})
