import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import {
  compareNames,
  inverseOf,
  nameWords,
  normalizeName,
  normalizeReach,
  relationKinds,
  settledByItself,
  shortForms,
  soundsOf,
  spellingDistance,
  spellingKeys,
  splitPersonName,
} from '../src/people'

describe('a name reduced for comparison', () => {
  it.each([
    ['The Hollin & Rye Co., Inc.', 'hollin and rye'],
    ['Hollin and Rye GmbH', 'hollin and rye'],
    ['Óskar Łukasiewicz', 'oskar lukasiewicz'],
    ['Dr. Søren Straße, Esq.', 'soren strasse'],
    ["O'Dowd, Hon. Mary", 'odowd mary'],
    ['Corvane Towing S.A.', 'corvane towing'],
    ['J. P. Quill LLP', 'j p quill'],
    ['Company', 'company'],
  ])('%s is %s', (name, reduced) => expect(normalizeName(name)).toBe(reduced))

  it('says its telling words', () => expect(nameWords('Port of Harrow & Sound Ltd')).toEqual(['port', 'harrow', 'sound']))
})

describe('two names compared', () => {
  const of = (a: string, b: string) => compareNames(a, b)
  it.each([
    ['Marec Tyden', 'Marec Tyden', 'same name', 100],
    ['Marec Tyden', 'MAREC TYDÉN', 'same name normalized', 96],
    ['Oduya Marine Engines Inc.', 'The Oduya Marine Engines LLC', 'same name normalized', 96],
    ['Brine Well Oysters', 'Brinewell Oysters', 'same name normalized', 94],
  ])('%s and %s: %s', (a, b, reason, score) => expect(of(a, b)).toMatchObject({ reason, score }))

  it.each([
    ['Tyden, Marec', 'Marec Tyden', 'same words in another order'],
    ['Bill Achterberg', 'William Achterberg', 'short form of a given name'],
    ['Peggy Dufresne', 'Margaret Dufresne', 'short form of a given name'],
    ['Jon Smyth', 'Jon Smith', 'nearly the same spelling'],
    ['Katherine Meier', 'Kathryn Mayer', 'short form of a given name'],
    ['Philip Schaeffer', 'Philip Shafer', 'sounds alike'],
    ['Corvane Towng', 'Corvane Towing Co.', 'nearly the same spelling'],
    ['Corvnae Towing', 'Corvane Towing Co.', 'nearly the same spelling'],
    ['G. Munro', 'Giles Munro', 'an initial that fits'],
  ])('%s is like %s: %s', (a, b, reason) => {
    const hit = of(a, b)
    expect(hit?.reasons).toContain(reason)
    expect(hit!.score).toBeGreaterThanOrEqual(70)
  })

  it('a part of the name is a lesser hit', () => {
    const hit = of('Tyde Rye', 'Tyde Rye Distillers Ltd')!
    expect(hit.reason).toBe('shares part of the name')
    expect(hit.score).toBeLessThan(of('Tyde Rye Distiller', 'Tyde Rye Distillers Ltd')!.score)
  })

  it.each([
    ['Ilse Vandermeer', 'Stellan Voss'],
    ['John Smith', 'Mary Smith'],
    ['Corvane Marine Services', 'Oduya Marine Services'],
    ['Ann Lee', 'Ann Loe Brightwater Holdings'],
    ['Pell', 'Pellan Survey Group West'],
  ])('%s is not %s', (a, b) => expect(of(a, b)?.score ?? 0).toBeLessThan(80))

  const word = fc.stringMatching(/^[a-z]{3,10}$/)
  const name = fc.array(word, { minLength: 2, maxLength: 4 }).map((w) => w.join(' '))

  it('is the same from both sides', () =>
    void fc.assert(
      fc.property(name, name, (a, b) => of(a, b)?.score === of(b, a)?.score),
      { numRuns: 300 },
    ))

  it('never scores a disturbed name above the name itself, and always finds it', () =>
    void fc.assert(
      fc.property(fc.array(fc.stringMatching(/^[a-z]{5,10}$/), { minLength: 2, maxLength: 3 }), fc.nat(), fc.nat(), (words, w, at) => {
        const i = w % words.length
        const broken = words.map((x, n) => (n === i ? x.slice(0, at % x.length) + x.slice((at % x.length) + 1) : x)).join(' ')
        const hit = of(broken, words.join(' '))
        expect(hit).not.toBeNull()
        expect(hit!.score).toBeLessThanOrEqual(100)
        expect(hit!.score).toBeGreaterThanOrEqual(70)
      }),
      { numRuns: 300 },
    ))
})

describe('spelling', () => {
  it.each([
    ['munro', 'munroe', 1],
    ['munro', 'murno', 1],
    ['corvane', 'corvnae', 1],
    ['abc', 'xyz', 3],
    ['short', 'muchlongerword', 5],
  ])('%s and %s are %i apart', (a, b, n) => expect(spellingDistance(a, b)).toBe(n))

  it('two words within two changes of their first letters share a key', () =>
    void fc.assert(
      fc.property(fc.stringMatching(/^[a-z]{7,9}$/), fc.nat(), fc.nat(), (word, x, y) => {
        const one = word.slice(0, x % word.length) + word.slice((x % word.length) + 1)
        const two = one.slice(0, y % one.length) + one.slice((y % one.length) + 1)
        const keys = new Set(spellingKeys(word))
        expect(spellingKeys(one).some((k) => keys.has(k))).toBe(true)
        expect(spellingKeys(two).some((k) => keys.has(k))).toBe(true)
      }),
    ))

  it('words that sound alike have a code in common', () => {
    expect(soundsOf('schaeffer')[0]).toBe(soundsOf('shafer')[0])
    expect(soundsOf('日本')).toEqual(['', ''])
  })
})

describe('what surrounds a name', () => {
  it('short forms are mutual', () => {
    for (const form of ['william', 'peggy', 'kit']) for (const other of shortForms(form)) expect(shortForms(other)).toContain(form)
  })
  it('relations read from the other side', () => {
    expect(inverseOf('child of')).toBe('parent of')
    for (const r of relationKinds.filter((r) => r.kind === r.inverse)) expect(inverseOf(r.inverse)).toBe(r.kind)
  })
  it.each([
    ['e-mail', ' Marec@Tyden.Example ', 'marec@tyden.example'],
    ['phone', '+1 (555) 010-2233 ', '5550102233'],
    ['phone', '12', ''],
    ['tax number', '12-345 6789', '123456789'],
  ] as const)('%s %s is kept as %s', (what, value, kept) => expect(normalizeReach(what, value)).toBe(kept))
  it.each([
    ['Dr. Leonie Hartigan', { prefix: 'Dr.', given: 'Leonie', family: 'Hartigan', suffix: '' }],
    ['Ludwig van der Meer Jr.', { prefix: '', given: 'Ludwig', family: 'van der Meer', suffix: 'Jr.' }],
    ['Prince', { prefix: '', given: '', family: 'Prince', suffix: '' }],
  ])('%s in parts', (name, parts) => expect(splitPersonName(name)).toEqual(parts))
})

describe('a hit that only met itself', () => {
  const met = { sameName: true, sameRecord: true, client: false, parts: [{ ours: false, itself: true }] }
  const ours = { ours: true, itself: false }
  it.each([
    ['the opponent of the matter just opened', met, 'itself'],
    ['a client of other matters', { ...met, client: true, parts: [ours, ours] }, 'our own client'],
    ['a client who calls again', { ...met, client: true, parts: [ours, { ours: true, itself: true }] }, 'our own client'],
    ['another record of the same name', { ...met, sameRecord: false }, null],
    ['a name merely like it', { ...met, sameName: false }, null],
    ['both sides of the same matter', { ...met, parts: [...met.parts, { ours: true, itself: true }] }, null],
    ['a client met on the other side elsewhere', { ...met, client: true, parts: [ours, { ours: false, itself: false }] }, null],
    ['a client of ours searched as an opponent', { ...met, parts: [ours] }, null],
    ['no part at all', { ...met, parts: [] }, null],
  ] as const)('%s', (_who, hit, settled) => expect(settledByItself(hit)).toBe(settled))
})
