import { showCount, type Day } from '@heron/core/calendar'
import { missingOf, type Trigger } from '@heron/core/docket'
import { requireMatter, requireOpenMatter, touchMatter } from '../platform/access'
import { audit } from '../platform/audit'
import { isoOf, type Ctx } from '../platform/context'
import { lockRow, row, rows, work } from '../platform/database'
import { notFound } from '../platform/problem'
import { ruleSetOf } from '../platform/rule-sets'
import { keepChange } from './change'
import { docketMissing, takenAway } from './entering'
import { docketStateOf, rulesOf } from './state'
import { datesAsSeen } from './work-out'
import { Matter } from '../platform/shared-entities'

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

/** Dockets more dates of a trigger that is on file: what the rules give for it since, or what an event has made known. */
export function addMissing(
  ctx: Ctx,
  matterId: number,
  input: { triggerId: number; take: string[]; seen: { key: string; date: Day }[] },
): Promise<{ docketed: number; changeId: number }> {
  return work(ctx, async (m) => {
    const matter = await requireOpenMatter(m, ctx, matterId, 'docket')
    await lockRow(m, Matter, matterId)
    const state = await docketStateOf(m, matter, true)
    const trigger = state.triggers.find((t) => t.id === input.triggerId)
    if (!trigger) throw notFound('trigger')
    const rules = await rulesOf(m, matter.ruleSetKey)
    const missing = missingOf(state, rules, ctx.clock.today(), await takenAway(m, [matterId])).filter((x) => x.triggerId === trigger.id)
    datesAsSeen(
      missing.map((x) => x.proposal),
      input.seen,
    )
    const out = new Set(missing.map((x) => x.proposal.key).filter((k) => !input.take.includes(k)))
    const why = `More dates of ${trigger.label || (rules.ruleSet.triggers.find((t) => t.key === trigger.kind)?.title ?? trigger.kind)}`
    await docketMissing(m, ctx, { matter, state, missing }, rules, why, out)
    const changeId = await keepChange(m, ctx, matterId, why, state, await docketStateOf(m, matter, true))
    const docketed = missing.length - out.size
    await audit(m, ctx, { kind: 'docketed', text: `${why}: ${docketed} docketed`, matterId, subject: 'trigger', subjectId: trigger.id })
    await touchMatter(m, ctx, matterId)
    return { docketed, changeId }
  })
}
