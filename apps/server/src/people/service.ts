import type { ContactIn } from '@heron/contract'
import { normalizeName } from '@heron/core/people'
import type { EntityManager } from 'typeorm'
import { contactScope, matterScope } from '../platform/access'
import { audit } from '../platform/audit'
import { instant, type Ctx } from '../platform/context'
import { insertMany, row, rows, run, work } from '../platform/database'
import { notFound } from '../platform/problem'
import { Contact } from './entities'

async function writeKindsAndWords(m: EntityManager, id: number, input: Pick<ContactIn, 'kinds' | 'name'>) {
  await run(m, `DELETE FROM contact_kind WHERE contact_id = ?`, [id])
  await run(m, `DELETE FROM contact_word WHERE contact_id = ?`, [id])
  if (input.kinds.length)
    await insertMany(
      m,
      'contact_kind',
      ['contact_id', 'kind'],
      [...new Set(input.kinds)].map((k) => [id, k]),
    )
  const words = [...new Set(normalizeName(input.name).split(' '))].filter(Boolean)
  await insertMany(
    m,
    'contact_word',
    ['word', 'contact_id'],
    words.map((w) => [w.slice(0, 60), id]),
  )
}

export function makeContact(ctx: Ctx, input: ContactIn): Promise<{ id: number }> {
  return work(ctx, async (m) => {
    const { kinds, ...own } = input
    const made = await m.insert(Contact, {
      ...own,
      normalized: normalizeName(input.name).slice(0, 200),
      privateTo: null,
      createdAt: instant(ctx.clock.now()),
    })
    const id = made.identifiers[0]!['id'] as number
    await writeKindsAndWords(m, id, { kinds, name: input.name })
    await audit(m, ctx, { kind: 'made', text: `Contact ${input.name} made`, subject: 'contact', subjectId: id })
    return { id }
  })
}

export function changeContact(ctx: Ctx, id: number, input: ContactIn): Promise<void> {
  return work(ctx, async (m) => {
    const before = await row<{ name: string }>(m, `SELECT c.name FROM contact c WHERE c.id = ? AND ${contactScope(ctx.actor)} FOR UPDATE`, [
      id,
    ])
    if (!before) throw notFound('contact')
    const { kinds, ...own } = input
    await m.update(Contact, id, { ...own, normalized: normalizeName(input.name).slice(0, 200) })
    await writeKindsAndWords(m, id, { kinds, name: input.name })
    await audit(m, ctx, {
      kind: 'changed',
      text: `Contact ${before.name} changed`,
      subject: 'contact',
      subjectId: id,
      detail: { was: before, became: own },
    })
  })
}

const kindsOf = `COALESCE((SELECT GROUP_CONCAT(k.kind ORDER BY k.kind SEPARATOR '|') FROM contact_kind k WHERE k.contact_id = c.id), '')`
const split = (joined: string) => (joined ? joined.split('|') : [])

export async function contacts(ctx: Ctx, f: { q: string; kind: string; page: number; size: number }) {
  const where = `WHERE ${contactScope(ctx.actor)} AND (? = '' OR c.name LIKE ? OR c.normalized LIKE ? OR c.email LIKE ?)
    AND (? = '' OR c.kind = ? OR EXISTS (SELECT 1 FROM contact_kind k WHERE k.contact_id = c.id AND k.kind = ?))`
  const values = [f.q, `%${f.q}%`, `%${normalizeName(f.q || ' ')}%`, `${f.q}%`, f.kind, f.kind, f.kind]
  const total = await row<{ n: number }>(ctx.db.manager, `SELECT COUNT(*) AS n FROM contact c ${where}`, values)
  const list = await rows<{
    id: number
    kind: 'person' | 'organization'
    name: string
    email: string
    phone: string
    kinds: string
    matters: number
  }>(
    ctx.db.manager,
    `SELECT c.id, c.kind, c.name, c.email, c.phone, ${kindsOf} AS kinds,
            (SELECT COUNT(*) FROM matter m WHERE ${matterScope(ctx.actor)} AND (m.client_id = c.id OR EXISTS (SELECT 1 FROM matter_party p WHERE p.matter_id = m.id AND p.contact_id = c.id))) AS matters
       FROM contact c ${where} ORDER BY c.name LIMIT ${Number(f.size)} OFFSET ${(Number(f.page) - 1) * Number(f.size)}`,
    values,
  )
  return { rows: list.map((c) => ({ ...c, kinds: split(c.kinds) })), total: total!.n }
}

/** Matters a contact touches and in which part, as far as the reader may see them. */
export function partsOf(m: EntityManager, ctx: Ctx, contactId: number) {
  return rows<{ matterId: number; number: string; name: string; part: string; open: number }>(
    m,
    `SELECT m.id AS matterId, m.number, m.name, x.part, m.closed_on IS NULL AS open FROM (
        SELECT id AS matter_id, 'client' AS part FROM matter WHERE client_id = ?
        UNION SELECT matter_id, CONCAT(role, IF(side = 'ours', '', CONCAT(', ', side))) FROM matter_party WHERE contact_id = ?
        UNION SELECT id, 'billed' FROM matter WHERE bill_to_id = ? AND client_id <> ?) x
      JOIN matter m ON m.id = x.matter_id WHERE ${matterScope(ctx.actor)} ORDER BY m.opened_on DESC, m.id DESC`,
    [contactId, contactId, contactId, contactId],
  )
}

export async function contact(ctx: Ctx, id: number) {
  const m = ctx.db.manager
  const found = await row<{
    id: number
    kind: 'person' | 'organization'
    name: string
    greeting: string
    email: string
    phone: string
    address: string
    notes: string
    kinds: string
  }>(
    m,
    `SELECT c.id, c.kind, c.name, c.greeting, c.email, c.phone, c.address, c.notes, ${kindsOf} AS kinds FROM contact c WHERE c.id = ? AND ${contactScope(ctx.actor)}`,
    [id],
  )
  if (!found) throw notFound('contact')
  const parts = await partsOf(m, ctx, id)
  return { ...found, kinds: split(found.kinds), parts: parts.map((p) => ({ ...p, open: Boolean(p.open) })), matters: parts.length }
}
