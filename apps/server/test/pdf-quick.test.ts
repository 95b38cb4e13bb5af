import { expect, test } from 'vitest'
import { type Inline, joined, outspoken, type ReadFont, shapingOnce } from '../src/platform/pdf-apart/quick'

const word = (text: string, x: number, more: Partial<Inline> = {}): Inline => ({
  text,
  x,
  width: text.length,
  height: 12,
  trailingCut: 0,
  font: 'Sans',
  fontSize: 9,
  color: 'black',
  ...more,
})

test('words of a line that look alike are written as one, in their place; a gap, another look or a link keeps them apart', () => {
  const line = joined([word('Drafted ', 0), word('a ', 8), word('motion', 10, { trailingCut: 1 })])
  expect(line).toEqual([word('Drafted a motion', 0, { trailingCut: 1 })])
  expect(joined([word('left', 0), word('right', 40)])).toHaveLength(2)
  expect(joined([word('plain ', 0), word('bold', 6, { font: 'Bold' })])).toHaveLength(2)
  expect(joined([word('see ', 0), word('page', 4, { link: 'https://x.example' })])).toHaveLength(2)
  expect(joined([])).toEqual([])
})

test('each text says how it looks: itself first, then its style, then what it stands in', () => {
  const styles = { small: { fontSize: 8, color: 'grey' } }
  const [cell] = (
    outspoken(
      { style: 'small', alignment: 'right', table: { widths: [1], body: [['a'], [{ text: 'b', fontSize: 20 }], [{ text: ['c', { text: 'd' }] }]] } },
      styles,
    ) as { table: { body: Record<string, unknown>[][] } }
  ).table.body[0]! // prettier-ignore
  expect(cell).toMatchObject({ text: 'a', fontSize: 8, color: 'grey', alignment: 'right', bold: false })
  const made = outspoken(
    [{ text: 'b', style: 'small', fontSize: 20 }, { stack: ['s'], bold: true }, { canvas: [{ type: 'line' }] }],
    styles,
  )
  expect(made).toMatchObject([{ fontSize: 20, color: 'grey' }, { stack: [{ text: 's', bold: true, fontSize: 9.5 }] }, { canvas: [{ type: 'line' }] }]) // prettier-ignore
  // A text of several pieces is left to the layouter, which knows what each piece takes over.
  expect(outspoken({ text: ['c', { text: 'd' }] }, styles)).toEqual({ text: ['c', { text: 'd' }] })
})

test('a word is shaped once, and whoever lays it out gets positions of its own', () => {
  let shaped = 0
  const font: ReadFont = shapingOnce({
    unitsPerEm: 2000,
    layout: (text) => {
      shaped += 1
      return { glyphs: [...text], positions: [...text].map(() => ({ xAdvance: 500, yAdvance: 0, xOffset: 0, yOffset: 0 })), advanceWidth: 500 * text.length } // prettier-ignore
    },
  })
  const one = font.layout('ab')
  expect(one.advanceWidth).toBe(500)
  for (const p of one.positions) p.xAdvance *= 0.5
  expect(font.layout('ab').positions.map((p) => p.xAdvance)).toEqual([500, 500])
  expect(shaped).toBe(1)
  font.layout('ab', ['smcp'])
  expect(shaped).toBe(2)
  // What is long is no word that comes again, and is not kept.
  for (let i = 0; i < 2; i += 1) font.layout('x'.repeat(50))
  expect(shaped).toBe(4)
})
