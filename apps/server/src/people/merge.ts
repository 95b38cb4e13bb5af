import type { EntityManager } from 'typeorm'
import { writeFields, fieldValuesOf } from '../fields'
import { audit } from '../platform/audit'
import { instant, may, type Ctx } from '../platform/context'
import { work } from '../platform/database'
import { Problem, refused } from '../platform/problem'
import { contactRenamed } from '../platform/renamed'
import { changeContact } from './service'
import { ContactMerge, ContactReach, MergeRequest, RecordedName } from './entities'
import {
  dropBetween,
  dropClientBeside,
  dropDoubles,
  dropNameWords,
  dropRequests,
  ledgersClash,
  markMerged,
  ownersAnew,
  payersClash,
  planOf,
  pointers,
  pointTo,
  preBillsClash,
  rowsOf,
  trustTouched,
} from './merge-queries'

/** What merging would move, and what of the other record would be kept where. */
export async function mergePreview(ctx: Ctx, keepId: number, otherId: number) {
  const plan = await planOf(ctx.db.manager, ctx, keepId, otherId)
  return {
    keep: { id: keepId, name: plan.keep.name },
    merge: { id: otherId, name: plan.other.name },
    moves: [...plan.moves].map(([what, count]) => ({ what, count })),
    differs: plan.differs,
    trust: await trustShown(ctx, plan.a, plan.b, keepId, otherId),
  }
}

async function trustShown(ctx: Ctx, a: { name: string; kind: string }, b: typeof a, keepId: number, otherId: number) {
  const touched = await trustTouched(
    ctx.db.manager,
    { id: keepId, name: a.name, kind: a.kind },
    { id: otherId, name: b.name, kind: b.kind },
  )
  return (
    touched && {
      ledgers: touched.ledgers,
      held: may(ctx.actor, 'trust.see') ? touched.held : null,
      may: may(ctx.actor, 'trust.post'),
      second: touched.different,
      askedBy: touched.asked?.by ?? null,
      askedByYou: touched.asked?.byId === ctx.actor.id,
    }
  )
}

/**
 * Whether a merge that touches trust money may go on: by those who keep trust accounts only; and where the two records are
 * different people, once a second of them says so too. Until then the wish is kept, and nothing is merged.
 */
async function mayMergeTrust(
  m: EntityManager,
  ctx: Ctx,
  keepId: number,
  otherId: number,
  a: { name: string; kind: string },
  b: typeof a,
): Promise<boolean> {
  const touched = await trustTouched(m, { id: keepId, name: a.name, kind: a.kind }, { id: otherId, name: b.name, kind: b.kind })
  if (!touched) return true
  if (!may(ctx.actor, 'trust.post'))
    throw new Problem(
      403,
      'trust-right',
      `Trust money would come under another name by this merge. Ask someone who keeps the trust accounts.`,
    )
  if (!touched.different || (touched.asked && touched.asked.byId !== ctx.actor.id)) return true
  if (!touched.asked) {
    await m.insert(MergeRequest, { keptId: keepId, mergedId: otherId, askedBy: ctx.actor.id, askedAt: instant(ctx.clock.now()) })
    await audit(m, ctx, {
      kind: 'changed',
      text: `Merging ${b.name} into ${a.name} asked for; it waits for a second person`,
      subject: 'contact',
      subjectId: keepId,
    })
  }
  return false
}

/**
 * Merges another record into this one. Everything that pointed at the other points here afterwards; the other stays
 * in the database, no longer listed, with a trace of what moved. Issued bills keep their payer as printed.
 */
export function mergeContacts(ctx: Ctx, keepId: number, otherId: number): Promise<{ merged: boolean }> {
  return work(ctx, async (m) => {
    const plan = await planOf(m, ctx, keepId, otherId, true)
    const { a, b, keep, other } = plan
    const clash = await ledgersClash(m, keepId, otherId)
    if (clash)
      throw refused(
        'ledgers-in-the-way',
        `${keep.name} and ${other.name} each have a trust ledger of their own in the same account. Move the money to one of them first; nothing was merged.`,
      )
    const twice = await preBillsClash(m, keepId, otherId)
    if (twice)
      throw refused('pre-bills-in-the-way', 'Both have a pre-bill on the same matter. Issue or drop one of them first; nothing was merged.')
    const shared = await payersClash(m, keepId, otherId)
    if (shared)
      throw refused('payers-in-the-way', `Both bear a part of the bills of ${shared.number}. Say there who pays first; nothing was merged.`)
    if (!(await mayMergeTrust(m, ctx, keepId, otherId, a, b))) return { merged: false }
    await dropRequests(m, otherId)
    const moved: Record<string, number[]> = {}
    await dropBetween(m, keepId, otherId)
    for (const p of pointers) {
      if (p.unique) {
        const on = p.unique.map((u) => `y.${u} = x.${u}`).join(' AND ')
        await dropDoubles(m, p.table, on, p.column, otherId, keepId)
      } else {
        const ids = await rowsOf(m, p.table, p.column, otherId)
        if (ids.length) moved[`${p.table}.${p.column}`] = ids.map((x) => Number(x.id))
      }
      await pointTo(m, p.table, p.column, keepId, otherId)
    }
    await ownersAnew(m, keepId)
    // A further client who is the client already, or a party twice over, would say the same thing twice.
    await dropClientBeside(m, keepId)
    const [ownFields, otherFields] = [await fieldValuesOf(m, 'contact', keepId), await fieldValuesOf(m, 'contact', otherId)]
    const lost = Object.entries(otherFields).filter(([id, v]) => ownFields[id] && JSON.stringify(ownFields[id]) !== JSON.stringify(v))
    await writeFields(m, ctx, 'contact', keepId, { ...otherFields, ...ownFields }, null)
    const fromOther = [
      ...plan.differs.filter((d) => d.goes === 'into the notes').map((d) => `${d.what}: ${d.other}`),
      ...lost.map(([id, v]) => `field ${id}: ${JSON.stringify(v)}`),
    ]
    const notes = [a.notes, b.notes, fromOther.length ? `From the merged record ${b.name}: ${fromOther.join('; ')}` : '']
      .filter(Boolean)
      .join('\n')
      .slice(0, 4000)
    await markMerged(m, keepId, otherId)
    await dropNameWords(m, otherId)
    await m.delete(RecordedName, { contactId: otherId })
    await m.delete(ContactReach, { contactId: otherId })
    await changeContact({ ...ctx, tx: m }, keepId, {
      ...a,
      greeting: a.greeting || b.greeting,
      birthDate: a.birthDate ?? b.birthDate,
      language: a.language || b.language,
      pronouns: a.pronouns || b.pronouns,
      taxNumber: a.taxNumber || b.taxNumber,
      notes,
      kinds: [...a.kinds, ...plan.kinds],
      aliases: [...a.aliases, ...plan.aliases],
      reaches: [...a.reaches, ...plan.reaches],
      // One's own private record, merged into an open one, becomes as open as that one.
      isPrivate: a.privateTo !== null,
    })
    await contactRenamed(m, keepId)
    await m.insert(ContactMerge, {
      keptId: keepId,
      mergedId: otherId,
      mergedBy: ctx.actor.id,
      mergedAt: instant(ctx.clock.now()),
      moved: JSON.stringify({ record: b, fields: otherFields, moved }),
    })
    await audit(m, ctx, {
      kind: 'merged',
      text: `${b.name} merged into ${a.name}`,
      subject: 'contact',
      subjectId: keepId,
      detail: { record: b, moved },
    })
    return { merged: true }
  })
}
