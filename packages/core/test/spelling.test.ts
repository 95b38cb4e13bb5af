import { offerPhrases } from '@heron/core/time'
import { respell, wordsToCheck } from '@heron/core/words'
import fc from 'fast-check'
import { describe, expect, it } from 'vitest'

const words = (text: string) => wordsToCheck(text).map((w) => w.word)
describe('words that a dictionary is asked about', () => {
  it('are those of the language, not names, abbreviations, numbers or addresses', () => {
    expect(words('Reviewed Corvane’s anser with Ms. Ruiz; see 12th exh. B, RFP no. 3, noor@x.example and docs/a.pdf')).toEqual(['Reviewed', 'anser', 'with', 'see', 'and']) // prettier-ignore
    expect(words("The surveyor's reports. Drafted letter")).toEqual(['The', 'surveyor', 'reports', 'Drafted', 'letter'])
    expect(words('cross-examination')).toEqual(['cross', 'examination'])
  })
  it('are found in any text, each once, where they stand', () => {
    fc.assert(
      fc.property(fc.string({ maxLength: 400, unit: 'grapheme' }), (text) => {
        const found = wordsToCheck(text)
        expect(new Set(found.map((w) => w.word)).size).toBe(found.length)
        for (const w of found) expect(text.slice(w.start).replaceAll('’', "'").startsWith(w.word)).toBe(true)
      }),
    )
  })
  it('are written otherwise wherever they stand alone', () => {
    expect(respell('recieved the recieveds; recieved’s', 'recieved', 'received')).toBe('received the recieveds; received’s')
  })
})

describe('phrases', () => {
  const list = [
    { code: 'cwc', text: 'Call with client regarding [what]' },
    { code: 'n', text: 'Notes to file' },
  ]
  it('are offered by their beginning, by a word begun, by their code, and not for a word that is finished', () => {
    const offered = (typed: string) => offerPhrases(typed, list).map((o) => [o.phrase.code, o.from])
    expect(offered('call with cl')).toEqual([['cwc', 0]])
    expect(offered('Then call with')).toEqual([['cwc', 5]])
    expect(offered('Call with client and notes')).toEqual([])
    expect(offered('note')).toEqual([['n', 0]])
    expect([offered('call'), offered('Read it. call'), offered('the call')]).toEqual([[['cwc', 0]], [['cwc', 9]], []])
    expect(offered('x cwc')).toEqual([['cwc', 2]])
  })
})
