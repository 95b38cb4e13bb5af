import { spellingKeys } from '@heron/core/people'
import type { EntityManager } from 'typeorm'
import { insertMany } from '../platform/database'
import {
  addNames,
  addSpellings,
  addWords,
  dropPostings,
  dropRecordedNames,
  type RecordedName,
  wordsOf,
  wordsOnRecord,
} from './name-queries'

const slices = <T>(list: readonly T[], size: number): T[][] =>
  Array.from({ length: Math.ceil(list.length / size) }, (_, i) => list.slice(i * size, (i + 1) * size))

/** Ids of words, making those that are not there yet with their sounds and spellings. */
async function wordIds(m: EntityManager, words: readonly string[]): Promise<Map<string, number>> {
  const ids = new Map<string, number>()
  const look = async (some: readonly string[]) => {
    for (const slice of slices(some, 1000)) for (const w of await wordsOnRecord(m, slice)) ids.set(w.word, w.id)
  }
  await look(words)
  const fresh = words.filter((w) => !ids.has(w))
  for (const slice of slices(fresh, 500)) await addWords(m, slice)
  await look(fresh)
  const spellings = fresh.flatMap((w) => spellingKeys(w).map((key) => [key, ids.get(w)!] as const))
  for (const slice of slices(spellings, 2000)) await addSpellings(m, slice)
  return ids
}

/** Puts names on record, so that conflict checks find them. */
export async function recordNames(m: EntityManager, names: readonly RecordedName[]): Promise<void> {
  const ids = await wordIds(m, [...new Set(names.flatMap((n) => wordsOf(n.name)))])
  for (const slice of slices(names, 400)) {
    const made = (await addNames(m, slice)) as { insertId: number }
    // Rows of one statement get consecutive ids.
    const postings = slices(
      slice.flatMap((n, i) => wordsOf(n.name).map((w) => [ids.get(w)!, made.insertId + i])),
      400,
    )
    for (const some of postings) await insertMany(m, 'name_posting', ['word_id', 'name_id'], some)
  }
}

/** Takes the names of a contact or an enquiry off the record, before they are written anew. */
export async function dropNames(m: EntityManager, of: { contactId: number } | { enquiryId: number }): Promise<void> {
  const [column, id] = 'contactId' in of ? ['contact_id', of.contactId] : ['enquiry_id', of.enquiryId]
  await dropPostings(m, column, id)
  await dropRecordedNames(m, column, id)
}
