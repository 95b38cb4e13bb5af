import type { ArrangementChange, ContingentIn, MatterIn, PortionIn } from '@heron/contract'
import {
  arrangementFault,
  arrangementNames,
  coversTime,
  effectOf,
  hasContingentFee,
  hasPortions,
  readFraction,
  type Arrangement,
  type ArrangementEffect,
} from '@heron/core/billing'
import { faultOfPast, showDay, type Day } from '@heron/core/calendar'
import { showMoney } from '@heron/core/money'
import { In, IsNull, MoreThanOrEqual, Not, type EntityManager } from 'typeorm'
import { change, requireMatter, type OpenMatter } from '../platform/access'
import { audit } from '../platform/audit'
import type { Ctx } from '../platform/context'
import { locked, insertMany, lockRow, work } from '../platform/database'
import { fieldFault, notFound, refused } from '../platform/problem'
import { ContingentFee, ContingentStage, FeePortion, MatterArrangement, MatterRetainer, Stage } from './entities'
import { Matter } from '../platform/shared-entities'
import { TimeEntry } from '../time'
import { PreBill } from '../billing'
import { keepArrangement, lastArrangement } from './team-queries'

async function judgeStages(m: EntityManager, areaId: number | null, portions: readonly PortionIn[]) {
  const wanted = portions.flatMap((p, i) => (p.stageId ? [{ i, id: p.stageId }] : []))
  if (!wanted.length) return
  const known = new Set((await m.find(Stage, { select: { id: true }, where: { areaId: areaId ?? 0, retired: false } })).map((s) => s.id))
  for (const { i, id } of wanted) if (!known.has(id)) throw fieldFault(`flatFee.${i}.stageId`, 'Choose a stage of this matter’s area')
}

async function writeContingent(m: EntityManager, matterId: number, fee: ContingentIn | null) {
  await m.delete(ContingentStage, { matterId })
  await m.delete(ContingentFee, { matterId })
  if (!fee) return
  await m.insert(ContingentFee, { matterId, feeOf: fee.feeOf })
  await insertMany(
    m,
    'contingent_stage',
    ['matter_id', 'ordinal', 'label', 'numerator', 'denominator'],
    fee.stages.map((s, i) => {
      const part = readFraction(s.share)!
      return [matterId, i + 1, s.label, part.numerator, part.denominator]
    }),
  )
}

/** What an opening says of how the matter is paid for; what does not belong to the arrangement is left out. */
export async function writeArrangement(m: EntityManager, matterId: number, input: MatterIn) {
  const portions = hasPortions(input.billing) ? input.flatFee : []
  await judgeStages(m, input.areaId ?? null, portions)
  for (const [i, { id: _, ...portion }] of portions.entries()) await m.insert(FeePortion, { ...portion, matterId, ordinal: i + 1 })
  await writeContingent(m, matterId, hasContingentFee(input.billing) ? input.contingent : null)
}

async function judgeChange(m: EntityManager, ctx: Ctx, matter: OpenMatter, from: Day) {
  if (matter.closedOn) throw refused('matter-closed', `${matter.number} is closed. Reopen it first.`)
  if (matter.kind !== 'client') throw fieldFault('billing', 'Time of the firm’s own matters is on no bill')
  if (from > ctx.clock.today()) throw fieldFault('from', 'Give today or a day before; change it on the day it begins')
  const wrong = faultOfPast(from, ctx.clock.today())
  if (wrong) throw fieldFault('from', wrong)
  const last = await lastArrangement(m, matter.id)
  if (last?.day && from < last.day)
    throw fieldFault('from', `The arrangement changed on ${showDay(last.day)}; give that day or a later one`)
}

async function effect(m: EntityManager, matterId: number, to: Arrangement, from: Day): Promise<ArrangementEffect> {
  const entries = await m.find(TimeEntry, {
    select: { amount: true, charge: true, covered: true, id: true },
    where: { matterId, waits: true, day: MoreThanOrEqual(from) },
  })
  return effectOf(to, entries.map((e) => ({ ...e, covered: Boolean(e.covered) }))) // prettier-ignore
}

/** What another arrangement would do to work that is not billed yet. */
export async function arrangementEffect(ctx: Ctx, { id, billing, from }: { id: number; billing: Arrangement; from: Day }) {
  const m = ctx.db.manager
  const matter = await requireMatter(m, ctx, id, 'money', change)
  await judgeChange(m, ctx, matter, from)
  return billing === matter.billing ? effectOf('hourly', []) : effect(m, id, billing, from)
}

async function writePortions(m: EntityManager, matter: OpenMatter, input: ArrangementChange) {
  const kept = await m.find(FeePortion, {
    select: { id: true, ordinal: true, billId: true, added: true },
    where: { matterId: matter.id },
    ...locked(m),
  })
  const wanted = hasPortions(input.billing) ? input.flatFee : []
  const open = kept.filter((p) => p.billId === null && !p.added)
  for (const [i, p] of wanted.entries())
    if (p.id && !open.some((o) => o.id === p.id)) throw fieldFault(`flatFee.${i}.label`, 'This portion is billed already, or gone. Reload.')
  const lacks = arrangementFault(
    input.billing,
    wanted,
    input.contingent,
    kept.some((p) => p.billId !== null),
  )
  if (lacks) throw fieldFault(lacks.path.join('.'), lacks.message)
  await judgeStages(m, matter.areaId, wanted)
  const gone = open.filter((o) => !wanted.some((p) => p.id === o.id))
  if (gone.length) await m.delete(FeePortion, { id: In(gone.map((o) => o.id)) })
  let ordinal = Math.max(0, ...kept.map((p) => p.ordinal))
  for (const { id, ...p } of wanted) {
    if (id) await m.update(FeePortion, id, p)
    else await m.insert(FeePortion, { ...p, matterId: matter.id, ordinal: ++ordinal })
  }
}

/**
 * Changes how a matter is paid for from a day on: work of that day and later that is not billed falls under the new arrangement, as
 * was shown. What is billed stays as it is.
 */
export function changeArrangement(ctx: Ctx, input: ArrangementChange): Promise<void> {
  return work(ctx, async (m) => {
    const matter = await requireMatter(m, ctx, input.id, 'money', change)
    await lockRow(m, Matter, matter.id)
    await judgeChange(m, ctx, matter, input.from)
    const waiting = await m.findOne(PreBill, { select: { id: true }, where: { matterId: matter.id, state: Not('issued') } })
    if (waiting) throw refused('pre-bill-waits', `${matter.number} has a pre-bill made under the arrangement as it is. Issue or drop that one first.`) // prettier-ignore
    if (input.billing !== matter.billing) {
      const now = await effect(m, matter.id, input.billing, input.from)
      if (JSON.stringify(now) !== JSON.stringify(input.seen ?? null))
        throw refused('changed-meanwhile', 'Unbilled work of this matter changed since this was shown. Look again, then save.')
      const first = await m.existsBy(MatterArrangement, { matterId: matter.id })
      const write = (from: string, billing: Arrangement) => keepArrangement(m, ctx, matter.id, from, billing)
      if (!first) await write('1900-01-01', matter.billing)
      await write(input.from, input.billing)
      await m.update(Matter, matter.id, { billing: input.billing })
      await m.update(
        TimeEntry,
        { matterId: matter.id, day: MoreThanOrEqual(input.from), billId: IsNull() },
        { covered: coversTime(input.billing) },
      )
    }
    await writePortions(m, matter, input)
    await writeContingent(m, matter.id, hasContingentFee(input.billing) ? input.contingent : null)
    await m.delete(MatterRetainer, { matterId: matter.id })
    if (input.retainer)
      await m.insert(MatterRetainer, { matterId: matter.id, floorAmount: input.retainer.floor, fillTo: input.retainer.fillTo })
    await audit(m, ctx, {
      kind: 'changed',
      text:
        input.billing === matter.billing
          ? `Terms of the arrangement changed: ${arrangementNames[input.billing]}`
          : `Arrangement from ${showDay(input.from)}: ${arrangementNames[input.billing]}, before ${arrangementNames[matter.billing]}`,
      matterId: matter.id,
      subject: 'matter',
      subjectId: matter.id,
    })
  })
}

/** Says that a stage of a fee is reached: it may be billed where it is charged then, and its share may be taken from trust. */
export function earnPortion(ctx: Ctx, portionId: number, day: Day): Promise<void> {
  return work(ctx, async (m) => {
    const portion = await m.findOne(FeePortion, {
      select: { matterId: true, label: true, earnedOn: true, id: true },
      where: { id: portionId },
      ...locked(m),
    })
    if (!portion) throw notFound('portion')
    await requireMatter(m, ctx, portion.matterId, 'money', change)
    if (portion.earnedOn) throw fieldFault('day', 'This portion is marked as reached already')
    if (day > ctx.clock.today()) throw fieldFault('day', 'It cannot be reached on a day ahead')
    await m.update(FeePortion, portionId, { earnedOn: day })
    await audit(m, ctx, { kind: 'changed', text: `Reached: ${portion.label}`, matterId: portion.matterId, subject: 'matter', subjectId: portion.matterId }) // prettier-ignore
  })
}

/** Portions that a stage of the matter was waited for are reached as it comes. */
export async function reachedByStage(m: EntityManager, ctx: Ctx, matterId: number, stageId: number): Promise<void> {
  const reached = await m.find(FeePortion, {
    select: { id: true, label: true, amount: true },
    where: { matterId, stageId, earnedOn: IsNull() },
    ...locked(m),
  })
  for (const p of reached) {
    await m.update(FeePortion, p.id, { earnedOn: ctx.clock.today() })
    await audit(m, ctx, { kind: 'changed', text: `Reached with its stage: ${p.label}, ${showMoney(p.amount)}`, matterId, subject: 'matter', subjectId: matterId }) // prettier-ignore
  }
}
