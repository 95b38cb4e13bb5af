import { counted } from '@heron/core/words'
import { api } from '../api'
import type { Choice } from './Picker.vue'

export async function searchContacts(q: string): Promise<Choice[]> {
  const found = await api.people.list({ q, size: 8 })
  return found.rows.map((c) => ({
    id: c.id,
    text: c.name,
    hint: [c.kinds.join(', ') || c.kind, c.matters ? counted(c.matters, 'matter') : ''].filter(Boolean).join(', '),
  }))
}

export async function searchMatters(q: string): Promise<Choice[]> {
  const found = await api.matters.list({ q, size: 8 })
  return found.rows.map((m) => ({ id: m.id, text: m.name, hint: m.number }))
}
