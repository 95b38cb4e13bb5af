import { tradeWords } from '@heron/core/words'
import nspell from 'nspell'
import aff from 'spelling-dictionary/index.aff?url'
import dic from 'spelling-dictionary/index.dic?url'

/** Looks words up in the dictionary, beside the page and not in its way. */
export interface Ask {
  turn: number
  words: string[]
}
export interface Told {
  turn: number
  unknown: { word: string; offers: string[] }[]
}
/** How many words are offered others for: finding them takes time. */
const most = 6
const read = async (url: string) => (await fetch(url)).text()
const ready = Promise.all([read(aff), read(dic)]).then(([rules, words]) => {
  const speller = nspell(rules, words)
  for (const w of tradeWords) speller.add(w)
  return speller
})
const offers = new Map<string, string[]>()
self.onmessage = async ({ data }: MessageEvent<Ask>) => {
  const speller = await ready
  const wrong = data.words.filter((w) => !speller.correct(w) && !speller.correct(w.toLowerCase())).slice(0, most)
  const unknown = wrong.map((word) => {
    const known = offers.get(word) ?? (word.length > 20 ? [] : speller.suggest(word).slice(0, 3))
    offers.set(word, known)
    return { word, offers: known }
  })
  self.postMessage({ turn: data.turn, unknown } satisfies Told)
}
