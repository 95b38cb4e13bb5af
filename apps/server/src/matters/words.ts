import { searchWords } from '@heron/core/matters'
import { In, type EntityManager } from 'typeorm'
import { insertMany, rows, literal, mostWords } from '../platform/database'
import { onContactRenamed } from '../platform/renamed'
import { MatterWord } from './entities'

/** Writes the words under which matters are found anew: numbers, names, clients, parties, tags. */
export async function indexMatters(m: EntityManager, ids: readonly number[]): Promise<void> {
  if (!ids.length) return
  const found = await rows<{ id: number; texts: string }>(
    m,
    `SELECT m.id, CONCAT_WS(' ', m.number, m.second_number, m.name, m.short_name, m.case_number, m.court, c.name,
            (SELECT GROUP_CONCAT(x.name SEPARATOR ' ') FROM matter_party p JOIN contact x ON x.id = p.contact_id WHERE p.matter_id = m.id),
            (SELECT GROUP_CONCAT(x.name SEPARATOR ' ') FROM matter_client p JOIN contact x ON x.id = p.contact_id WHERE p.matter_id = m.id),
            (SELECT GROUP_CONCAT(t.tag SEPARATOR ' ') FROM matter_tag t WHERE t.matter_id = m.id)) AS texts
       FROM matter m JOIN contact c ON c.id = m.client_id WHERE m.id IN (?)`,
    [ids],
  )
  await m.delete(MatterWord, { matterId: In(ids) })
  const words = found.flatMap((f) => searchWords(f.texts).map((w) => [w, f.id]))
  if (words.length) await insertMany(m, 'matter_word', ['word', 'matter_id'], words)
}

onContactRenamed(async (m, contactId) => {
  const found = await rows<{ id: number }>(
    m,
    `SELECT id FROM matter WHERE client_id = ? UNION SELECT matter_id FROM matter_party WHERE contact_id = ? UNION SELECT matter_id FROM matter_client WHERE contact_id = ?`,
    [contactId, contactId, contactId],
  )
  await indexMatters(
    m,
    found.map((f) => f.id),
  )
})

/**
 * The matters of which every word typed begins a word, as SQL that lists their ids; null where nothing to look for was
 * typed. Each word may begin words of many thousands; their lists are intersected as a whole, since probing one by the
 * other takes many times as long.
 */
export function matterIdsByWords(q: string): { sql: string; values: string[] } | null {
  const words = q
    .trim()
    .split(/\s+/)
    .map((w) => searchWords(w)[0])
    .filter((w): w is string => Boolean(w))
  const values = [...new Set(words)].slice(0, mostWords).map((w) => `${literal(w)}%`)
  if (!values.length) return null
  return { sql: values.map(() => 'SELECT DISTINCT w.matter_id FROM matter_word w WHERE w.word LIKE ?').join(' INTERSECT '), values }
}
