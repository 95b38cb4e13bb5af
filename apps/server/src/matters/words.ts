import { searchWords } from '@heron/core/matters'
import { In, type EntityManager } from 'typeorm'
import { insertMany } from '../platform/database'
import { onContactRenamed } from '../platform/renamed'
import { MatterWord } from './entities'
import { mattersNaming, wordsToIndex } from './file-queries'

/** Writes the words under which matters are found anew: numbers, names, clients, parties, tags. */
export async function indexMatters(m: EntityManager, ids: readonly number[]): Promise<void> {
  if (!ids.length) return
  const found = await wordsToIndex(m, ids)
  await m.delete(MatterWord, { matterId: In(ids) })
  const words = found.flatMap((f) => searchWords(f.texts).map((w) => [w, f.id]))
  if (words.length) await insertMany(m, 'matter_word', ['word', 'matter_id'], words)
}

onContactRenamed(async (m, contactId) => {
  const found = await mattersNaming(m, contactId)
  await indexMatters(
    m,
    found.map((f) => f.id),
  )
})
