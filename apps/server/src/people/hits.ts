import { inverseOf, isFollowed, normalizeReach, settledByItself, type PartMet } from '@heron/core/people'
import { In, Not, type EntityManager } from 'typeorm'
import { matterScope } from '../platform/access'
import type { Ctx } from '../platform/context'
import { rows } from '../platform/database'
import { namesLike } from './names'
import { Contact, ContactReach } from './entities'

/** A name to check, with the record it stands for where there is one. */
export interface Term {
  name: string
  contactId?: number | null
}

interface Found {
  contactId: number | null
  enquiryId: number | null
  name: string
  score: number
  reasons: string[]
  /** It shares a rare word exactly, and is therefore never left out. */
  rare?: boolean
}

const keep = (all: Map<string, Found>, f: Found) => {
  const key = f.contactId ? `c${f.contactId}` : `e${f.enquiryId} ${f.name}`
  const known = all.get(key)
  if (!known) all.set(key, f)
  else
    all.set(key, {
      ...(f.score > known.score ? f : known),
      rare: Boolean(f.rare || known.rare),
      reasons: [...new Set([...known.reasons, ...f.reasons])],
    })
}

/** Records that share an e-mail, a phone or a tax number with the term itself or with the record it stands for. */
async function sharing(m: EntityManager, term: Term): Promise<Found[]> {
  const typed = (['e-mail', 'phone', 'tax number'] as const)
    .map((what) => ({ what, normalized: what === 'e-mail' && !term.name.includes('@') ? '' : normalizeReach(what, term.name) }))
    .filter((t) => t.normalized && /[\d@]/.test(term.name))
  const own = term.contactId
    ? await m.find(ContactReach, {
        select: { what: true, normalized: true, id: true },
        where: { contactId: term.contactId, what: Not('address'), normalized: Not('') },
      })
    : []
  const found: Found[] = []
  for (const r of [...typed, ...own])
    for (const c of await rows<{ id: number; name: string }>(
      m,
      `SELECT c.id, c.name FROM contact_reach r JOIN contact c ON c.id = r.contact_id WHERE r.what = ? AND r.normalized = ? AND c.merged_into IS NULL AND c.id <> ? LIMIT 20`,
      [r.what, r.normalized, term.contactId ?? 0],
    ))
      found.push({ contactId: c.id, enquiryId: null, name: c.name, score: 85, reasons: [`shares the ${r.what}`] })
  return found
}

/** Whoever stands close to those found, along relations that a check follows: officers, affiliates, insurers, family. */
async function related(m: EntityManager, of: { id: number; name: string; score: number; self: boolean }[]): Promise<Found[]> {
  if (!of.length) return []
  const ids = of.map((o) => o.id)
  const list = await rows<{ fromId: number; toId: number; kind: string; fromName: string; toName: string }>(
    m,
    `SELECT r.from_id AS fromId, r.to_id AS toId, r.kind, a.name AS fromName, b.name AS toName FROM contact_relation r JOIN contact a ON a.id = r.from_id JOIN contact b ON b.id = r.to_id
      WHERE r.from_id IN (?) OR r.to_id IN (?)`,
    [ids, ids],
  )
  return list.flatMap((r): Found[] => {
    if (!isFollowed(r.kind)) return []
    return of.flatMap((o): Found[] => {
      if (o.id !== r.fromId && o.id !== r.toId) return []
      const other =
        o.id === r.toId ? { id: r.fromId, name: r.fromName, how: r.kind } : { id: r.toId, name: r.toName, how: inverseOf(r.kind) }
      const what = `${other.how} ${o.name}${o.self ? '' : ', which matches'}`
      return [{ contactId: other.id, enquiryId: null, name: other.name, score: Math.round(o.score * 0.85), reasons: [what] }]
    })
  })
}

interface Played {
  texts: string[]
  parts: (PartMet & { matterId: number })[]
}

/** What a check is made for when that itself is on record already: its names meet themselves. */
export type Itself = { matterId: number } | { enquiryId: number } | null

/** The matters of contacts in words. One that the searcher may not see shows only that it is there and whom to ask. */
async function mattersOf(m: EntityManager, ctx: Ctx, contactIds: readonly number[], itself: Itself): Promise<Map<number, Played>> {
  if (!contactIds.length) return new Map()
  const ids = contactIds.map(Number).join(',')
  const found = await rows<{
    contactId: number
    matterId: number
    number: string
    name: string
    part: string
    closed: string | null
    lead: string
    visible: number
  }>(
    m,
    `SELECT x.contact_id AS contactId, m.id AS matterId, m.number, m.short_name AS name, x.part, m.closed_on AS closed, u.name AS lead, ${matterScope(ctx.actor)} AS visible FROM (
        SELECT client_id AS contact_id, id AS matter_id, 'client' AS part FROM matter WHERE client_id IN (${ids})
        UNION SELECT contact_id, matter_id, 'client' FROM matter_client WHERE contact_id IN (${ids})
        UNION SELECT contact_id, matter_id, CONCAT(role, ', ', side) FROM matter_party WHERE contact_id IN (${ids})
        UNION SELECT counsel_id, matter_id, 'counsel' FROM matter_party WHERE counsel_id IN (${ids})) x
      JOIN matter m ON m.id = x.matter_id JOIN user_account u ON u.id = m.lead_id ORDER BY m.opened_on DESC, m.id DESC`,
  )
  const out = new Map<number, Played>()
  for (const [id, parts] of groupBy(found, (f) => f.contactId)) {
    const byMatter = groupBy(parts, (p) => p.number)
    const texts = [...byMatter.values()].map((own) => {
      const [f] = own as [(typeof found)[number]]
      const played = own.map((p) => p.part).join('; ')
      return f.visible
        ? `${played} in ${f.number}, ${f.name} (${f.closed ? `closed ${f.closed}` : 'open'})`
        : `In a matter that is not open to you; ask ${f.lead}`
    })
    out.set(id, {
      texts,
      parts: parts.map((p) => ({
        matterId: p.matterId,
        ours: p.part === 'client' || p.part.endsWith(', ours'),
        itself: Boolean(itself && 'matterId' in itself && itself.matterId === p.matterId),
      })),
    })
  }
  return out
}

function groupBy<T, K>(list: readonly T[], by: (item: T) => K): Map<K, T[]> {
  const out = new Map<K, T[]>()
  for (const item of list) out.set(by(item), [...(out.get(by(item)) ?? []), item])
  return out
}

async function enquiriesOf(m: EntityManager, contactIds: readonly number[], enquiryIds: readonly number[]) {
  if (!contactIds.length && !enquiryIds.length) return []
  const list = (ids: readonly number[]) => (ids.length ? ids.map(Number).join(',') : '0')
  return rows<{
    id: number
    contactId: number
    who: string
    state: string
    at: string
    reason: string
    adverse: string
    matterId: number | null
  }>(
    m,
    `SELECT e.id, e.contact_id AS contactId, c.name AS who, e.state, e.created_at AS at, e.reason, e.adverse, e.matter_id AS matterId FROM enquiry e JOIN contact c ON c.id = e.contact_id
      WHERE e.contact_id IN (${list(contactIds)}) OR e.id IN (${list(enquiryIds)})`,
  )
}

/** How many hits of one term are kept; how many more there were is said. */
const kept = 40

interface NewHit {
  term: string
  contactId: number | null
  name: string
  reasons: string[]
  score: number
  matters: { text: string }[]
  settled: ReturnType<typeof settledByItself>
}

/** Everyone on record whom a name may be, with why, and what each plays: the best first. */
export async function hitsOf(
  m: EntityManager,
  ctx: Ctx,
  term: Term,
  client: boolean,
  itself: Itself,
  fresh: ReadonlySet<number> = new Set(),
): Promise<{ hits: NewHit[]; more: number }> {
  const all = new Map<string, Found>()
  for (const n of await namesLike(m, term.name)) {
    const why = n.hit.reasons.map((r) => (n.what === 'name' ? r : `${n.what} ${n.name}: ${r}`))
    keep(all, { contactId: n.contactId, enquiryId: n.enquiryId, name: n.name, score: n.hit.score, reasons: why, rare: n.rare })
  }
  for (const f of await sharing(m, term)) keep(all, f)
  const strong = [...all.values()].filter((f) => f.contactId && f.score >= 85 && f.contactId !== term.contactId)
  const from = strong.map((f) => ({ id: f.contactId!, name: f.name, score: f.score, self: false }))
  if (term.contactId) from.push({ id: term.contactId, name: term.name, score: 95, self: true })
  for (const f of await related(m, from)) keep(all, f)

  const contactIds = [...all.values()].flatMap((f) => f.contactId ?? [])
  const played = await mattersOf(m, ctx, contactIds, itself)
  const enquiries = await enquiriesOf(
    m,
    contactIds,
    [...all.values()].flatMap((f) => f.enquiryId ?? []),
  )
  const people = new Map(
    (contactIds.length
      ? await m.find(Contact, { select: { id: true, name: true, mergedInto: true, privateTo: true }, where: { id: In(contactIds) } })
      : []
    ).map((c) => [c.id, c]),
  )
  const hits = [...all.values()].flatMap((f): NewHit[] => {
    const person = f.contactId ? people.get(f.contactId) : undefined
    if (person?.mergedInto) return []
    const restricted = Boolean(person?.privateTo && person.privateTo !== ctx.actor.id)
    const own = f.contactId ? played.get(f.contactId) : undefined
    const about = enquiries.filter((e) => (f.contactId ? e.contactId === f.contactId && !e.matterId : e.id === f.enquiryId))
    const asked = about.map((e) => ({
      text: `${f.contactId ? 'Asked for help' : `Named as against in an enquiry of ${e.who}`} on ${e.at.slice(0, 10)} (${e.state === 'declined' ? `declined: ${e.reason}` : e.state})`,
    }))
    const matters = [...(own?.texts ?? []).map((text) => ({ text })), ...asked]
    // The record that is asked about, and others of the same opening, are no hit while they are in nothing yet.
    if (!matters.length && f.contactId && (f.contactId === term.contactId || fresh.has(f.contactId))) return []
    // Someone who is only in the address book must be nearly the same to be a hit, or share a rare word exactly.
    if (!matters.length && f.score < 80 && !f.rare) return []
    return [
      {
        term: term.name,
        contactId: f.contactId,
        name: restricted ? 'A private contact' : (person?.name ?? f.name),
        reasons: f.reasons,
        score: f.score,
        matters: restricted ? matters.map(() => ({ text: 'Private; ask an administrator who keeps it' })) : matters,
        settled: settledByItself({
          sameName: f.reasons.includes('same name'),
          sameRecord: f.contactId === (term.contactId ?? (client ? f.contactId : null)),
          client,
          parts: [
            ...(own?.parts ?? []),
            ...about.map((e) => {
              const itsOwn = Boolean(itself && 'enquiryId' in itself && itself.enquiryId === e.id)
              return { ours: itsOwn && Boolean(f.contactId), itself: itsOwn }
            }),
          ],
        }),
      },
    ]
  })
  // What settles itself stands below what somebody must decide on.
  const last = (h: NewHit) => (h.settled ? 1 : 0)
  hits.sort((a, b) => last(a) - last(b) || b.score - a.score || b.matters.length - a.matters.length)
  return { hits: hits.slice(0, kept), more: Math.max(0, hits.length - kept) }
}
