import { expect, it } from 'vitest'
import { nextPlace, offerPhrases } from '../src/time'
import { minutesBetween } from '../src/time'

const phrases = [
  { code: 'tc', text: 'Telephone call with [whom] about [what]' },
  { code: 'rev', text: 'Review of [what]' },
  { code: 'tcw', text: 'Telephone conference with the court' },
]
it('phrases are offered by code first, then by their words', () => {
  const codes = (typed: string) => offerPhrases(typed, phrases).map((o) => o.phrase.code)
  expect(codes('tc')).toEqual(['tc', 'tcw'])
  expect(codes('Long morning. tel')).toEqual(['tc', 'tcw'])
  expect(codes('cou')).toEqual(['tcw'])
  expect(codes('t')).toEqual([])
  expect(codes('done. ')).toEqual([])
  expect(offerPhrases('Then TC', phrases)[0]).toMatchObject({ from: 5, phrase: { code: 'tc' } })
})
it('places to fill are gone through one by one', () => {
  const text = phrases[0]!.text
  const first = nextPlace(text, 0)!
  expect(text.slice(first.start, first.end)).toBe('[whom]')
  expect(text.slice(...Object.values(nextPlace(text, first.end)!))).toBe('[what]')
  expect(nextPlace('no place [ here', 0)).toBeNull()
})
it.each([
  ['09:10', '10:00', 50],
  ['00:00', '23:59', 1439],
  ['10:00', '10:00', null],
  ['22:00', '01:00', null],
])('from %s to %s', (from, to, minutes) => expect(minutesBetween(from, to)).toBe(minutes))
