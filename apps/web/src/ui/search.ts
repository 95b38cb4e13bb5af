import { counted } from '@heron/core/words'
import { api } from '../api'
import type { Choice } from './Picker.vue'

export async function searchContacts(q: string): Promise<Choice[]> {
  const found = await api.people.list({ q, size: 8 })
  // Few or none: a name that was mistyped is found by its near spelling, so that nobody makes it a second time.
  const near = found.rows.length < 3 && q.trim().length > 3 ? await api.people.near({ q }) : []
  const choice = (c: (typeof near)[number], like: string): Choice => ({
    id: c.id,
    text: c.name,
    hint: [like, c.kinds.join(', ') || c.kind, c.matters ? counted(c.matters, 'matter') : ''].filter(Boolean).join(', '),
  })
  return [
    ...found.rows.map((c) => choice(c, '')),
    ...near.filter((n) => !found.rows.some((c) => c.id === n.id)).map((c) => choice(c, 'near spelling')),
  ]
}

export async function searchMatters(q: string): Promise<Choice[]> {
  const found = await api.matters.list({ q, size: 8 })
  return found.rows.map((m) => ({ id: m.id, text: m.name, hint: m.number }))
}

/** Papers of a matter by words of their names. */
export const searchPapers =
  (matterId: number) =>
  async (q: string): Promise<Choice[]> =>
    (await api.papers.list({ matterId, q, size: 12 })).rows.map((p) => ({ id: p.id, text: p.name }))
