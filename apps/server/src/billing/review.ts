import { proportion, showMoney, sum } from '@heron/core/money'
import { showHours } from '@heron/core/time'
import { counted } from '@heron/core/words'
import type { EntityManager } from 'typeorm'
import { moveCost } from '../costs'
import { moveTime, splitTime } from '../time'
import { audit } from '../platform/audit'
import type { Ctx } from '../platform/context'
import { work } from '../platform/database'
import { fieldFault, notFound, refused } from '../platform/problem'
import { PreBillLine } from './entities'
import { inReview, retotalWithin } from './pre-bills'
import {
  type PreBillHead,
  linesOf,
  type PreLine,
  addedPortion,
  addPortion,
  carryLines,
  partLinesAgain,
  placesOnPreBill,
  portionAdded,
  removePortion,
  timeBehind,
} from './pre-bill-queries'

async function lineOf(m: EntityManager, preBillId: number, lineId: number): Promise<PreLine> {
  const line = (await linesOf(m, preBillId)).find((l) => l.id === lineId)
  if (!line) throw notFound('line')
  return line
}
const childrenOf = (m: EntityManager, lineId: number) =>
  m.find(PreBillLine, { select: { id: true }, where: { mergedInto: lineId }, order: { ordinal: 'ASC', id: 'ASC' } })
async function judgeSingle(m: EntityManager, line: PreLine) {
  if ((await childrenOf(m, line.id)).length) throw refused('merged', 'This line stands for several. Part them first.')
}
const logged = (m: EntityManager, ctx: Ctx, head: PreBillHead, text: string) =>
  audit(m, ctx, { kind: 'changed', text, matterId: head.matterId, subject: 'pre-bill', subjectId: head.id })
const settled = (m: EntityManager, ctx: Ctx, id: number) => retotalWithin(m, ctx, id, 'lineId')

/** Splits a line of time, and the entry behind it, into two that add up to it; what was written down stays in proportion. */
export const splitLine = (
  ctx: Ctx,
  input: { id: number; lineId: number; duration: string; text: string; restText: string },
): Promise<void> =>
  work(ctx, async (m) => {
    const head = await inReview(m, ctx, input.id)
    const line = await lineOf(m, input.id, input.lineId)
    if (line.kind !== 'time') throw refused('not-time', 'Only a line of time is split. A cost is corrected among the costs of the matter.')
    await judgeSingle(m, line)
    const place = (await m.findOne(PreBillLine, { select: { ordinal: true, id: true }, where: { id: line.id } }))!
    await m.delete(PreBillLine, { id: line.id })
    const { duration, text, restText } = input
    const rest = await splitTime({ ...ctx, tx: m }, line.sourceId, { duration, text, restText })
    const parts = await timeBehind(m, line.sourceId, rest.id)
    const first = proportion(line.charged, parts[0]!.amount, line.worked || 1)
    for (const [i, p] of parts.entries())
      await m.insert(PreBillLine, {
        preBillId: input.id,
        ordinal: place.ordinal,
        kind: 'time',
        sourceId: p.id,
        day: line.day,
        timekeeperId: line.timekeeperId,
        text: p.text,
        minutes: p.minutes,
        rate: line.rate,
        worked: p.amount,
        charged: i ? line.charged - first : first,
        noCharge: line.noCharge,
        heldBack: line.heldBack,
      })
    await settled(m, ctx, input.id)
    await logged(m, ctx, head, `Pre-bill line split: ${text}; ${restText}`)
  })

/** Makes one line of several of the same day, person and rate; the entries behind it stay as they are. */
export const mergeLines = (ctx: Ctx, input: { id: number; lineIds: readonly number[]; text: string }): Promise<void> =>
  work(ctx, async (m) => {
    const head = await inReview(m, ctx, input.id)
    const wanted = new Set(input.lineIds)
    const lines = (await linesOf(m, input.id)).filter((l) => wanted.has(l.id))
    if (lines.length < 2 || lines.length < wanted.size) throw fieldFault('lineIds', 'Choose two lines or more of this pre-bill')
    const [first, ...others] = lines
    const differs = (of: (l: PreLine) => unknown) => others.some((l) => of(l) !== of(first!))
    if (lines.some((l) => l.kind !== 'time')) throw fieldFault('lineIds', 'Only lines of time become one')
    if (differs((l) => l.day) || differs((l) => l.timekeeperId)) throw fieldFault('lineIds', 'Lines that become one are of one day and one person') // prettier-ignore
    if (differs((l) => l.rate)) throw fieldFault('lineIds', 'These were worked at different rates and stay apart')
    if (differs((l) => l.noCharge) || differs((l) => l.heldBack)) throw fieldFault('lineIds', 'Some of these are held back or at no charge, and some are not') // prettier-ignore
    const minutes = sum(lines.map((l) => l.minutes ?? 0))
    if (minutes > 24 * 60) throw fieldFault('lineIds', `Together they are ${showHours(minutes)} h, more than a day has`)
    await m.update(PreBillLine, first!.id, { text: input.text, minutes, worked: sum(lines.map((l) => l.worked)), charged: sum(lines.map((l) => l.charged)) }) // prettier-ignore
    // Of lines that carried others already, those go along.
    await carryLines(m, first!.id, input.id, others)
    await settled(m, ctx, input.id)
    await logged(m, ctx, head, `${counted(lines.length, 'line')} of the pre-bill made one: ${input.text}`)
  })

/** Parts a line that stands for several: each is as it was recorded, at no charge or held back as the one was. */
export const partLines = (ctx: Ctx, input: { id: number; lineId: number }): Promise<void> =>
  work(ctx, async (m) => {
    const head = await inReview(m, ctx, input.id)
    const line = await lineOf(m, input.id, input.lineId)
    const others = await childrenOf(m, line.id)
    if (!others.length) throw refused('not-merged', 'This line stands for one entry only.')
    await partLinesAgain(m, line.noCharge, line.heldBack, line.id, others)
    await settled(m, ctx, input.id)
    await logged(m, ctx, head, `A line of the pre-bill parted into ${others.length + 1}`)
  })

/** Moves what stands behind a line to another matter, where it is unbilled. */
export const moveLine = (ctx: Ctx, input: { id: number; lineId: number; matterId: number }): Promise<void> =>
  work(ctx, async (m) => {
    const head = await inReview(m, ctx, input.id)
    const line = await lineOf(m, input.id, input.lineId)
    if (input.matterId === head.matterId) throw fieldFault('matterId', 'It is on this matter already')
    if (line.kind === 'flat') throw refused('not-time', 'A fee belongs to this matter’s arrangement and is not moved.')
    await judgeSingle(m, line)
    await m.delete(PreBillLine, { id: line.id })
    const reason = 'moved in review of its pre-bill'
    const inside = { ...ctx, tx: m }
    if (line.kind === 'time') await moveTime(inside, line.sourceId, input.matterId, reason)
    else await moveCost(inside, line.sourceId, input.matterId, reason)
    await settled(m, ctx, input.id)
    await logged(m, ctx, head, `Moved from the pre-bill to another matter: ${line.text}`)
  })

/** Adds a fee of a set amount, beside those of the arrangement. */
export const addLine = (ctx: Ctx, input: { id: number; label: string; amount: number }): Promise<void> =>
  work(ctx, async (m) => {
    const head = await inReview(m, ctx, input.id)
    const at = (await placesOnPreBill(m, head.matterId, input.id))!
    if (at.n >= 40) throw fieldFault('label', 'At most 40 fees are added to one pre-bill')
    await addPortion(m, head.matterId, { after: at.portionAt, label: input.label, amount: input.amount, earnedOn: head.workTo })
    const portion = (await portionAdded(m))!
    await m.insert(PreBillLine, { preBillId: input.id, ordinal: at.lineAt + 1, kind: 'flat', sourceId: portion.id, text: input.label, worked: input.amount, charged: input.amount }) // prettier-ignore
    await settled(m, ctx, input.id)
    await logged(m, ctx, head, `Fee added to the pre-bill: ${input.label}, ${showMoney(input.amount)}`)
  })

/** Takes an added fee out again. */
export const takeLineOut = (ctx: Ctx, input: { id: number; lineId: number }): Promise<void> =>
  work(ctx, async (m) => {
    const head = await inReview(m, ctx, input.id)
    const line = await lineOf(m, input.id, input.lineId)
    const added = line.kind === 'flat' && (await addedPortion(m, line.sourceId))
    if (!added)
      throw refused('not-added', 'Only a fee that was added in review is taken out. Hold the line back, or withdraw its settlement.')
    await m.delete(PreBillLine, { id: line.id })
    await removePortion(m, line.sourceId)
    await settled(m, ctx, input.id)
    await logged(m, ctx, head, `Added fee taken out of the pre-bill: ${line.text}`)
  })
