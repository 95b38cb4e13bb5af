import { searchWords } from '@heron/core/matters'
import type { EntityManager } from 'typeorm'
import { change, matterScope } from '../../platform/access'
import type { Ctx } from '../../platform/context'
import { rows } from '../../platform/database'

export interface Proposal {
  matterId: number
  matter: string
  number: string
  score: number
  why: string[]
}
interface Clue {
  id: number
  why: string
  weight: number
}

// Each clue is one statement over indexed words, addresses or numbers; the builder would not say unions and counts more clearly.

/** Words of a subject that look like the number of a case or a matter. */
export const numbersIn = (text: string): string[] =>
  [...new Set(text.slice(0, 4000).split(/[\s,;()[\]"<>#]+/).map((w) => w.replace(/[.:]$/, '').replace(/^[.:]/, '')))].filter((w) => w.length >= 4 && w.length <= 60 && /\d{2}/.test(w)).slice(0, 60) // prettier-ignore

/** Words of letters that say nothing of whose matter they are. */
const common = new Set(
  're fw fwd aw the and for from with your our you this that matter case court order notice letter please attached document documents draft filing motion hearing meeting update invoice bill trust estate llc inc corp company limited group maritime office law firm state county'.split(
    ' ',
  ),
)

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
    )) {
      const has = (n: string) => n !== '' && numbers.some((x) => x.toLowerCase() === n.toLowerCase())
      const subject = mail.subject.toLowerCase()
      if (has(f.number))
        clues.push({ id: f.id, why: `names the matter’s number ${f.number}`, weight: subject.includes(f.number.toLowerCase()) ? 100 : 70 })
      else if (has(f.caseNumber)) clues.push({ id: f.id, why: `names the court’s case number ${f.caseNumber}`, weight: 90 })
      else clues.push({ id: f.id, why: `names the number ${f.secondNumber}`, weight: 80 })
    }
  const addresses = mail.addresses.slice(0, 100)
  if (addresses.length)
    for (const f of await rows<{ id: number; name: string; part: string; open: number }>(
      m,
      `SELECT m.id, c.name, x.part, m.closed_on IS NULL AS open FROM (
         SELECT r.contact_id FROM contact_reach r WHERE r.what = 'e-mail' AND r.normalized IN (?) UNION SELECT c2.id FROM contact c2 WHERE c2.email IN (?) AND c2.email <> '' LIMIT 200) a
         JOIN contact c ON c.id = a.contact_id AND (c.private_to IS NULL OR c.private_to = ?)
         JOIN (SELECT client_id AS contact_id, id AS matter_id, 'client' AS part FROM matter UNION ALL SELECT contact_id, matter_id, 'client' FROM matter_client
               UNION ALL SELECT contact_id, matter_id, role FROM matter_party UNION ALL SELECT counsel_id, matter_id, 'counsel' FROM matter_party WHERE counsel_id IS NOT NULL) x ON x.contact_id = c.id
         JOIN matter m ON m.id = x.matter_id WHERE ${scope} ORDER BY m.closed_on IS NULL DESC, m.active_on DESC LIMIT 60`,
      [addresses, addresses, ctx.actor.id],
    ))
      clues.push({
        id: f.id,
        why: `${f.name} is ${f.part === 'client' ? 'the client' : `${f.part} here`}`,
        weight: (f.part === 'client' ? 50 : 45) - (f.open ? 0 : 25),
      })
  const words = searchWords(mail.subject)
    .filter((w) => w.length >= 4 && !common.has(w) && !/^\d+$/.test(w))
    .slice(0, 8)
  if (words.length)
    for (const f of await rows<{ id: number; n: number; words: string; shut: number }>(
      m,
      `SELECT m.id, COUNT(DISTINCT w.word) AS n, GROUP_CONCAT(DISTINCT w.word ORDER BY w.word SEPARATOR ', ') AS words, m.closed_on IS NOT NULL AS shut FROM matter_word w JOIN matter m ON m.id = w.matter_id WHERE w.word IN (?) AND ${scope} GROUP BY m.id ORDER BY n DESC, m.active_on DESC LIMIT 12`,
      [words],
    ))
      clues.push({ id: f.id, why: `the subject has ${f.words}`, weight: Math.min(40, 18 * f.n) - (f.shut ? 10 : 0) })
  for (const [i, f] of (
    await rows<{ id: number }>(
      m,
      `SELECT p.matter_id AS id FROM (SELECT matter_id, MAX(created_at) AS last FROM paper WHERE created_by = ? GROUP BY matter_id ORDER BY last DESC LIMIT 8) p JOIN matter m ON m.id = p.matter_id WHERE m.closed_on IS NULL AND ${scope} ORDER BY p.last DESC`,
      [ctx.actor.id],
    )
  ).entries())
    clues.push({ id: f.id, why: 'you filed there lately', weight: 12 - i })
  return summed(m, clues)
}

async function summed(m: EntityManager, clues: readonly Clue[]): Promise<Proposal[]> {
  const by = new Map<number, { score: number; why: string[] }>()
  for (const c of clues) {
    const at = by.get(c.id) ?? { score: 0, why: [] }
    if (!at.why.includes(c.why)) by.set(c.id, { score: at.score + c.weight, why: [...at.why, c.why] })
  }
  const best = [...by].sort((a, b) => b[1].score - a[1].score).slice(0, 8)
  if (!best.length) return []
  const names = new Map((await rows<{ id: number; matter: string; number: string }>(m, `SELECT id, short_name AS matter, number FROM matter WHERE id IN (?)`, [best.map(([id]) => id)])).map((x) => [x.id, x])) // prettier-ignore
  return best.flatMap(([id, p]) =>
    names.has(id)
      ? [{ matterId: id, matter: names.get(id)!.matter, number: names.get(id)!.number, score: p.score, why: p.why.slice(0, 4) }]
      : [],
  )
}
