import {
  compareNames,
  type NameHit,
  nameWords,
  normalizeName,
  rareWordHit,
  shortForms,
  soundsOf,
  spellingKeys,
  wordLikeness,
} from '@heron/core/people'
import type { EntityManager } from 'typeorm'
import { rows, run } from '../platform/database'

export interface RecordedName {
  contactId: number | null
  enquiryId: number | null
  /** `name`, `former name`, `trading name` … */
  what: string
  name: string
}

/** Words that are on record, with their ids. */
export const wordsOnRecord = (m: EntityManager, slice: string[]) =>
  rows<{ id: number; word: string }>(m, `SELECT id, word FROM name_word WHERE word IN (?)`, [slice])

/** Words with their sounds, each once. */
export const addWords = (m: EntityManager, slice: string[]) =>
  m.query(
    `INSERT IGNORE INTO name_word (word, sound, other_sound) VALUES ${slice.map(() => '(?,?,?)').join(',')}`,
    slice.flatMap((w) => [w, ...soundsOf(w)]),
  )

/** Words less a letter or two, each once. */
export const addSpellings = (m: EntityManager, slice: (readonly [string, number])[]) =>
  m.query(`INSERT IGNORE INTO name_spelling (spelling, word_id) VALUES ${slice.map(() => '(?,?)').join(',')}`, slice.flat())

/** The words of a name as they stand in the index. */
export const wordsOf = (name: string) => [...new Set(nameWords(name))].map((w) => w.slice(0, 40))

/** Names in one statement. */
export const addNames = (m: EntityManager, slice: RecordedName[]) =>
  m.query(
    `INSERT INTO recorded_name (contact_id, enquiry_id, what, name, normalized) VALUES ${slice.map(() => '(?,?,?,?,?)').join(',')}`,
    slice.flatMap((n) => [n.contactId, n.enquiryId, n.what, n.name, normalizeName(n.name).slice(0, 200)]),
  )

/** Where the words of a contact’s names stand. */
export const dropPostings = (m: EntityManager, column: string, id: number) =>
  run(m, `DELETE p FROM name_posting p JOIN recorded_name n ON n.id = p.name_id WHERE n.${column} = ?`, [id])

/** The names themselves. */
export const dropRecordedNames = (m: EntityManager, column: string, id: number) =>
  run(m, `DELETE FROM recorded_name WHERE ${column} = ?`, [id])

interface Word {
  id: number
  word: string
}

/** For each word of the term, the words on record that are like it, the most alike first. */
async function likeWords(m: EntityManager, term: string): Promise<{ id: number; by: number }[][]> {
  const own = wordsOf(term)
    .filter((w) => w.length > 1)
    .slice(0, 12)
  const joined = own.slice(1).map((w, i) => own[i]! + w)
  const asked = [...new Set([...own, ...joined])]
  if (!asked.length) return []
  const keys = [...new Set(asked.flatMap(spellingKeys))]
  const sounds = [...new Set(asked.flatMap(soundsOf))].filter((s) => s.length > 1)
  const forms = asked.flatMap((w) => [...shortForms(w)])
  const found = new Map<number, string>()
  const take = (list: Word[]) => list.forEach((w) => found.set(w.id, w.word))
  take(
    await rows<Word>(m, `SELECT DISTINCT w.id, w.word FROM name_spelling s JOIN name_word w ON w.id = s.word_id WHERE s.spelling IN (?)`, [
      keys,
    ]),
  )
  if (sounds.length) {
    take(await rows<Word>(m, `SELECT id, word FROM name_word WHERE sound IN (?) LIMIT 3000`, [sounds]))
    take(await rows<Word>(m, `SELECT id, word FROM name_word WHERE other_sound IN (?) LIMIT 3000`, [sounds]))
  }
  if (forms.length) take(await rows<Word>(m, `SELECT id, word FROM name_word WHERE word IN (?)`, [forms]))
  return asked.map((w) =>
    [...found]
      .map(([id, word]) => ({ id, by: wordLikeness(w, word).by }))
      .filter((x) => x.by >= 0.6)
      .sort((a, b) => b.by - a.by)
      .slice(0, 120),
  )
}

export interface NearName {
  id: number
  contactId: number | null
  enquiryId: number | null
  what: string
  name: string
  hit: NameHit
  /** It shares a rare word of the term exactly. */
  rare: boolean
}

/** A word that so few names have is rare: at most five, or one in a thousand of all. */
const rareAtMost = (all: number) => Math.max(5, Math.floor(all / 1000))

/** Names on record that have a rare word of the term exactly: whatever else they are, they are not left out. */
async function withRareWord(m: EntityManager, term: string) {
  const own = wordsOf(term)
    .filter((w) => w.length > 2)
    .slice(0, 12)
  if (!own.length) return []
  const counts = await rows<{ id: number; word: string; n: number; all: number }>(
    m,
    `SELECT w.id, w.word, (SELECT COUNT(*) FROM name_posting p WHERE p.word_id = w.id) AS n,
            (SELECT table_rows FROM information_schema.tables WHERE table_schema = DATABASE() AND table_name = 'recorded_name') AS \`all\`
       FROM name_word w WHERE w.word IN (?)`,
    [own],
  )
  const rare = counts.filter((c) => c.n && c.n <= Math.min(2000, rareAtMost(c.all ?? 0)))
  if (!rare.length) return []
  return rows<Omit<NearName, 'hit' | 'rare'> & { word: string }>(
    m,
    `SELECT n.id, n.contact_id AS contactId, n.enquiry_id AS enquiryId, n.what, n.name, w.word FROM name_posting p JOIN name_word w ON w.id = p.word_id JOIN recorded_name n ON n.id = p.name_id
      WHERE p.word_id IN (?) ORDER BY n.id LIMIT 2000`,
    [rare.map((r) => r.id)],
  )
}

/** Rows of postings read for the rarest words of a term before the commoner ones only add to what was found. */
const wide = 120_000

/**
 * Names on record that are like a term, the best first. Rare words say more than common ones: candidates are ranked by
 * likeness times rarity of the words they share, and the best of them are compared in full.
 */
export async function namesLike(m: EntityManager, term: string, most = 200): Promise<NearName[]> {
  const groups = (await likeWords(m, term)).filter((g) => g.length)
  if (!groups.length) return []
  const all = [...new Set(groups.flat().map((w) => w.id))]
  const counts = new Map(
    (
      await rows<{ id: number; n: number }>(
        m,
        `SELECT word_id AS id, COUNT(*) AS n FROM name_posting WHERE word_id IN (?) GROUP BY word_id`,
        [all],
      )
    ).map((c) => [c.id, c.n]),
  )
  const size = (g: { id: number }[]) => g.reduce((n, w) => n + (counts.get(w.id) ?? 0), 0)
  const weights = new Map<number, number>()
  const read: number[] = []
  const added: number[] = []
  let soFar = 0
  for (const group of [...groups].sort((a, b) => size(a) - size(b))) {
    const rarity = Math.log(2_000_000 / (1 + size(group)))
    for (const w of group) {
      weights.set(w.id, Math.max(weights.get(w.id) ?? 0, Math.round(w.by ** 3 * rarity * 1000)))
      const n = counts.get(w.id) ?? 0
      if (soFar && soFar + n > wide) added.push(w.id)
      else {
        soFar += n
        read.push(w.id)
      }
    }
  }
  const table = (ids: number[]) => ids.map((id) => `SELECT ${id} AS word_id, ${weights.get(id)} AS weight`).join(' UNION ALL ')
  let best = await rows<{ id: number; weight: number }>(
    m,
    `SELECT p.name_id AS id, SUM(v.weight) AS weight FROM (${table(read)}) v STRAIGHT_JOIN name_posting p ON p.word_id = v.word_id
      GROUP BY p.name_id ORDER BY weight DESC, id LIMIT ${added.length ? 4000 : 400}`,
  )
  if (added.length && best.length) {
    const more = new Map(
      (
        await rows<{ id: number; weight: number }>(
          m,
          `SELECT p.name_id AS id, SUM(v.weight) AS weight FROM name_posting p JOIN (${table(added)}) v ON v.word_id = p.word_id WHERE p.name_id IN (?) GROUP BY p.name_id`,
          [best.map((b) => b.id)],
        )
      ).map((b) => [b.id, b.weight]),
    )
    best = best
      .map((b) => ({ id: b.id, weight: b.weight + (more.get(b.id) ?? 0) }))
      .sort((a, b) => b.weight - a.weight)
      .slice(0, 400)
  }
  if (!best.length) return []
  const names = await rows<Omit<NearName, 'hit' | 'rare'>>(
    m,
    `SELECT id, contact_id AS contactId, enquiry_id AS enquiryId, what, name FROM recorded_name WHERE id IN (?)`,
    [best.map((b) => b.id)],
  )
  const rare = await withRareWord(m, term)
  const there = new Set(names.map((n) => n.id))
  return [...names, ...rare.filter((r) => !there.has(r.id))]
    .flatMap((n): NearName[] => {
      const word = rare.find((r) => r.id === n.id)?.word
      const hit = compareNames(term, n.name) ?? (word ? rareWordHit(word) : null)
      return hit ? [{ id: n.id, contactId: n.contactId, enquiryId: n.enquiryId, what: n.what, name: n.name, hit, rare: Boolean(word) }] : []
    })
    .sort((a, b) => b.hit.score - a.hit.score || a.id - b.id)
    .slice(0, most)
}
