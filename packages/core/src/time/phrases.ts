/** A wording under a short code. Places to fill stand between square brackets. */
export interface Phrase {
  code: string
  text: string
}

const between = /[^\p{L}\p{N}'-]+/u

/**
 * Phrases that fit what was typed up to the caret: by the code that is the last word (first), else by words of theirs that begin
 * with the last word. At most `most`; none for fewer than two letters unless they are a whole code.
 */
export function offerPhrases(typed: string, phrases: readonly Phrase[], most = 6): { phrase: Phrase; from: number }[] {
  const last = typed.slice(-60).split(between).at(-1)!.toLowerCase()
  if (!last) return []
  const from = typed.length - last.length
  const exact = phrases.filter((p) => p.code.toLowerCase() === last)
  const near =
    last.length < 2
      ? []
      : phrases.filter(
          (p) =>
            !exact.includes(p) &&
            (p.code.toLowerCase().startsWith(last) ||
              p.text
                .toLowerCase()
                .split(between)
                .some((w) => w.startsWith(last))),
        )
  return [...exact, ...near].slice(0, most).map((phrase) => ({ phrase, from }))
}

/** Where the next place to fill stands in a text, from a position on: `[whom]`. Null where there is none. */
export function nextPlace(text: string, from: number): { start: number; end: number } | null {
  const start = text.indexOf('[', from)
  const end = start < 0 ? -1 : text.indexOf(']', start)
  return end < 0 ? null : { start, end: end + 1 }
}
