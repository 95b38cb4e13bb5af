import { compareNames } from '@heron/core/people'
import type { EntityManager } from 'typeorm'
import type { Ctx } from '../platform/context'
import { row, rows, run } from '../platform/database'
import { fieldFault } from '../platform/problem'
import { requireContact } from './contact-queries'
import { contactParts } from './service'

/** Where a contact is pointed at, and what that is called in a preview. Rows that the kept record has too are dropped. */
export const pointers: readonly { what: string; table: string; column: string; unique?: readonly string[] }[] = [
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

/** What merging one record into another would move, and where the two differ. */
export async function planOf(m: EntityManager, ctx: Ctx, keepId: number, otherId: number, lock = false) {
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

/** The trust money that a merge would join; null where neither record has any. */
export async function trustTouched(
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

/** Whether both have a ledger for the same purpose in one bank. */
export const ledgersClash = (m: EntityManager, keepId: number, otherId: number) =>
  row(
    m,
    `SELECT 1 FROM client_ledger x JOIN client_ledger y ON y.bank_account_id = x.bank_account_id AND COALESCE(y.matter_id, 0) = COALESCE(x.matter_id, 0) WHERE x.client_id = ? AND y.client_id = ? LIMIT 1`,
    [keepId, otherId],
  )

/** Whether both have a pre-bill of the same matter. */
export const preBillsClash = (m: EntityManager, keepId: number, otherId: number) =>
  row(m, `SELECT 1 FROM pre_bill x JOIN pre_bill y ON y.open_matter = x.open_matter WHERE x.payer_id = ? AND y.payer_id = ? LIMIT 1`, [
    keepId,
    otherId,
  ])

/** A matter on which both are payers, or shares would fall together. */
export const payersClash = (m: EntityManager, keepId: number, otherId: number) =>
  row<{ number: string }>(
    m,
    `SELECT m.number FROM matter_payer x JOIN matter_payer y ON y.matter_id = x.matter_id JOIN matter m ON m.id = x.matter_id WHERE x.contact_id = ? AND y.contact_id = ?
       UNION SELECT m.number FROM pre_bill_payer x JOIN pre_bill_payer y ON y.pre_bill_id = x.pre_bill_id JOIN pre_bill p ON p.id = x.pre_bill_id AND p.state <> 'issued' JOIN matter m ON m.id = p.matter_id WHERE x.contact_id = ? AND y.contact_id = ? LIMIT 1`,
    [keepId, otherId, keepId, otherId],
  )

/** What was asked of either falls away. */
export const dropRequests = (m: EntityManager, otherId: number) =>
  run(m, `DELETE FROM merge_request WHERE ? IN (kept_id, merged_id)`, [otherId])

/** Relations of one to the other. */
export const dropBetween = (m: EntityManager, keepId: number, otherId: number) =>
  run(m, `DELETE FROM contact_relation WHERE (from_id = ? AND to_id = ?) OR (from_id = ? AND to_id = ?)`, [
    keepId,
    otherId,
    otherId,
    keepId,
  ])

/** What both had the same is had once. */
export const dropDoubles = (m: EntityManager, table: string, on: string, column: string, otherId: number, keepId: number) =>
  run(m, `DELETE x FROM ${table} x JOIN ${table} y ON ${on} WHERE x.${column} = ? AND y.${column} = ?`, [otherId, keepId])

/** What points to a contact. */
export const rowsOf = (m: EntityManager, table: string, column: string, otherId: number) =>
  rows<{ id: number }>(m, `SELECT id FROM ${table} WHERE ${column} = ?`, [otherId])

/** What pointed to one points to the other. */
export const pointTo = (m: EntityManager, table: string, column: string, keepId: number, otherId: number) =>
  run(m, `UPDATE ${table} SET ${column} = ? WHERE ${column} = ?`, [keepId, otherId])

/** The key of a ledger follows its client. */
export const ownersAnew = (m: EntityManager, keepId: number) =>
  run(m, `UPDATE client_ledger SET owner_key = CONCAT('client ', client_id, ' matter ', COALESCE(matter_id, 0)) WHERE client_id = ?`, [
    keepId,
  ])

/** A further client that became the client itself. */
export const dropClientBeside = (m: EntityManager, keepId: number) =>
  run(m, `DELETE x FROM matter_client x JOIN matter y ON y.id = x.matter_id AND y.client_id = x.contact_id WHERE x.contact_id = ?`, [
    keepId,
  ])

/** One contact stands for the other, and for those who were merged into it. */
export const markMerged = (m: EntityManager, keepId: number, otherId: number) =>
  run(m, `UPDATE contact SET merged_into = ?, version = version + 1 WHERE id = ? OR merged_into = ?`, [keepId, otherId, otherId])

/** Where the words of a merged contact’s names stood. */
export const dropNameWords = (m: EntityManager, otherId: number) =>
  run(m, `DELETE p FROM name_posting p JOIN recorded_name n ON n.id = p.name_id WHERE n.contact_id = ?`, [otherId])
