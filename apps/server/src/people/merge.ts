import { compareNames } from '@heron/core/people'
import type { EntityManager } from 'typeorm'
import { writeFields, fieldValuesOf } from '../fields'
import { audit } from '../platform/audit'
import { instant, may, type Ctx } from '../platform/context'
import { row, rows, run, work } from '../platform/database'
import { fieldFault, Problem, refused } from '../platform/problem'
import { contactRenamed } from '../platform/renamed'
import { changeContact, contactParts, requireContact } from './service'
import { ContactMerge, ContactReach, MergeRequest, RecordedName } from './entities'

/** Where a contact is pointed at, and what that is called in a preview. Rows that the kept record has too are dropped. */
const pointers: readonly { what: string; table: string; column: string; unique?: readonly string[] }[] = [
  { what: 'matters as client', table: 'matter', column: 'client_id' },
  { what: 'matters billed to it', table: 'matter', column: 'bill_to_id' },
  { what: 'matters as judge', table: 'matter', column: 'judge_id' },
  { what: 'matters as further client', table: 'matter_client', column: 'contact_id', unique: ['matter_id'] },
  { what: 'parts in matters', table: 'matter_party', column: 'contact_id', unique: ['matter_id', 'role'] },
  { what: 'parts as counsel', table: 'matter_party', column: 'counsel_id' },
  { what: 'relations', table: 'contact_relation', column: 'from_id', unique: ['to_id', 'kind'] },
  { what: 'relations', table: 'contact_relation', column: 'to_id', unique: ['from_id', 'kind'] },
  { what: 'enquiries', table: 'enquiry', column: 'contact_id' },
  { what: 'notes', table: 'note', column: 'contact_id' },
  { what: 'rates for the client', table: 'client_rate', column: 'client_id', unique: ['user_id'] },
  { what: 'trust ledgers', table: 'client_ledger', column: 'client_id' },
  { what: 'separate trust accounts', table: 'bank_account', column: 'client_id' },
  { what: 'calls on account', table: 'account_call', column: 'client_id' },
  { what: 'corrections of trust ledgers', table: 'trust_correction', column: 'client_id' },
  { what: 'receipts on draft and posted sheets', table: 'deposit_receipt', column: 'client_id' },
  { what: 'pre-bills', table: 'pre_bill', column: 'payer_id' },
  { what: 'shares in bills', table: 'matter_payer', column: 'contact_id', unique: ['matter_id'] },
  { what: 'shares in bills', table: 'pre_bill_payer', column: 'contact_id', unique: ['pre_bill_id'] },
  { what: 'conflict hits', table: 'conflict_hit', column: 'contact_id' },
]

const pairOf = async (m: EntityManager, ctx: Ctx, keepId: number, otherId: number, lock: boolean) => {
  if (keepId === otherId) throw fieldFault('otherId', 'Choose another record')
  const keep = await requireContact(m, ctx, keepId, lock)
  const other = await requireContact(m, ctx, otherId, lock)
  return { keep, other }
}

const single = [
  ['greeting', 'greeting in letters'],
  ['birthDate', 'date of birth'],
  ['language', 'language for letters'],
  ['pronouns', 'pronouns'],
  ['taxNumber', 'tax number'],
] as const

async function planOf(m: EntityManager, ctx: Ctx, keepId: number, otherId: number, lock = false) {
  const { keep, other } = await pairOf(m, ctx, keepId, otherId, lock)
  const [a, b] = [await contactParts(m, keepId), await contactParts(m, otherId)]
  const moves = new Map<string, number>()
  for (const p of pointers) {
    const found = await row<{ n: number }>(m, `SELECT COUNT(*) AS n FROM ${p.table} WHERE ${p.column} = ?`, [otherId])
    if (found!.n) moves.set(p.what, (moves.get(p.what) ?? 0) + found!.n)
  }
  const bills = await row<{ n: number }>(m, `SELECT COUNT(*) AS n FROM bill WHERE payer_id = ?`, [otherId])
  if (bills!.n) moves.set('bills, which stay as issued and are found under the kept record', bills!.n)
  const same = (x: string, y: string) => x.toLowerCase() === y.toLowerCase()
  const reaches = b.reaches.filter((r) => !a.reaches.some((s) => s.what === r.what && same(s.value, r.value)))
  if (reaches.length) moves.set('e-mails, phones and addresses', reaches.length)
  const aliases = b.aliases.filter((x) => !a.aliases.some((y) => same(x.name, y.name)))
  if (!same(a.name, b.name) && !a.aliases.some((x) => same(x.name, b.name))) aliases.push({ kind: 'also known as', name: b.name })
  if (aliases.length) moves.set('other names', aliases.length)
  const kinds = b.kinds.filter((k) => !a.kinds.includes(k))
  if (kinds.length) moves.set('kinds', kinds.length)
  interface Differs {
    what: string
    kept: string
    other: string
    goes: string
  }
  const differs = single.flatMap(([key, what]): Differs[] =>
    a[key] && b[key] && a[key] !== b[key] ? [{ what, kept: a[key]!, other: b[key]!, goes: 'into the notes' }] : [],
  )
  if (a.kind !== b.kind) differs.unshift({ what: 'kind of record', kept: a.kind, other: b.kind, goes: 'into the notes' })
  if (a.name !== b.name) differs.unshift({ what: 'name', kept: a.name, other: b.name, goes: 'kept as another name' })
  return { keep, other, a, b, moves, reaches, aliases, kinds, differs }
}

/** Trust money that a merge touches: whose ledgers come under another name, and whether two different people are merged. */
interface TrustTouched {
  ledgers: number
  held: number
  different: boolean
  /** Who asked for it first, where it waits for a second person. */
  asked: { byId: number; by: string } | null
}

async function trustTouched(
  m: EntityManager,
  keep: Record<'id', number> & { name: string; kind: string },
  other: typeof keep,
): Promise<TrustTouched | null> {
  const found = await row<{ ledgers: number; held: number; own: number; work: number }>(
    m,
    `SELECT (SELECT COUNT(*) FROM client_ledger l WHERE l.client_id = ?) AS ledgers,
            COALESCE((SELECT SUM(e.amount) FROM client_ledger l JOIN ledger_entry e ON e.ledger_id = l.id WHERE l.client_id = ?), 0) AS held,
            (SELECT COUNT(*) FROM client_ledger l WHERE l.client_id = ?) AS own,
            (SELECT COUNT(*) FROM matter x WHERE ? IN (x.client_id, x.bill_to_id)) + (SELECT COUNT(*) FROM bill b WHERE b.payer_id = ?) AS work`,
    [other.id, other.id, keep.id, other.id, other.id],
  )
  // Money of the kept record could pay for what the other is billed, just as money of the other comes to the kept one.
  if (!found!.ledgers && !(found!.own && found!.work)) return null
  const alike = compareNames(keep.name, other.name)?.reasons ?? []
  const same = keep.kind === other.kind && alike.some((r) => r.startsWith('same name') || r === 'same words in another order')
  const asked = await row<{ byId: number; by: string }>(
    m,
    `SELECT r.asked_by AS byId, u.name AS \`by\` FROM merge_request r JOIN user_account u ON u.id = r.asked_by WHERE r.kept_id = ? AND r.merged_id = ?`,
    [keep.id, other.id],
  )
  return { ledgers: found!.ledgers, held: found!.held, different: !same, asked }
}

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
    const clash = await row(
      m,
      `SELECT 1 FROM client_ledger x JOIN client_ledger y ON y.bank_account_id = x.bank_account_id AND COALESCE(y.matter_id, 0) = COALESCE(x.matter_id, 0) WHERE x.client_id = ? AND y.client_id = ? LIMIT 1`,
      [keepId, otherId],
    )
    if (clash)
      throw refused(
        'ledgers-in-the-way',
        `${keep.name} and ${other.name} each have a trust ledger of their own in the same account. Move the money to one of them first; nothing was merged.`,
      )
    const twice = await row(
      m,
      `SELECT 1 FROM pre_bill x JOIN pre_bill y ON y.open_matter = x.open_matter WHERE x.payer_id = ? AND y.payer_id = ? LIMIT 1`,
      [keepId, otherId],
    )
    if (twice)
      throw refused('pre-bills-in-the-way', 'Both have a pre-bill on the same matter. Issue or drop one of them first; nothing was merged.')
    const shared = await row<{ number: string }>(
      m,
      `SELECT m.number FROM matter_payer x JOIN matter_payer y ON y.matter_id = x.matter_id JOIN matter m ON m.id = x.matter_id WHERE x.contact_id = ? AND y.contact_id = ?
       UNION SELECT m.number FROM pre_bill_payer x JOIN pre_bill_payer y ON y.pre_bill_id = x.pre_bill_id JOIN pre_bill p ON p.id = x.pre_bill_id AND p.state <> 'issued' JOIN matter m ON m.id = p.matter_id WHERE x.contact_id = ? AND y.contact_id = ? LIMIT 1`,
      [keepId, otherId, keepId, otherId],
    )
    if (shared)
      throw refused('payers-in-the-way', `Both bear a part of the bills of ${shared.number}. Say there who pays first; nothing was merged.`)
    if (!(await mayMergeTrust(m, ctx, keepId, otherId, a, b))) return { merged: false }
    await run(m, `DELETE FROM merge_request WHERE ? IN (kept_id, merged_id)`, [otherId])
    const moved: Record<string, number[]> = {}
    await run(m, `DELETE FROM contact_relation WHERE (from_id = ? AND to_id = ?) OR (from_id = ? AND to_id = ?)`, [
      keepId,
      otherId,
      otherId,
      keepId,
    ])
    for (const p of pointers) {
      if (p.unique) {
        const on = p.unique.map((u) => `y.${u} = x.${u}`).join(' AND ')
        await run(m, `DELETE x FROM ${p.table} x JOIN ${p.table} y ON ${on} WHERE x.${p.column} = ? AND y.${p.column} = ?`, [
          otherId,
          keepId,
        ])
      } else {
        const ids = await rows<{ id: number }>(m, `SELECT id FROM ${p.table} WHERE ${p.column} = ?`, [otherId])
        if (ids.length) moved[`${p.table}.${p.column}`] = ids.map((x) => Number(x.id))
      }
      await run(m, `UPDATE ${p.table} SET ${p.column} = ? WHERE ${p.column} = ?`, [keepId, otherId])
    }
    await run(
      m,
      `UPDATE client_ledger SET owner_key = CONCAT('client ', client_id, ' matter ', COALESCE(matter_id, 0)) WHERE client_id = ?`,
      [keepId],
    )
    // A further client who is the client already, or a party twice over, would say the same thing twice.
    await run(
      m,
      `DELETE x FROM matter_client x JOIN matter y ON y.id = x.matter_id AND y.client_id = x.contact_id WHERE x.contact_id = ?`,
      [keepId],
    )
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
    await run(m, `UPDATE contact SET merged_into = ?, version = version + 1 WHERE id = ? OR merged_into = ?`, [keepId, otherId, otherId])
    await run(m, `DELETE p FROM name_posting p JOIN recorded_name n ON n.id = p.name_id WHERE n.contact_id = ?`, [otherId])
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
