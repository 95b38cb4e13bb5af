import type { DocketActIn, DifferenceSeen } from '@heron/contract'
import { showDay, type Day } from '@heron/core/calendar'
import { counted } from '@heron/core/words'
import {
  answersTooEarly,
  applyAct,
  chainOutcomes,
  differencesOf,
  eventKey,
  titleOfDate,
  undo as restored,
  undoOf,
  type Difference,
  type Docket,
  type DocketAct,
  type DocketRules,
  type Entry,
  type Undo,
} from '@heron/core/docket'
import { In, type EntityManager } from 'typeorm'
import { requireMatter, requireOpenMatter, touchMatter, type OpenMatter } from '../platform/access'
import { audit } from '../platform/audit'
import { instant, type Ctx } from '../platform/context'
import { insertMany, insertRow, locked, lockRow, work } from '../platform/database'
import { fieldFault, notFound, refused } from '../platform/problem'
import { sendDocketList } from './letters'
import { ruleSetOf } from '../platform/rule-sets'
import { docketStateOf, rulesOf, writeEntries } from './state'
import { type DocketState } from './state-queries'
import { DocketChange, DocketEntry, TriggerEvent } from './entities'
import { Matter } from '../platform/shared-entities'
import { giveReason, paperOnMatter, runsThatFollow } from './entry-queries'

/** The act as core knows it, checked against the matter's triggers, dates and rules; and what to call it. */
async function actOf(
  m: EntityManager,
  state: DocketState,
  matter: OpenMatter,
  input: DocketActIn,
  today: Day,
): Promise<{ act: DocketAct; text: string }> {
  if (input.kind === 'facts') {
    const known = (await ruleSetOf(m, matter.ruleSetKey)).facts
    const facts = known.filter((f) => input.facts.includes(f.key))
    return {
      act: { kind: 'facts', facts: facts.map((f) => f.key) },
      text: `Facts of the matter: ${facts.length ? facts.map((f) => f.question).join('; ') : 'none hold'}`,
    }
  }
  if (input.kind === 'recount') return { act: { kind: 'recount' }, text: 'Dates counted anew' }
  if (input.kind === 'extend') {
    const entry = state.entries.find((e) => e.id === input.entryId)
    if (!entry) throw notFound('docket entry')
    if (entry.day === input.day) throw fieldFault('day', 'It is on that day already')
    if (['met', 'waived', 'vacated'].includes(entry.mark)) throw refused('not-open', `${entry.title} is ${entry.mark}. Mark it open first.`)
    if (entry.key === eventKey)
      throw refused(
        'moves-with-event',
        `${entry.title} moves with what set it: change that day under What happened, and all that hangs on it follows.`,
      )
    return { act: input, text: `${entry.title}: ${showDay(entry.day)} to ${showDay(input.day)}` }
  }
  if (input.kind === 'meet') {
    const entry = state.entries.find((e) => e.id === input.entryId)
    if (!entry) throw notFound('docket entry')
    if (input.day > today) throw fieldFault('day', `${showDay(input.day)} lies ahead; give the day on which it was done`)
    return { act: input, text: `${entry.title} met on ${showDay(input.day)}` }
  }
  const trigger = state.triggers.find((t) => t.id === input.triggerId)
  if (!trigger) throw notFound('trigger')
  const set = await ruleSetOf(m, matter.ruleSetKey)
  const kind = set.triggers.find((t) => t.key === trigger.kind)!
  const name = trigger.label || kind.title
  if (input.kind === 'remove') return { act: { kind: 'remove', triggerId: trigger.id }, text: `${name} ${showDay(trigger.day)} taken away` }
  if (kind.asksService && !input.service) throw fieldFault('service', 'Say how it was served')
  if (input.service && !set.services.some((s) => s.key === input.service))
    throw fieldFault('service', 'Choose one of this court’s ways of service')
  const said = [
    input.day === trigger.day ? '' : `moved: ${showDay(trigger.day)} to ${showDay(input.day)}`,
    input.tentative === trigger.tentative ? '' : input.tentative ? 'now tentative' : 'no longer tentative',
    input.service === trigger.service ? '' : 'served otherwise',
    input.label === trigger.label ? '' : `now “${input.label}”`,
  ].filter(Boolean)
  if (!said.length) throw fieldFault('day', 'Nothing of it is changed yet')
  const early = answersTooEarly({ ...trigger, day: input.day }, state.triggers)
  if (early) throw fieldFault('day', early)
  return {
    act: { ...input, service: kind.asksService ? input.service : null },
    text: `${name}${said[0]!.startsWith('moved') ? ' ' : ': '}${said.join(', ')}`,
  }
}

export const shownDifferences = (state: DocketState, differences: readonly Difference[]) =>
  differences.map((d) => {
    const e = state.entries.find((x) => x.id === d.entryId)!
    return {
      entryId: d.entryId,
      title: e.title,
      weight: e.weight,
      authority: e.authority,
      effect: d.effect,
      because: d.because,
      was: d.was,
      becomes: d.becomes,
      beforeRoll: d.entry.beforeRoll,
      howCounted: d.entry.howCounted,
      trace: d.entry.trace,
      leftOut: e.leftOut,
      provisional: d.entry.provisional,
      tentative: d.entry.tentative,
      wasProvisional: e.provisional,
      wasTentative: e.tentative,
    }
  })

type Chains = readonly { entryId: number; follows: boolean }[]
const withChains = (act: DocketAct, chains: Chains): DocketAct =>
  chains.length ? { ...act, chains: Object.fromEntries(chains.map((c) => [c.entryId, c.follows])) } : act

/** Dates from which others could be counted in two ways after an act, in words. */
function shownChains(state: DocketState, act: DocketAct, rules: DocketRules | null) {
  const of = (id: number) => state.entries.find((e) => e.id === id)!
  return chainOutcomes(state, act, rules).map((c) => {
    const base = of(c.entryId)
    const set = act.kind === 'extend' && act.entryId === c.entryId ? { day: act.day, setBy: act.by } : base
    const ruleDay = differencesOf(state, act, rules).find((d) => d.entryId === c.entryId)?.becomes ?? base.ruleDay
    return {
      entryId: c.entryId,
      title: base.title,
      day: set.day,
      setBy: set.setBy,
      ruleDay: base.setBy === 'rule' ? base.day : ruleDay,
      follows: c.follows,
      dates: c.dates.map((d) => ({ ...d, title: of(d.entryId).title })),
    }
  })
}

/** What an act would do to the dates of a matter. Nothing changes yet. */
export async function previewAct(ctx: Ctx, matterId: number, input: DocketActIn, chains: Chains = []) {
  const m = ctx.db.manager
  const matter = await requireMatter(m, ctx, matterId, 'docket')
  const state = await docketStateOf(m, matter)
  const { act: asked, text } = await actOf(m, state, matter, input, ctx.clock.today())
  const act = withChains(asked, chains)
  const rules = matter.ruleSetKey ? await rulesOf(m, matter.ruleSetKey) : null
  return { text, differences: shownDifferences(state, differencesOf(state, act, rules)), chains: shownChains(state, act, rules) }
}

/** Refuses to take differences other than those that were shown. */
export function asSeen(differences: readonly Difference[], seen: readonly DifferenceSeen[]): void {
  const now = differences.filter((d) => d.effect !== 'recounted').map((d) => `${d.entryId} ${d.effect} ${d.becomes}`)
  const then = seen.map((d) => `${d.entryId} ${d.effect} ${d.becomes}`)
  if (now.sort().join() !== then.sort().join())
    throw refused('changed-meanwhile', 'The docket changed meanwhile. Nothing was docketed; look at the dates again.')
}

interface Happened {
  entryId: number
  what: string
  was?: string
  became?: string
  why?: string
}

export async function noteHistory(m: EntityManager, ctx: Ctx, list: readonly Happened[]): Promise<void> {
  const at = instant(ctx.clock.now())
  if (list.length)
    await insertMany(
      m,
      'docket_history',
      ['entry_id', 'at', 'user_id', 'what', 'was', 'became', 'why'],
      list.map((h) => [h.entryId, at, ctx.actor.id, h.what, h.was ?? '', h.became ?? '', (h.why ?? '').slice(0, 300)]),
    )
}

/** Keeps an act so that it can be undone while nothing else has changed what it changed. */
export async function keepChange(
  m: EntityManager,
  ctx: Ctx,
  matterId: number,
  text: string,
  before: Docket,
  after: Docket,
): Promise<number> {
  const u = undoOf(before, after)
  const leftAs = {
    triggers: after.triggers.filter((t) => u.added.includes(t.id) || u.triggers.some((x) => x.id === t.id)),
    entries: after.entries.filter(
      (e) =>
        u.entries.some((x) => x.id === e.id) || (e.triggerId !== null && u.added.includes(e.triggerId)) || u.addedEntries.includes(e.id),
    ),
    facts: after.facts,
  }
  return insertRow(m, DocketChange, {
    matterId,
    at: instant(ctx.clock.now()),
    userId: ctx.actor.id,
    text: text.slice(0, 300),
    putBack: JSON.stringify(u),
    leftAs: JSON.stringify(leftAs),
  })
}

/** A deadline's title with the firm's words for its trigger. */
export const titleWith = (title: string, label: string) => (label ? `${title} (${label})`.slice(0, 200) : title)

/** Writes what differs between two states of a docket: entries, triggers, facts. */
export async function writeDocket(
  m: EntityManager,
  ctx: Ctx,
  matter: Pick<OpenMatter, 'id' | 'ruleSetKey'>,
  before: Docket,
  after: Docket,
) {
  const differs = (a: unknown, b: unknown) => JSON.stringify(a) !== JSON.stringify(b)
  await writeEntries(
    m,
    after.entries.filter((e) =>
      differs(
        e,
        before.entries.find((x) => x.id === e.id),
      ),
    ),
    ctx.clock.today(),
  )
  const gone = before.entries.filter((e) => !after.entries.some((x) => x.id === e.id)).map((e) => e.id)
  const now = instant(ctx.clock.now())
  if (gone.length) await m.update(DocketEntry, { id: In(gone) }, { removedAt: now, leftOut: true })
  const set = matter.ruleSetKey ? await ruleSetOf(m, matter.ruleSetKey) : null
  for (const t of after.triggers) {
    const was = before.triggers.find((x) => x.id === t.id)
    if (!differs(t, was)) continue
    const label = t.label || set?.triggers.find((k) => k.key === t.kind)?.title || t.kind
    await m.update(TriggerEvent, { id: t.id }, { day: t.day, tentative: t.tentative, service: t.service, label, removedAt: null })
    if (was && was.label !== t.label)
      for (const e of after.entries.filter((x) => x.triggerId === t.id)) {
        const title = set && e.key ? titleOfDate(set, t.kind, e.key) : null
        if (title) await m.update(DocketEntry, { id: e.id }, { title: titleWith(title, t.label) })
      }
  }
  const without = before.triggers.filter((t) => !after.triggers.some((x) => x.id === t.id)).map((t) => t.id)
  if (without.length) await m.update(TriggerEvent, { id: In(without) }, { removedAt: now })
  if (differs(before.facts, after.facts)) await m.update(Matter, { id: matter.id }, { facts: JSON.stringify(after.facts) })
}

/** How the certainty of a date changed, in words. */
function standingWords(was: Entry, now: Entry): string {
  if (was.tentative !== now.tentative) return now.tentative ? 'now tentative' : 'no longer tentative'
  return now.provisional ? 'now provisional' : 'exact from now on'
}

export const historyOf = (before: Docket, after: Docket, why: string) =>
  before.entries.flatMap((e): Happened[] => {
    const now = after.entries.find((x) => x.id === e.id)
    if (!now) return [{ entryId: e.id, what: 'taken away', was: e.day, why }]
    if (now.day !== e.day) return [{ entryId: e.id, what: 'moved', was: e.day, became: now.day, why }]
    if (now.setBy !== e.setBy || now.ruleDay !== e.ruleDay)
      return [
        {
          entryId: e.id,
          what: 'kept',
          was: '',
          became: now.ruleDay ? `${showDay(e.day)}, where the rule would give ${showDay(now.ruleDay)}` : showDay(e.day),
          why,
        },
      ]
    if (now.mark !== e.mark)
      return [{ entryId: e.id, what: 'marked', was: e.mark, became: now.metOn ? `${now.mark} on ${showDay(now.metOn)}` : now.mark, why }]
    if (now.leftOut !== e.leftOut) return [{ entryId: e.id, what: now.leftOut ? 'left out' : 'docketed', became: e.day, why }]
    if (now.provisional !== e.provisional || now.tentative !== e.tentative)
      return [{ entryId: e.id, what: standingWords(e, now), was: '', became: '', why }]
    return []
  })

/** Carries an act out, with the differences that were taken, in one transaction; it can be undone afterwards. */
export function carryOut(
  ctx: Ctx,
  matterId: number,
  input: { act: DocketActIn; chains: Chains; take: number[]; seen: DifferenceSeen[]; why: string; paperId: number | null; tell: boolean },
) {
  return work(ctx, async (m) => {
    const matter = await requireOpenMatter(m, ctx, matterId, 'docket')
    await lockRow(m, Matter, matterId)
    const before = await docketStateOf(m, matter, true)
    const { act: asked, text } = await actOf(m, before, matter, input.act, ctx.clock.today())
    const act = withChains(asked, input.chains)
    const rules = matter.ruleSetKey ? await rulesOf(m, matter.ruleSetKey) : null
    asSeen(differencesOf(before, act, rules), input.seen)
    if (input.act.kind === 'extend' && !input.why.trim()) throw fieldFault('why', 'Say why it moves')
    if (input.paperId && !(await paperOnMatter(m, input.paperId, matterId))) throw fieldFault('paperId', 'Choose a paper of this matter')
    const after = applyAct(before, act, rules, new Set(input.take))
    await writeDocket(m, ctx, matter, before, after)
    if (act.kind === 'extend') await giveReason(m, input.why, input.paperId, act.entryId)
    const why = [text, input.why].filter(Boolean).join(': ')
    await noteHistory(m, ctx, historyOf(before, after, act.kind === 'extend' ? input.why : why))
    const changeId = await keepChange(m, ctx, matterId, text, before, after)
    const moves = historyOf(before, after, '').filter((h) => h.what === 'moved' || h.what === 'taken away')
    await audit(m, ctx, {
      kind: 'moved',
      text: `${why}${moves.length ? `; ${counted(moves.length, 'date')} followed` : ''}`,
      matterId,
      subject: act.kind === 'extend' || act.kind === 'meet' ? 'docket entry' : 'trigger',
      subjectId:
        act.kind === 'extend' || act.kind === 'meet' ? act.entryId : act.kind === 'change' || act.kind === 'remove' ? act.triggerId : null,
      detail: {
        was: Object.fromEntries(moves.map((h) => [titleOf(before, h.entryId), h.was])),
        became: Object.fromEntries(moves.map((h) => [titleOf(before, h.entryId), h.became ?? 'taken away'])),
      },
    })
    await touchMatter(m, ctx, matterId)
    if (input.tell) await sendDocketList(m, ctx, matter, why)
    return {
      changeId,
      moved: moves.length,
      follows: await runsThatFollow(
        m,
        matterId,
        moves.map((h) => h.entryId),
      ),
    }
  })
}

const titleOf = (state: DocketState, id: number) => state.entries.find((e) => e.id === id)?.title ?? String(id)

/** Puts back what an act changed, as long as nothing of that has been changed since. */
export function undoChange(ctx: Ctx, changeId: number): Promise<{ moved: number }> {
  return work(ctx, async (m) => {
    const change = await m.findOne(DocketChange, {
      select: { matterId: true, text: true, putBack: true, leftAs: true, undoneAt: true, id: true },
      where: { id: changeId },
      ...locked(m),
    })
    if (!change) throw notFound('change')
    const matter = await requireOpenMatter(m, ctx, change.matterId, 'docket')
    if (change.undoneAt) throw refused('undone', 'This change was undone already.')
    await lockRow(m, Matter, change.matterId)
    const before = await docketStateOf(m, matter, true)
    const left = JSON.parse(change.leftAs) as { triggers: { id: number }[]; entries: Entry[]; facts: string[] }
    const as = (e: Entry | undefined) => e && JSON.stringify([e.day, e.setBy, e.mark, e.leftOut, e.ruleDay, e.chainFollows])
    const u = { addedEntries: [], ...(JSON.parse(change.putBack) as Partial<Undo>) } as unknown as Undo
    const changed =
      (u.facts !== null && JSON.stringify(left.facts) !== JSON.stringify(before.facts)) ||
      left.entries.some((e) => as(before.entries.find((x) => x.id === e.id)) !== as(e)) ||
      left.triggers.some((t) => JSON.stringify(before.triggers.find((x) => x.id === t.id)) !== JSON.stringify(t))
    if (changed) throw refused('changed-since', 'Some of these dates were changed since. Change them by hand; nothing was undone.')
    const after = restored(before, u)
    await writeDocket(m, ctx, matter, before, after)
    await m.update(DocketChange, { id: changeId }, { undoneAt: instant(ctx.clock.now()) })
    const why = `Undone: ${change.text}`
    const back = after.entries.filter((e) => !before.entries.some((x) => x.id === e.id))
    const list = [...historyOf(before, after, why), ...back.map((e) => ({ entryId: e.id, what: 'put back', became: e.day, why }))]
    await noteHistory(m, ctx, list)
    await audit(m, ctx, { kind: 'moved', text: why, matterId: change.matterId, subject: 'trigger' })
    return { moved: list.length }
  })
}
