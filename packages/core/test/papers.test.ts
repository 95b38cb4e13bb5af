import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { numbersIn, rankMatters, saysNothing, searchTerms, shownTerms, snippets, sureEnough, tellingWords, titleIn } from '../src/papers'
import {
  contactRecord,
  dayValue,
  initials,
  money,
  nameFrom,
  pronounsOf,
  readAnswer,
  typedText,
  valueAt,
  withValue,
  type Value,
} from '../src/templates'

const said = (q: string) => searchTerms(q).map((t) => `${t.without ? '-' : ''}${t.how}:${t.words.join(' ')}`)

describe('what a search asks for', () => {
  it('takes words, phrases, beginnings and what is to be left out', () => {
    expect(said('gannet "anchor chain" surv* -draft')).toEqual(['phrase:anchor chain', 'word:gannet', 'beginning:surv', '-word:draft'])
    expect(shownTerms(searchTerms('gannet "anchor chain" -draft'))).toEqual(['anchor chain', 'gannet'])
  })
  it('insists neither on short words nor on those of every sentence, and takes no operator from what was typed', () => {
    expect(said('the log of it')).toEqual(['word:log'])
    expect(said('+gannet ~(bay) <x> @4')).toEqual(['word:gannet', 'word:bay', 'word:4'])
    expect(said('O’Brien')).toEqual(['word:Brien'])
  })
  it('asks for nothing where nothing is to be there', () => {
    for (const q of ['', '   ', '-draft', 'of the', '""', '*', '+-"']) expect(searchTerms(q)).toEqual([])
  })
  it('is bounded, and has letters and figures only', () => {
    fc.assert(
      fc.property(fc.string({ unit: 'binary', maxLength: 400 }), (q) => {
        const terms = searchTerms(q)
        expect(terms.length).toBeLessThanOrEqual(200)
        for (const w of terms.flatMap((t) => t.words)) expect(w).toMatch(/^[\p{L}\p{M}\d_]+$/u)
      }),
    )
  })
})

describe('words shown in their sentence', () => {
  const hits = (body: string, ...terms: string[]) => snippets(body, terms).map((s) => s.filter((p) => p.hit).map((p) => p.text))
  it('tells the words apart as they stand there, whatever their case and accents', () => {
    expect(hits('The Café of JOSÉ lies by the quay.', 'josé')).toEqual([['JOSÉ']])
    expect(hits('The Café of JOSÉ lies by the quay.', 'cafe')).toEqual([['Café']])
    expect(hits('한국의 배 gannet 은', 'gannet')).toEqual([['gannet']])
    expect(hits('İstanbul to gannet', 'gannet')).toEqual([['gannet']])
  })
  it('shows three places at most, cut with dots, each once', () => {
    const body = `alpha ${'x '.repeat(200)} bravo ${'y '.repeat(200)} charlie ${'z '.repeat(200)} delta`
    const shown = snippets(body, ['alpha', 'bravo', 'charlie', 'delta'])
    expect(shown).toHaveLength(3)
    expect(shown[1]![0]!.text.startsWith('… ')).toBe(true)
  })
  it('shows nothing but what is in the text, in its order', () => {
    fc.assert(
      fc.property(
        fc.string({ unit: 'grapheme', maxLength: 300 }),
        fc.string({ unit: 'grapheme', minLength: 1, maxLength: 4 }),
        (body, term) => {
          const text = body.normalize('NFC').replaceAll('\n', ' ')
          for (const s of snippets(body, [term])) {
            const whole = s.map((p) => p.text.replace(/^… /, '').replace(/ …$/, '').replaceAll('\n', ' ')).join('')
            expect(text).toContain(whole)
          }
        },
      ),
    )
  })
})

describe('names of what is filed', () => {
  it.each(['scan0001.pdf', 'IMG_2031.jpg', 'Document (3).docx', 'attachment', '2026-11-02.pdf', 'a.b', 'Scanned_Page_1.pdf'])(
    '%s says nothing',
    (name) => expect(saysNothing(name)).toBe(true),
  )
  it.each(['Survey of the hull.pdf', 'scan of lease.pdf', 'Añadido.pdf'])('%s says something', (name) =>
    expect(saysNothing(name)).toBe(false),
  )
  it('takes the first line that says something, not longer than a name should be', () => {
    expect(titleIn('\n 12 \nPage 1 of 3\n  REPORT   of\tsurvey \nmore')).toBe('REPORT of survey')
    expect(titleIn('1234567\n--------')).toBeNull()
    expect(titleIn(`${'word '.repeat(40)}\n`)!.length).toBeLessThanOrEqual(80)
  })
})

describe('the matter that a message is about', () => {
  const mail = { subject: 'Re: [26-0007] hull', numbers: numbersIn('Re: [26-0007] hull, see 2:26-cv-00123.') }
  it('finds numbers as they are written in letters', () => {
    expect(mail.numbers).toEqual(['26-0007', '2:26-cv-00123'])
    expect(tellingWords('Re: FW: the Gannet survey, draft order 2026')).toEqual(['gannet', 'survey'])
  })
  it('weighs a number before a person, a person before words, and each reason once', () => {
    const ranked = rankMatters(
      [
        { kind: 'recent', matterId: 4, place: 0 },
        { kind: 'words', matterId: 3, count: 2, words: 'hull, gannet', open: true },
        { kind: 'person', matterId: 2, name: 'Ada Finch', part: 'client', open: true },
        { kind: 'person', matterId: 2, name: 'Ada Finch', part: 'client', open: true },
        { kind: 'number', matterId: 1, number: '26-0007', caseNumber: '', secondNumber: '' },
        { kind: 'number', matterId: 5, number: '26-0100', caseNumber: '2:26-CV-00123', secondNumber: '' },
        { kind: 'number', matterId: 6, number: '26-0101', caseNumber: '', secondNumber: 'X-77' },
      ],
      mail,
    )
    expect(ranked.map((r) => [r.matterId, r.score])).toEqual([[1, 100], [5, 90], [6, 80], [2, 50], [3, 36], [4, 12]]) // prettier-ignore
    expect(ranked[3]!.why).toEqual(['Ada Finch is the client'])
  })
  it('weighs closed matters less, and takes one word of an open one’s name for enough', () => {
    const [shut, open] = [false, true].map(
      (o) => rankMatters([{ kind: 'words', matterId: 1, count: 1, words: 'gannet', open: o }], mail)[0]!,
    )
    expect(open!.score).toBeGreaterThanOrEqual(sureEnough)
    expect(shut!.score).toBeLessThan(sureEnough)
  })
})

describe('answers and names of papers', () => {
  const spec = (type: Parameters<typeof readAnswer>[0]['type'], choices?: string[]) => ({
    type,
    label: 'Sum',
    ...(choices ? { choices } : {}),
  })
  it('reads an answer by its type, or says what to do', () => {
    expect(readAnswer(spec('money'), '$1,250.50')).toEqual({ value: money(125_050) })
    expect(readAnswer(spec('money'), 'much')).toEqual({ fault: 'Give an amount for Sum' })
    expect(readAnswer(spec('day'), '2026-02-29')).toEqual({ fault: 'Give a date that exists for Sum' })
    expect(readAnswer(spec('number'), '1,200')).toEqual({ value: 1200 })
    expect(readAnswer(spec('yes/no'), 'NO')).toEqual({ value: false })
    expect(readAnswer(spec('text', ['firm', 'final']), 'mild')).toEqual({ fault: 'Choose one of the list for Sum' })
    expect(readAnswer(spec('list'), 'a\n b \n\n')).toEqual({ value: ['a', 'b'] })
    expect(readAnswer(spec('text'), '  ')).toEqual({ value: null })
  })
  it('writes a value as it would be typed, so that it reads as the same again', () => {
    const values: [Parameters<typeof spec>[0], fc.Arbitrary<Value>][] = [
      ['money', fc.integer({ min: -10_000_000_00, max: 10_000_000_00 }).map(money)],
      ['day', fc.constantFrom('2026-02-28', '2024-02-29', '1999-12-31').map((d) => dayValue(d))],
      ['number', fc.integer({ min: -1_000_000, max: 1_000_000 })],
      ['yes/no', fc.boolean()],
    ]
    for (const [type, value] of values)
      fc.assert(fc.property(value, (v) => void expect(readAnswer(spec(type), typedText(v))).toEqual({ value: v })))
  })
  it('puts a value at its path and changes nothing that was given', () => {
    const before = { client: { name: 'Ada', fields: { vessel: 'Gannet' } }, today: dayValue('2026-11-27') }
    const after = withValue(before, 'client.fields.vessel', 'Tern')
    expect(valueAt(after, 'client.fields.vessel')).toBe('Tern')
    expect(valueAt(after, 'client.name')).toBe('Ada')
    expect(before.client.fields.vessel).toBe('Gannet')
    expect(valueAt(withValue(before, 'a.b.c', 1), 'a.b.c')).toBe(1)
    expect(valueAt(before, 'client.constructor.name')).toBeNull()
    expect(Object.getPrototypeOf(withValue({}, '__proto__.x', 1))).toBe(Object.prototype)
  })
  it('names a paper by its pattern, and leaves what it cannot read', () => {
    const values = { matter: { short_name: 'Finch/Gannet' }, today: dayValue('2026-11-27') }
    expect(nameFrom('{template}, {matter.short_name}', values, 'Demand', 'en')).toBe('Demand, Finch-Gannet')
    expect(nameFrom('', values, 'Demand', 'en')).toBe('Demand, Finch-Gannet')
    expect(nameFrom('{matter.short_name} {((} {open', values, 'Demand', 'en')).toContain('((')
    expect(nameFrom('{'.repeat(500), values, 'Demand', 'en').length).toBeLessThanOrEqual(150)
  })
  it('takes a person’s own pronouns, and they where none was said', () => {
    const all = (kind: string, text: string) => Object.values(pronounsOf(kind, text)).join(' ')
    expect(all('person', 'She/Her')).toBe('she her her hers herself false')
    expect(all('person', '')).toBe('they them their theirs themself true')
    expect(all('organization', '')).toBe('it it its its itself false')
    expect(all('person', 'ze/zir/zir/zirs/zirself')).toBe('ze zir zir zirs zirself false')
    expect(all('person', 'constructor')).toBe('constructor constructor constructor constructor constructorself false')
    const who = contactRecord({ kind: 'person', name: 'Ada Finch', greeting: '', address: '', email: '', phone: '', language: 'English', pronouns: '', bornOn: null }) // prettier-ignore
    expect([who['given_name'], who['family_name'], initials('Noor El-Sayed')]).toEqual(['Ada', 'Finch', 'NES'])
  })
})
