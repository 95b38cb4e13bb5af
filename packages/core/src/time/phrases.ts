/** A wording under a short code. Places to fill stand between square brackets. */
export interface Phrase {
  code: string
  text: string
}

const between = /[^\p{L}\p{N}'-]+/u

/**
 * Phrases that fit what was typed up to the caret: by the code that is the last word (first), by their beginning, where two words of
 * it or more were typed, or one that begins the text or a sentence, else by words of theirs that the last word begins. A word that was typed to its end is finished: nothing
 * is offered for it, so that going on with Tab takes nothing by mistake. At most `most`; none for fewer than two letters unless
 * they are a whole code.
 */
export function offerPhrases(typed: string, phrases: readonly Phrase[], most = 6): { phrase: Phrase; from: number }[] {
  const last = typed.slice(-60).split(between).at(-1)!.toLowerCase()
  if (!last) return []
  const from = typed.length - last.length
  const exact = phrases.filter((p) => p.code.toLowerCase() === last)
  const tail = typed.slice(-200)
  const begins = [...tail.matchAll(/(?<=^|[^\p{L}\p{N}'-])[\p{L}\p{N}]/gu)].map((b) => b.index).slice(-12)
  const begun = new Map<Phrase, number>()
  for (const at of begins) {
    const alone = at === begins.at(-1)
    const words = tail.slice(at).toLowerCase()
    if (alone && (words.length < 2 || !/(?:^|[.;:])\s?$/.test(tail.slice(0, at)))) continue
    for (const p of phrases)
      if (!begun.has(p) && p.text.length > words.length && p.text.toLowerCase().startsWith(words))
        begun.set(p, typed.length - tail.length + at)
  }
  const fits = (w: string) => w.length > last.length && w.startsWith(last)
  const near =
    last.length < 2
      ? []
      : phrases.filter(
          (p) => !exact.includes(p) && !begun.has(p) && (fits(p.code.toLowerCase()) || p.text.toLowerCase().split(between).some(fits)),
        )
  return [
    ...exact.map((phrase) => ({ phrase, from })),
    ...[...begun].filter(([p]) => !exact.includes(p)).map(([phrase, at]) => ({ phrase, from: at })),
    ...near.map((phrase) => ({ phrase, from })),
  ].slice(0, most)
}

/** Where the next place to fill stands in a text, from a position on: `[whom]`. Null where there is none. */
export function nextPlace(text: string, from: number): { start: number; end: number } | null {
  const start = text.indexOf('[', from)
  const end = start < 0 ? -1 : text.indexOf(']', start)
  return end < 0 ? null : { start, end: end + 1 }
}
