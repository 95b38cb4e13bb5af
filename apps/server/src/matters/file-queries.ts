import type { Day } from '@heron/core/calendar'
import { searchWords } from '@heron/core/matters'
import type { EntityManager } from 'typeorm'
import { contactScope, matterScope } from '../platform/access'
import { type Ctx, may } from '../platform/context'
import { literal, mostWords, row, rows, run } from '../platform/database'

/** What matters are found by. */
export const wordsToIndex = (m: EntityManager, ids: readonly number[]) =>
  rows<{ id: number; texts: string }>(
    m,
    `SELECT m.id, CONCAT_WS(' ', m.number, m.second_number, m.name, m.short_name, m.case_number, m.court, c.name,
            (SELECT GROUP_CONCAT(x.name SEPARATOR ' ') FROM matter_party p JOIN contact x ON x.id = p.contact_id WHERE p.matter_id = m.id),
            (SELECT GROUP_CONCAT(x.name SEPARATOR ' ') FROM matter_client p JOIN contact x ON x.id = p.contact_id WHERE p.matter_id = m.id),
            (SELECT GROUP_CONCAT(t.tag SEPARATOR ' ') FROM matter_tag t WHERE t.matter_id = m.id)) AS texts
       FROM matter m JOIN contact c ON c.id = m.client_id WHERE m.id IN (?)`,
    [ids],
  )

/** The matters on which a contact stands. */
export const mattersNaming = (m: EntityManager, contactId: number) =>
  rows<{ id: number }>(
    m,
    `SELECT id FROM matter WHERE client_id = ? UNION SELECT matter_id FROM matter_party WHERE contact_id = ? UNION SELECT matter_id FROM matter_client WHERE contact_id = ?`,
    [contactId, contactId, contactId],
  )

/**
 * The matters of which every word typed begins a word, as SQL that lists their ids; null where nothing to look for was
 * typed. Each word may begin words of many thousands; their lists are intersected as a whole, since probing one by the
 * other takes many times as long.
 */
export function matterIdsByWords(q: string): { sql: string; values: string[] } | null {
  const words = q
    .trim()
    .split(/\s+/)
    .map((w) => searchWords(w)[0])
    .filter((w): w is string => Boolean(w))
  const values = [...new Set(words)].slice(0, mostWords).map((w) => `${literal(w)}%`)
  if (!values.length) return null
  return { sql: values.map(() => 'SELECT DISTINCT w.matter_id FROM matter_word w WHERE w.word LIKE ?').join(' INTERSECT '), values }
}

/** How the firm numbers its matters. */
export const patternOf = async (m: EntityManager): Promise<string> =>
  (await row<{ p: string }>(m, `SELECT matter_pattern AS p FROM firm`))?.p ?? '{yy}-{n:4}'

export interface AreaRow {
  file: number
  docket: number
  papers: number
  money: number
  trust: number
  ruleSetKey: string | null
}

/** What a practice area gives to its matters. */
export const areaRow = (m: EntityManager, areaId: number) =>
  row<AreaRow>(
    m,
    `SELECT staff_file AS file, staff_docket AS docket, staff_papers AS papers, staff_money AS money, staff_trust AS trust, rule_set_key AS ruleSetKey FROM practice_area WHERE id = ? AND NOT retired`,
    [areaId],
  )

/** All that the file of a matter says of it in words, for telling what a change changed. */
export async function describedBy(m: EntityManager, id: number) {
  return (await row<Record<string, string | number | null>>(
    m,
    `SELECT m.name, m.short_name AS shortName, m.second_number AS secondNumber, m.opened_on AS openedOn, a.name AS area, m.description, m.court, m.case_number AS caseNumber,
            j.name AS judge, m.our_side AS ourSide, m.rule_set_key AS ruleSet, o.name AS originating, c.name AS client,
            (SELECT GROUP_CONCAT(t.tag ORDER BY t.tag SEPARATOR ', ') FROM matter_tag t WHERE t.matter_id = m.id) AS tags,
            (SELECT GROUP_CONCAT(x.name ORDER BY x.name SEPARATOR ', ') FROM matter_client y JOIN contact x ON x.id = y.contact_id WHERE y.matter_id = m.id) AS clients
       FROM matter m JOIN contact c ON c.id = m.client_id LEFT JOIN practice_area a ON a.id = m.area_id LEFT JOIN contact j ON j.id = m.judge_id LEFT JOIN user_account o ON o.id = m.originating_id WHERE m.id = ?`,
    [id],
  ))!
}

/** Whether the client of a matter stands on bills or ledgers. */
export const clientStands = (m: EntityManager, id: number) =>
  row(m, `SELECT 1 FROM bill WHERE matter_id = ? UNION SELECT 1 FROM client_ledger WHERE matter_id = ? LIMIT 1`, [id, id])

/** Further clients of a matter. */
export const clientsBeside = (m: EntityManager, id: number) =>
  rows<{ id: number }>(m, `SELECT contact_id AS id FROM matter_client WHERE matter_id = ?`, [id])

export interface PartyIn {
  contactId: number
  role: string
  side: 'ours' | 'adverse' | 'other'
  counsel: string
  counselId: number | null
  servedOn: Day | null
}

/** A contact by name, where it is open to whoever asks. */
export const contactNamed = (m: EntityManager, ctx: Ctx, contactId: number) =>
  row<{ name: string }>(m, `SELECT c.name FROM contact c WHERE c.id = ? AND ${contactScope(ctx.actor)}`, [contactId])

/** A party, locked until it is changed. */
export const lockedParty = (m: EntityManager, partyId: number) =>
  row<PartyIn & { matterId: number; name: string }>(
    m,
    `SELECT p.matter_id AS matterId, p.contact_id AS contactId, p.role, p.side, p.counsel, p.counsel_id AS counselId, p.served_on AS servedOn, c.name FROM matter_party p JOIN contact c ON c.id = p.contact_id WHERE p.id = ? FOR UPDATE`,
    [partyId],
  )

/** A matter is locked until it is closed. */
export const lockMatter = (m: EntityManager, id: number) => m.query(`SELECT id FROM matter WHERE id = ? FOR UPDATE`, [id])

/** Whether a matter has anything in a table. */
export const anyOn = (m: EntityManager, table: string, id: number) => row(m, `SELECT 1 FROM ${table} WHERE matter_id = ? LIMIT 1`, [id])

/** Matters by words of name, number or client, for *find or do*. */
export async function find(ctx: Ctx, term: string) {
  const words = matterIdsByWords(term)
  if (!words || !may(ctx.actor, 'matters.see')) return []
  return rows<{ kind: 'matter'; id: number; title: string; hint: string }>(
    ctx.db.manager,
    `SELECT 'matter' AS kind, m.id, m.name AS title, CONCAT(m.number, ' · ', m.client_name, IF(m.closed_on IS NULL, '', ' · closed')) AS hint
       FROM (${words.sql}) found STRAIGHT_JOIN matter m ON m.id = found.matter_id WHERE ${matterScope(ctx.actor)} ORDER BY m.closed_on IS NOT NULL, m.name NOT LIKE ?, m.active_on DESC LIMIT 7`,
    [...words.values, `${literal(term)}%`],
  )
}

/** What a removed matter had in a table. */
export const dropRows = (m: EntityManager, table: string, id: number) => run(m, `DELETE FROM ${table} WHERE matter_id = ?`, [id])
