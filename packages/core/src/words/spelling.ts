/** A word to look up, as it stands in a text. */
export interface WordAt {
  word: string
  start: number
}

const wordForm = /\p{L}[\p{L}'’]*/gu
/** Addresses of any kind: words of them are not looked up. */
const addressed = (part: string) => /[@/\\]|\.\p{Ll}/u.test(part)
/** A dot after fewer than four letters is that of an abbreviation. */
const endsSentence = (before: string) => /[!?:]$|(?:\p{L}{4}|[^\p{L}])\.$/u.test(before.trimEnd())

/**
 * The words of a text that a dictionary is asked about, in their order, each once: not abbreviations in capitals, single letters,
 * what has a digit beside it, addresses, or a name, which is taken to be any word that begins with a capital within a sentence.
 * A possessive loses its ending. At most `most` words, of at most 40 letters each.
 */
export function wordsToCheck(text: string, most = 200): WordAt[] {
  const read = text.slice(0, 5000).replace(/\S+/gu, (part) => (addressed(part) ? ' '.repeat(part.length) : part))
  const seen = new Set<string>()
  const out: WordAt[] = []
  for (const found of read.matchAll(wordForm)) {
    if (out.length >= most) break
    const start = found.index
    const before = read.slice(Math.max(0, start - 8), start)
    const after = read[start + found[0].length] ?? ''
    const word = found[0].replaceAll('’', "'").replace(/'s$|'$/u, '')
    if (word.length < 2 || word.length > 40 || /[\p{N}&_]/u.test((before.at(-1) ?? '') + after)) continue
    if (word === word.toUpperCase() || /\p{Ll}\p{Lu}/u.test(word)) continue
    const begins = read.slice(0, start).trim() === '' || endsSentence(before)
    if (!begins && /^\p{Lu}/u.test(word)) continue
    if (after === '.' && word.length < 4) continue
    if (!seen.has(word)) out.push({ word, start })
    seen.add(word)
  }
  return out
}

/** The text with one word written otherwise wherever it stands alone. */
export function respell(text: string, word: string, as: string): string {
  let out = ''
  let at = 0
  for (const found of text.matchAll(wordForm)) {
    const bare = found[0].replaceAll('’', "'").replace(/'s$|'$/u, '')
    if (bare !== word) continue
    out += text.slice(at, found.index) + as
    at = found.index + bare.length
  }
  return out + text.slice(at)
}

/** Words of the trade that general dictionaries lack. */
export const tradeWords: readonly string[] =
  `acknowledgments additur admissibility affiant affiants aforementioned alia alias amicus annulment antidiscrimination appellee appellees arbitral assignor attestation bailee bailor bankruptcies bifurcate bifurcated bifurcation bona bylaw certiorari cestui chancery choate cognizable collateralized comaker compensable condemnor conservatee conservatorship conservatorships contributory coguarantor copayment counterdesignations crossclaim crossclaims culpability curiae curtilage damnum de declarant declarants deponent deponents devisee devisees discoverable docketed docketing donee drawee duces easements elisor emancipated embracery en endorsee enjoined enjoinder escheat escheated estoppel et ex facie fiduciaries forma garnishee garnishees grantor grantors guardianships habeas hac hereditaments impanel impaneled impleader indemnitee indemnitor indemnitors injunctive inter interlineation interlocutory interpleader interrogatories intervenor intervenors irrevocable joinder jurat justiciable laches lessor levied libelant licensor lienholder lienholders limine lis litigable magistrate maritime memoranda misjoinder mitigations monition movant movants nolo noncompete noncompliance nondisclosure nonjoinder nonmovant nonparty nonresident nonsuit novation nunc obligee obligor obligors offeror optionee parte payor payors pendens pendente per plea pleadings postjudgment posttrial praecipe prejudgment pretrial prima privity pro probative procedendo promisee promisor proffer proffered propounded pursuant putative quantum quasi rata rebuttable recuse recusal redact redacted redaction redactions rehear rejoinder remand remanded remittitur replead replevin res respondeat restitutionary salvor salvors se seaworthiness seaworthy seriatim sponte subclass subcontractor sublessee sublessor subparagraph subpoena subpoenaed subpoenas subrogate subrogated subrogation subrogee subrogor sua supersedeas surrebuttal surreply surety tecum teleconference testatrix timekeeper tolled tolling tort tortfeasor tortfeasors tortious transferee transferor trustor tunc unbilled unconscionability unserved unseaworthiness vacatur vendee venire verdict videoconference voir workpapers workup writ writs`.split(
    ' ',
  )
