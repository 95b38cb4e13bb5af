import type { ContactIn } from '@heron/contract'
import type { Values } from '@heron/core/fields'
import { normalizeName } from '@heron/core/people'
import { randomUUID } from 'node:crypto'
import type { EntityManager } from 'typeorm'
import { Stage } from '../matters'
import { contactScope, matterScope } from '../platform/access'
import type { Ctx } from '../platform/context'
import { row, rows, run } from '../platform/database'
import { PracticeArea, UserAccount } from '../platform/shared-entities'
import type { Row } from './importer'

export interface Ready {
  row: number
  input: ContactIn
  worksFor: string
  title: string
  values: Values
}

/** Contacts on record by name and address, to tell what comes twice. */
export const contactsKnown = (m: EntityManager) =>
  rows<{ k: string }>(m, `SELECT CONCAT(normalized, '|', LOWER(email)) AS k FROM contact WHERE merged_into IS NULL AND email <> ''`)

const first = (input: ContactIn, what: string) => input.reaches?.find((r) => r.what === what)?.value ?? ''

/** Contacts of a slice of the file, in one statement. */
export const insertContacts = (m: EntityManager, columns: string[], slice: readonly Ready[], now: string) =>
  m.query(
    `INSERT INTO contact (${columns.join(', ')}) VALUES ${slice.map(() => `(${columns.map(() => '?').join(',')})`).join(',')}`,
    slice.flatMap(({ input: c }) => [
      c.kind,
      c.name,
      normalizeName(c.name).slice(0, 200),
      c.greeting,
      first(c, 'e-mail').slice(0, 190),
      first(c, 'phone').slice(0, 40),
      first(c, 'address'),
      c.notes,
      c.birthDate,
      c.language,
      c.pronouns,
      c.taxNumber,
      randomUUID(),
      now,
    ]),
  )

/** Contacts by their names, the oldest of each. */
export const contactsNamed = (m: EntityManager, names: string[], at: number) =>
  rows<{ id: number; name: string }>(
    m,
    `SELECT MIN(id) AS id, name FROM contact WHERE name IN (?) AND merged_into IS NULL AND private_to IS NULL GROUP BY name`,
    [names.slice(at, at + 500)],
  )

/** Matters by either number, where they are open to whoever asks. */
export const mattersNumbered = (m: EntityManager, ctx: Ctx, names: string[], at: number) =>
  rows<{ id: number; number: string; second: string; open: number }>(
    m,
    `SELECT m.id, m.number, m.second_number AS second, m.closed_on IS NULL AND m.kind <> 'practice' AS open FROM matter m
          WHERE (m.number IN (?) OR m.second_number IN (?)) AND ${matterScope(ctx.actor)}`,
    [names.slice(at, at + 500), names.slice(at, at + 500)],
  )

export interface Lists {
  contacts: Map<string, number[]>
  people: Map<string, number>
  areas: Map<string, number>
  stages: Map<string, number>
  numbers: Set<string>
}

/** All that rows of a file name, looked up at once: people, matters, areas, stages, staff. */
export async function listsOf(m: EntityManager, ctx: Ctx, table: readonly Row[]): Promise<Lists> {
  const names = [
    ...new Set(table.flatMap((r) => [r.get('Client'), r.get('Whom to bill'), ...split(r.get('Opposing parties'))]).filter(Boolean)),
  ]
  const contacts = new Map<string, number[]>()
  for (let at = 0; at < names.length; at += 500)
    for (const c of await rows<{ id: number; name: string }>(
      m,
      `SELECT c.id, c.name FROM contact c WHERE c.name IN (?) AND ${contactScope(ctx.actor)}`,
      [names.slice(at, at + 500)],
    ))
      contacts.set(c.name.toLowerCase(), [...(contacts.get(c.name.toLowerCase()) ?? []), c.id])
  const people = new Map<string, number>()
  for (const u of await m.find(UserAccount, { select: { id: true, name: true, email: true, initials: true } }))
    for (const key of [u.name, u.email, u.initials]) people.set(key.toLowerCase(), u.id)
  return {
    contacts,
    people,
    areas: new Map(
      (await m.find(PracticeArea, { select: { id: true, name: true }, where: { retired: false } })).map((a) => [
        a.name.toLowerCase(),
        a.id,
      ]),
    ),
    stages: new Map(
      (await m.find(Stage, { select: { id: true, areaId: true, name: true }, where: { retired: false } })).map((s) => [
        `${s.areaId} ${s.name.toLowerCase()}`,
        s.id,
      ]),
    ),
    numbers: new Set((await rows<{ n: string }>(m, `SELECT number AS n FROM matter`)).map((x) => x.n.toLowerCase())),
  }
}

/** The several values of one cell. */
export const split = (text: string) =>
  text
    .split(/[;|]/)
    .map((x) => x.trim())
    .filter(Boolean)

/** How the firm numbers its matters. */
export const patternOfFirm = (m: EntityManager) => row<{ p: string }>(m, `SELECT matter_pattern AS p FROM firm`)

/** A matter, by the columns that its row has. */
export const insertMatter = (m: EntityManager, own: Record<string, string | number | null>) =>
  m.query(
    `INSERT INTO matter (${Object.keys(own).join(', ')}) VALUES (${Object.keys(own)
      .map(() => '?')
      .join(', ')})`,
    Object.values(own),
  )

/** What staff may see is what the area says. */
export const staffAsArea = (m: EntityManager, id: number) =>
  run(
    m,
    `UPDATE matter m JOIN practice_area a ON a.id = m.area_id SET m.staff_file = a.staff_file, m.staff_docket = a.staff_docket, m.staff_papers = a.staff_papers, m.staff_money = a.staff_money, m.staff_trust = a.staff_trust WHERE m.id = ?`,
    [id],
  )

/** Whether a file of the same bytes was loaded already. */
export const loadedBefore = (m: EntityManager, fileId: number, what: 'costs' | 'opening') =>
  row(
    m,
    `SELECT 1 FROM import_run o JOIN stored_file f ON f.id = o.file_id JOIN stored_file g ON g.id = ? AND g.sha256 = f.sha256 WHERE o.what = ? AND o.state = 'loaded'`,
    [fileId, what],
  )

/** A run of an import, locked until it is loaded. */
export const lockRun = (m: EntityManager, id: number) => m.query(`SELECT id FROM import_run WHERE id = ? FOR UPDATE`, [id])
