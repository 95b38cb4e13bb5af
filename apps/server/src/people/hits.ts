import { showDay } from '@heron/core/calendar'
import { settledByItself } from '@heron/core/people'
import { In, type EntityManager } from 'typeorm'
import type { Ctx } from '../platform/context'
import { namesLike } from './name-queries'
import { Contact } from './entities'
import { enquiriesOf, type Found, type Itself, mattersOf, related, sharing, type Term } from './conflict-queries'

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
      text: `${f.contactId ? 'Asked for help' : `Named as against in an enquiry of ${e.who}`} on ${showDay(ctx.clock.at(e.at).day)} (${e.state === 'declined' ? `declined: ${e.reason}` : e.state})`,
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
