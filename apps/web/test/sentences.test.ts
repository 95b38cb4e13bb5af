import { readdirSync, readFileSync } from 'node:fs'
import { join } from 'node:path'
import { describe, expect, it } from 'vitest'

const root = join(import.meta.dirname, '../../..')
const places = ['apps/web/src', 'apps/server/src', 'packages/core/src', 'packages/contract/src']
const sources = places.flatMap((place) =>
  readdirSync(join(root, place), { recursive: true, encoding: 'utf8' })
    .filter((f) => /\.(ts|vue)$/.test(f))
    .map((f) => ({ file: join(place, f), text: readFileSync(join(root, place, f), 'utf8') })),
)

/** What the application counts in words anywhere: every noun that is said through the one function for it. */
const nouns = new Set(
  sources.flatMap(({ text }) =>
    [...text.matchAll(/\b(?:counted|plural)\([^()]*(?:\([^()]*\)[^()]*)*?, '([a-z ’-]+)'(?:, '([a-z ’-]+)')?\)/g)].flatMap(
      ([, one, many]) => [one!, many ?? `${one!}s`].filter((noun) => !noun.includes(' ')),
    ),
  ),
)
/** A figure followed by a word, in a template string or a page. */
const figure = /(\$\{[^{}]*\}|\{\{[^{}]*\}\}) ([a-z]+)\b/g
const counts = /\b(length|count|size|total|days|n|rows|moves|adds)\b\s*\}+$/

describe('sentences with numbers', () => {
  it('are found', () => {
    expect(sources.length).toBeGreaterThan(300)
    expect([...nouns]).toEqual(expect.arrayContaining(['task', 'tasks', 'date', 'matters', 'entries', 'steps']))
  })
  it('say one and many through the one function that knows which', () => {
    const wrong = sources.flatMap(({ file, text }) =>
      [...text.matchAll(figure)]
        .filter(([, figure, word]) => nouns.has(word!) && counts.test(figure!) && !/counted|plural|agreeing|showHours/.test(figure!))
        .map(([all]) => `${file}: ${all}`),
    )
    expect(wrong).toEqual([])
  })
})

describe('what is bound to a field', () => {
  it('is never a constant object itself: what is entered would go into a variable that nothing follows', () => {
    const wrong = sources
      .filter(({ file }) => file.endsWith('.vue'))
      .flatMap(({ file, text }) =>
        [...text.matchAll(/const (\w+) = (?:shallowReactive|reactive)\b/g)]
          .map(([, name]) => name!)
          .filter((name) => new RegExp(`v-model(?::[\\w-]+)?="${name}"`).test(text))
          .map((name) => `${file}: ${name}`),
      )
    expect(wrong).toEqual([])
  })
})
