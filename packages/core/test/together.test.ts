import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { together as put } from '@heron/core/ledger'

const mine = (...list: [from: number | null, line: string][]) => list.map(([from, line]) => ({ from, line }))

const together = (...all: Parameters<typeof put<string>>) => {
  const { lines, apart } = put(...all)
  return { lines: lines.map((l) => l.line), apart }
}

describe('what two people made of one list', () => {
  const base = ['a', 'b', 'c']
  it('has what each added, changed and took out', () => {
    expect(together(base, mine([0, 'a'], [1, 'B'], [2, 'c'], [null, 'e']), ['a', 'b', 'c', 'd'])).toEqual({
      lines: ['a', 'B', 'c', 'd', 'e'],
      apart: [],
    })
    expect(together(base, mine([0, 'a'], [2, 'c']), ['b', 'c', 'd'])).toEqual({ lines: ['c', 'd'], apart: [] })
  })
  it('keeps theirs where both changed a line, and tells mine', () => {
    expect(together(base, mine([0, 'mine'], [1, 'b'], [2, 'c']), ['theirs', 'b', 'c'])).toEqual({
      lines: ['theirs', 'b', 'c'],
      apart: ['mine'],
    })
    expect(together(base, mine([0, 'a'], [1, 'mine'], [2, 'c']), ['a', 'c'])).toEqual({ lines: ['a', 'c'], apart: ['mine'] })
  })
  it('loses nothing that either typed (property)', () => {
    const word = fc.string({ minLength: 1, maxLength: 3 })
    fc.assert(
      fc.property(
        fc.uniqueArray(word, { maxLength: 8 }),
        fc.array(fc.tuple(fc.integer({ min: 0, max: 3 }), word)),
        fc.array(word, { maxLength: 4 }),
        fc.array(word, { maxLength: 4 }),
        (list, changes, newMine, newTheirs) => {
          // Of each line: left, changed by me, changed by them, taken out by me.
          const how = list.map((_, i) => changes[i]?.[0] ?? 0)
          const my = [
            ...list.flatMap((line, i) => (how[i] === 3 ? [] : [{ from: i as number | null, line: how[i] === 1 ? `mine ${i}` : line }])),
            ...newMine.map((line) => ({ from: null, line: `+${line}` })),
          ]
          const their = [...list.map((line, i) => (how[i] === 2 ? `theirs ${i}` : line)), ...newTheirs.map((l) => `*${l}`)]
          const out = together(list, my, their)
          for (const { line } of my) if (!list.includes(line)) expect([...out.lines, ...out.apart]).toContain(line)
          for (const line of their) if (!list.includes(line)) expect(out.lines).toContain(line)
          for (const [i, line] of list.entries()) if (how[i] === 0) expect(out.lines).toContain(line)
          for (const [i, line] of list.entries()) if (how[i] === 3) expect(out.lines).not.toContain(line)
        },
      ),
    )
  })
})
