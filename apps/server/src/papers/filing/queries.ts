import type { MailPerson } from '@heron/core/formats'
import { type Clue, numbersIn, type Ranked, rankMatters, sureEnough, tellingWords } from '@heron/core/papers'
import type { EntityManager } from 'typeorm'
import { change, matterScope } from '../../platform/access'
import { type Ctx, isoOf } from '../../platform/context'
import { row, rows } from '../../platform/database'
import { MailIn } from '../entities'

/** What is kept of a message until it is filed, so that it need not be read again for a list. */
export interface Summary {
  from: MailPerson | null
  to: MailPerson[]
  cc: MailPerson[]
  dateText: string
  excerpt: string
  unread: string
  name: string
  ids: string[]
  /** Matters that it may be about, best first, whoever may see them; asked when it came. */
  touches: number[]
  parts: { index: number; name: string; proposed: string; why: string; mediaType: string; size: number; inline: boolean }[]
}

export interface Proposal {
  matterId: number
  matter: string
  number: string
  score: number
  why: string[]
}

// Each clue is one statement over indexed words, addresses or numbers; the builder would not say unions and counts more clearly.

/** Matters to which a message may belong, best first, each with why; only those whose papers the reader may add to. */
export async function proposeMatters(
  m: EntityManager,
  ctx: Ctx,
  mail: { subject: string; excerpt: string; addresses: readonly string[] },
): Promise<Proposal[]> {
  const clues: Clue[] = []
  const scope = matterScope(ctx.actor, 'm', 'papers', change)
  const numbers = numbersIn(`${mail.subject} ${mail.excerpt}`)
  if (numbers.length)
    for (const f of await rows<{ id: number; number: string; secondNumber: string; caseNumber: string }>(
      m,
      `SELECT m.id, m.number, m.second_number AS secondNumber, m.case_number AS caseNumber FROM matter m WHERE (m.number IN (?) OR (m.second_number <> '' AND m.second_number IN (?)) OR (m.case_number <> '' AND m.case_number IN (?))) AND ${scope} LIMIT 20`,
      [numbers, numbers, numbers],
    ))
      clues.push({ kind: 'number', matterId: f.id, number: f.number, caseNumber: f.caseNumber, secondNumber: f.secondNumber })
  const addresses = mail.addresses.slice(0, 100)
  // Who they are first, so that of matters and parties only those of these people are looked at.
  const people = addresses.length
    ? (
        await rows<{ id: number }>(
          m,
          `SELECT c.id FROM (
             SELECT r.contact_id FROM contact_reach r WHERE r.what = 'e-mail' AND r.normalized IN (?) UNION SELECT c2.id FROM contact c2 WHERE c2.email IN (?) AND c2.email <> '' LIMIT 200) a
             JOIN contact c ON c.id = a.contact_id AND (c.private_to IS NULL OR c.private_to = ?)`,
          [addresses, addresses, ctx.actor.id],
        )
      ).map((c) => c.id)
    : []
  if (people.length)
    for (const f of await rows<{ id: number; name: string; part: string; open: number }>(
      m,
      `SELECT m.id, c.name, x.part, m.closed_on IS NULL AS open FROM (
           SELECT client_id AS contact_id, id AS matter_id, 'client' AS part FROM matter WHERE client_id IN (?)
           UNION ALL SELECT contact_id, matter_id, 'client' FROM matter_client WHERE contact_id IN (?)
           UNION ALL SELECT contact_id, matter_id, role FROM matter_party WHERE contact_id IN (?)
           UNION ALL SELECT counsel_id, matter_id, 'counsel' FROM matter_party WHERE counsel_id IN (?)) x
         JOIN contact c ON c.id = x.contact_id
         JOIN matter m ON m.id = x.matter_id WHERE ${scope} ORDER BY m.closed_on IS NULL DESC, m.active_on DESC LIMIT 60`,
      [people, people, people, people],
    ))
      clues.push({ kind: 'person', matterId: f.id, name: f.name, part: f.part, open: Boolean(f.open) })
  const words = tellingWords(mail.subject)
  if (words.length)
    for (const f of await rows<{ id: number; n: number; words: string; shut: number }>(
      m,
      `SELECT m.id, COUNT(DISTINCT w.word) AS n, GROUP_CONCAT(DISTINCT w.word ORDER BY w.word SEPARATOR ', ') AS words, m.closed_on IS NOT NULL AS shut FROM matter_word w JOIN matter m ON m.id = w.matter_id WHERE w.word IN (?) AND ${scope} GROUP BY m.id ORDER BY n DESC, m.active_on DESC LIMIT 12`,
      [words],
    ))
      clues.push({ kind: 'words', matterId: f.id, count: f.n, words: f.words, open: !f.shut })
  for (const [i, f] of (
    await rows<{ id: number }>(
      m,
      `SELECT p.matter_id AS id FROM (SELECT matter_id, MAX(created_at) AS last FROM paper WHERE created_by = ? GROUP BY matter_id ORDER BY last DESC LIMIT 8) p JOIN matter m ON m.id = p.matter_id WHERE m.closed_on IS NULL AND ${scope} ORDER BY p.last DESC`,
      [ctx.actor.id],
    )
  ).entries())
    clues.push({ kind: 'recent', matterId: f.id, place: i })
  return named(m, rankMatters(clues, { subject: mail.subject, numbers }))
}

async function named(m: EntityManager, ranked: readonly Ranked[]): Promise<Proposal[]> {
  if (!ranked.length) return []
  const names = new Map((await rows<{ id: number; matter: string; number: string }>(m, `SELECT id, short_name AS matter, number FROM matter WHERE id IN (?)`, [ranked.map((r) => r.matterId)])).map((x) => [x.id, x])) // prettier-ignore
  return ranked.flatMap((r) => {
    const name = names.get(r.matterId)
    return name ? [{ ...r, matter: name.matter, number: name.number, why: [...r.why] }] : []
  })
}

/** Who keeps watch over letters that strangers send to the address for filing. */
export const watches = (ctx: Ctx) => ctx.actor.role === 'administrator' || ctx.actor.role === 'docket clerk'

/** Whether a letter may be about a matter from which the reader is screened. */
export const touchesWall = (ctx: Ctx, summary: Summary) => (ctx.actor.screened ?? []).some((id) => summary.touches.includes(id))

/** Where the message, or one within it, lies already, as far as the reader may know. */
export const filedBefore = (m: EntityManager, ctx: Ctx, ids: readonly string[], most = 20) =>
  rows<{ paperId: number; name: string; matterId: number; matter: string; messageId: string }>(
    m,
    `SELECT p.id AS paperId, f.message_id AS messageId, p.name, p.matter_id AS matterId, m.short_name AS matter FROM filed_message f JOIN paper p ON p.id = f.paper_id AND p.deleted_at IS NULL JOIN matter m ON m.id = p.matter_id WHERE f.message_id IN (?) AND ${matterScope(ctx.actor, 'm', 'papers')} ORDER BY p.id DESC LIMIT ${Number(most)}`,
    [ids.slice(0, 2000)],
  )

/** Letters that came and wait to be filed, with the matter each is likely of; a stranger's only to those who watch them. */
export async function tray(ctx: Ctx, f: { page: number; size: number }) {
  const m = ctx.db.manager
  const all = await m
    .createQueryBuilder(MailIn, 'x')
    .where(`x.state = 'waiting' AND (x.userId = :me ${watches(ctx) ? 'OR x.userId IS NULL' : ''})`, { me: ctx.actor.id })
    .orderBy('x.comeAt', 'DESC')
    .addOrderBy('x.id', 'DESC')
    .take(500)
    .getMany()
  const open: { mail: MailIn; summary: Summary }[] = []
  for (const mail of all) {
    const summary = JSON.parse(mail.summary) as Summary
    if (mail.userId === null && touchesWall(ctx, summary)) continue
    open.push({ mail, summary })
  }
  const here = open.slice((f.page - 1) * f.size, f.page * f.size)
  const touched = [...new Set(here.flatMap((x) => x.summary.touches))]
  const names = new Map(
    touched.length
      ? (
          await rows<{ id: number; matter: string; number: string }>(
            m,
            `SELECT m.id, m.short_name AS matter, m.number FROM matter m WHERE m.id IN (?) AND ${matterScope(ctx.actor, 'm', 'papers', change)}`,
            [touched],
          )
        ).map((x) => [x.id, x])
      : [],
  )
  const before = new Set(
    here.length
      ? (
          await filedBefore(
            m,
            ctx,
            here.flatMap((x) => x.summary.ids.slice(0, 20)),
            500,
          )
        ).map((b) => b.messageId)
      : [],
  )
  return {
    rows: here.map(({ mail, summary }) => {
      const likely = summary.touches.map((id) => names.get(id)).find((x) => x !== undefined)
      return {
        id: mail.id,
        source: mail.source,
        known: mail.userId !== null,
        from: mail.fromText,
        subject: mail.subject,
        day: mail.dated,
        comeAt: isoOf(mail.comeAt),
        parts: summary.parts.filter((p) => !p.inline).length,
        proposal: likely ? { matterId: likely.id, matter: likely.matter, number: likely.number, score: sureEnough, why: [] } : null,
        filedBefore: summary.ids.some((id) => before.has(id)),
      }
    }),
    total: open.length,
  }
}

/** A matter that mail may be filed on by whoever asks. */
export const matterForMail = (m: EntityManager, ctx: Ctx, matterId: number) =>
  row<{ matter: string; number: string }>(
    m,
    `SELECT m.short_name AS matter, m.number FROM matter m WHERE m.id = ? AND ${matterScope(ctx.actor, 'm', 'papers', change)}`,
    [matterId],
  )

/** The matter is locked while mail is filed, so that no mail is filed twice. */
export const lockMatterForMail = (m: EntityManager, id: number) => m.query(`SELECT id FROM matter WHERE id = ? FOR UPDATE`, [id])

/** Where mail for filing arrives. */
export const filingAddress = (m: EntityManager) => row<{ address: string }>(m, `SELECT filing_address AS address FROM firm`)
