import type { Day } from '@heron/core/calendar'
import type { OpeningRow } from '@heron/core/ledger'
import type { EntityManager } from 'typeorm'
import { costKinds } from '../costs'
import { Account, type OpeningOwner } from '../ledger'
import { contactScope, matterScope } from '../platform/access'
import type { Ctx } from '../platform/context'
import { row, rows } from '../platform/database'
import { UserAccount } from '../platform/shared-entities'
import type { Row } from './importer'

/** Up to when the books are closed. */
export const booksClosedTo = (m: EntityManager) => row<{ day: Day | null }>(m, `SELECT books_closed_to AS day FROM firm`)

/** Check numbers that were used already. */
export const checksOnRecord = (m: EntityManager, own: { at: number; ready: Ready }[]) =>
  rows<{ key: string }>(
    m,
    `SELECT CONCAT(bank_account_id, ' ', number) AS \`key\` FROM check_number WHERE (bank_account_id, number) IN (${own.map((c) => `(${Number(c.ready.row.bankAccountId)}, ${Number(c.ready.number)})`).join(', ')})`,
  )

/** Numbers of vendors’ bills that are on record. */
export const vendorBillsOnRecord = (m: EntityManager, own: { at: number; ready: Ready }[]) =>
  rows<{ key: string }>(m, `SELECT CONCAT(vendor_id, ' ', LOWER(number_key)) AS \`key\` FROM vendor_bill WHERE number_key IN (?)`, [
    own.map((v) => v.ready.number),
  ])

/** A row of opening books that was read. */
export interface Ready {
  asOf: Day
  row: OpeningRow
  account?: number
  owner?: OpeningOwner
  matterId?: number
  payerId?: number
  contactId?: number | null
  userId?: number
  kindId?: number
  number: string
  day: Day
  due: Day
  name: string
  text: string
  fees: number
  costs: number
  tax: number
  hours: string
  rate: number | null
}

interface Bank {
  id: number
  name: string
  kind: 'pooled' | 'separate' | 'operating'
  code: string
  gl: number
  liability: number | null
  clientId: number | null
}

/** By what names of a file are compared. */
export const key = (s: string) => s.trim().toLowerCase()

/** All that rows name, looked up at once: accounts, matters, people on record, the firm's own people, kinds of costs. */
export async function known(m: EntityManager, ctx: Ctx, table: readonly Row[]) {
  const accounts = await m.find(Account, { select: { id: true, code: true, name: true, role: true, kind: true } })
  const banks = await rows<Bank>(
    m,
    `SELECT b.id, b.name, b.kind, a.code, b.gl_account_id AS gl, b.liability_account_id AS liability, b.client_id AS clientId FROM bank_account b JOIN account a ON a.id = b.gl_account_id`,
  )
  const said = (...fields: string[]) => [...new Set(table.flatMap((r) => fields.map((f) => r.get(f).trim())).filter(Boolean))]
  const matters = new Map<string, { id: number; clientId: number; leadId: number; open: boolean }>()
  const numbers = said('matter')
  for (let at = 0; at < numbers.length; at += 500)
    for (const x of await rows<{ id: number; number: string; second: string; clientId: number; leadId: number; open: number }>(
      m,
      `SELECT m.id, m.number, m.second_number AS second, m.client_id AS clientId, m.lead_id AS leadId, m.closed_on IS NULL AND m.kind <> 'practice' AS open FROM matter m WHERE (m.number IN (?) OR m.second_number IN (?)) AND ${matterScope(ctx.actor)}`,
      [numbers.slice(at, at + 500), numbers.slice(at, at + 500)],
    ))
      for (const n of [x.second, x.number]) if (n) matters.set(key(n), { ...x, open: Boolean(x.open) })
  const contacts = new Map<string, number[]>()
  const names = said('client', 'name')
  for (let at = 0; at < names.length; at += 500)
    for (const x of await rows<{ id: number; name: string }>(
      m,
      `SELECT c.id, c.name FROM contact c WHERE (c.name IN (?) OR CONCAT('#', c.id) IN (?)) AND c.merged_into IS NULL AND ${contactScope(ctx.actor)}`,
      [names.slice(at, at + 500), names.slice(at, at + 500)],
    )) {
      contacts.set(key(x.name), [...(contacts.get(key(x.name)) ?? []), x.id])
      contacts.set(`#${x.id}`, [x.id])
    }
  const people = new Map<string, number>()
  for (const u of await m.find(UserAccount, { select: { id: true, name: true, email: true } }))
    for (const n of [u.email, u.name]) people.set(key(n), u.id)
  const kinds = new Map(
    (await costKinds(ctx)).filter((k) => k.hard && !k.retired).flatMap((k) => [[key(k.code), k.id], [key(k.name), k.id]] as const), // prettier-ignore
  )
  return {
    banks,
    account: (text: string) => accounts.find((a) => a.code === text.trim()) ?? accounts.find((a) => key(a.name) === key(text)),
    bank: (text: string) => banks.find((b) => b.code === text.trim() || key(b.name) === key(text)),
    matter: (text: string) => matters.get(key(text)),
    contact: (text: string) => contacts.get(key(text)) ?? [],
    person: (text: string) => people.get(key(text)),
    kind: (text: string) => kinds.get(key(text)),
  }
}
