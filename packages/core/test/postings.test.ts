import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import {
  bareWord,
  blockOf,
  blockSize,
  emptyBlock,
  keepBlock,
  packIds,
  papersIn,
  papersWith,
  readBlock,
  setPaper,
  tokensOf,
  unpackIds,
} from '../src/papers'

describe('words by which a text is found', () => {
  it('are bare, each once, without those of every sentence', () => {
    expect(tokensOf('The Café, the CAFE; of 2 boats—O’Brien_1 x')).toEqual(['cafe', '2', 'boats', 'brien_1'])
    expect(bareWord('Ärger'.repeat(20))).toHaveLength(40)
  })
  it('are bounded in number, and found in time linear in the text', () => {
    expect(tokensOf(Array.from({ length: 60_000 }, (_, i) => `w${i}`).join(' '))).toHaveLength(50_000)
    expect(tokensOf('\u0301'.repeat(200_000)).length).toBeLessThanOrEqual(1)
  })
})

const place = fc.integer({ min: 0, max: blockSize - 1 })
describe('blocks of papers', () => {
  it('say the same after being kept, few or many', () => {
    fc.assert(
      fc.property(fc.uniqueArray(place, { maxLength: blockSize }), fc.nat({ max: 5000 }), (places, block) => {
        const bits = emptyBlock()
        for (const p of places) setPaper(bits, block * blockSize + p, true)
        const kept = keepBlock(bits)
        expect(kept.length).toBeLessThanOrEqual(128)
        const papers = papersIn(block, readBlock(kept))
        expect(papers).toEqual(places.map((p) => block * blockSize + p).sort((a, b) => b - a))
        for (const p of papers) setPaper(bits, p, false)
        expect(keepBlock(bits)).toHaveLength(0)
      }),
    )
  })
  it('keep ids in rising order', () => {
    fc.assert(
      fc.property(fc.uniqueArray(fc.nat({ max: 4_000_000_000 })), (ids) => {
        const rising = [...ids].sort((a, b) => a - b)
        expect(unpackIds(packIds(rising))).toEqual(rising)
      }),
    )
  })
  it('are put together as sets are: all terms, any word of each, none of those to be without, the newest first', () => {
    const set = fc.uniqueArray(fc.nat({ max: 3000 }), { maxLength: 200 })
    fc.assert(
      fc.property(
        fc.array(set, { minLength: 1, maxLength: 5 }),
        fc.array(fc.tuple(fc.subarray([0, 1, 2, 3, 4], { minLength: 1 }), fc.boolean()), { minLength: 1, maxLength: 3 }),
        (words, shapes) => {
          const kept = words.flatMap((papers, wordId) => {
            const blocks = new Map<number, Uint8Array>()
            for (const p of papers) {
              const bits = blocks.get(blockOf(p)) ?? emptyBlock()
              setPaper(bits, p, true)
              blocks.set(blockOf(p), bits)
            }
            return [...blocks].map(([block, bits]) => ({ wordId, block, papers: keepBlock(bits) }))
          })
          const terms = shapes.map(([ids, without]) => ({ wordIds: new Set(ids), without }))
          const has = (p: number, ids: ReadonlySet<number>) => [...ids].some((i) => words[i]?.includes(p))
          const wanted = terms.filter((t) => !t.without)
          const expected = wanted.length
            ? [...new Set(words.flat())].filter((p) => terms.every((t) => has(p, t.wordIds) !== t.without)).sort((a, b) => b - a)
            : []
          expect(papersWith(terms, kept)).toEqual(expected)
        },
      ),
      { numRuns: 60 },
    )
  })
})
