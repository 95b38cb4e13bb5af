import { showCount } from '@heron/core/calendar'
import { missingOf, type Trigger } from '@heron/core/docket'
import type { EntityManager } from 'typeorm'
import { matterScope, requireMatter } from '../platform/access'
import { type Ctx, isoOf } from '../platform/context'
import { row, rows } from '../platform/database'
import { ruleSetOf } from '../platform/rule-sets'
import { takenAway } from './entry-queries'
import { docketStateOf, rulesOf } from './state'

/** What happened in a matter, in the order of a case, and the facts by which its dates are counted. */
export async function triggersOf(ctx: Ctx, matterId: number) {
  const m = ctx.db.manager
  const matter = await requireMatter(m, ctx, matterId, 'docket')
  const list = await rows<
    Trigger & { ruleSetKey: string; dates: number; party: string | null; paperId: number | null; paperName: string | null }
  >(
    m,
    `SELECT t.id, t.kind, t.label, t.day, t.service, t.tentative, t.answers_id AS answersId, t.rule_set_key AS ruleSetKey, c.name AS party, p.id AS paperId, p.name AS paperName,
            (SELECT COUNT(*) FROM docket_entry d WHERE d.trigger_id = t.id AND NOT d.left_out AND d.removed_at IS NULL) AS dates
       FROM trigger_event t LEFT JOIN matter_party y ON y.id = t.party_id LEFT JOIN contact c ON c.id = y.contact_id LEFT JOIN paper p ON p.id = t.paper_id AND p.deleted_at IS NULL
      WHERE t.matter_id = ? AND t.removed_at IS NULL ORDER BY t.day DESC, t.id DESC LIMIT 500`,
    [matterId],
  )
  const set = matter.ruleSetKey ? await ruleSetOf(m, matter.ruleSetKey) : null
  const titleOf = (t: { kind: string }) => set?.triggers.find((k) => k.key === t.kind)?.title ?? t.kind
  const facts = JSON.parse(matter.facts) as string[]
  const missing = set
    ? missingOf(await docketStateOf(m, matter), await rulesOf(m, set.key), ctx.clock.today(), await takenAway(m, [matterId]))
    : []
  const last = await row<{ id: number; text: string; at: string; by: string; undone: number }>(
    m,
    `SELECT c.id, c.text, c.at, u.name AS \`by\`, c.undone_at IS NOT NULL AS undone FROM docket_change c JOIN user_account u ON u.id = c.user_id WHERE c.matter_id = ? ORDER BY c.id DESC LIMIT 1`,
    [matterId],
  )
  const parties = await rows<{ id: number; name: string; role: string }>(
    m,
    `SELECT y.id, c.name, y.role FROM matter_party y JOIN contact c ON c.id = y.contact_id WHERE y.matter_id = ? ORDER BY c.name, y.id LIMIT 200`,
    [matterId],
  )
  return {
    parties,
    facts: (set?.facts ?? []).map((f) => ({ ...f, holds: facts.includes(f.key) })),
    services: (set?.services ?? []).map((s) => ({
      key: s.key,
      title: s.title,
      adds: s.count ? `adds ${showCount(s.count, s.unit)}` : 'adds nothing',
    })),
    triggers: list.map(({ ruleSetKey, answersId, paperId, paperName, ...t }) => {
      const answered = list.find((x) => x.id === answersId)
      return {
        ...t,
        title: titleOf(t),
        asksService: set?.triggers.find((k) => k.key === t.kind)?.asksService ?? false,
        tentative: Boolean(t.tentative),
        answers: answered ? answered.label : null,
        paper: paperId ? { id: paperId, name: paperName ?? '' } : null,
        missing: missing.filter((x) => x.triggerId === t.id).map(({ proposal: { countedFrom: _from, ...p } }) => p),
        elsewhere: ruleSetKey !== set?.key,
      }
    }),
    last: last && !last.undone ? { id: last.id, text: last.text, at: isoOf(last.at), by: last.by } : null,
  }
}

export interface EffectMatter {
  id: number
  number: string
  name: string
  facts: string
  ruleSetKey: string
  leadId: number
  seen: number
}

/** Matters that a change of rules or closed days may move, and which of them whoever asks sees. */
export const mattersTouched = (m: EntityManager, ctx: Ctx, matterIds: readonly number[]) =>
  rows<EffectMatter>(
    m,
    `SELECT m.id, m.number, m.name, m.facts, m.rule_set_key AS ruleSetKey, m.lead_id AS leadId, ${matterScope(ctx.actor, 'm', 'docket')} AS seen FROM matter m WHERE m.id IN (?) ORDER BY m.number`,
    [matterIds],
  )
