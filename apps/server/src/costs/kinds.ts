import type { CostKindIn } from '@heron/contract'
import { readUnitRate, showUnitRate } from '@heron/core/costs'
import type { EntityManager } from 'typeorm'
import { audit } from '../platform/audit'
import type { Ctx } from '../platform/context'
import { work } from '../platform/database'
import { errno, fieldFault, notFound } from '../platform/problem'
import { CostKind } from './entities'
import { kindRows } from './queries'

export const costKinds = async (ctx: Ctx) =>
  (await kindRows(ctx.db.manager)).map((k) => ({
    ...k,
    unitRate: k.unitRate === null ? '' : showUnitRate(k.unitRate).slice(1),
    hard: Boolean(k.hard),
    taxable: Boolean(k.taxable),
    billable: Boolean(k.billable),
    retired: Boolean(k.retired),
  }))

function read({ unitRate, markup, ...input }: CostKindIn) {
  const rate = unitRate ? readUnitRate(unitRate) : null
  if (unitRate && rate === null) throw fieldFault('unitRate', 'Give a price in dollars like 0.25 or 0.655, of at most four decimals')
  if (rate !== null && !input.unit) throw fieldFault('unit', 'Say what is counted, such as page or mile')
  if (input.unit && rate === null) throw fieldFault('unitRate', `Give the price of a ${input.unit}`)
  return { ...input, unitRate: rate, markupBasisPoints: markup }
}
async function written<T>(code: string, act: () => Promise<T>): Promise<T> {
  try {
    return await act()
  } catch (error) {
    if (errno(error) === 1062) throw fieldFault('code', `${code} is the code of another kind`)
    throw error
  }
}
const told = (m: EntityManager, ctx: Ctx, text: string, detail: object) => audit(m, ctx, { kind: 'set up', text, subject: 'fee', detail })

export const makeCostKind = (ctx: Ctx, input: CostKindIn): Promise<{ id: number }> =>
  work(ctx, async (m) => {
    const made = await written(input.code, () => m.insert(CostKind, read(input)))
    await told(m, ctx, `Kind of cost ${input.name} added`, { became: input })
    return { id: made.identifiers[0]!['id'] as number }
  })

export const changeCostKind = (ctx: Ctx, id: number, input: CostKindIn): Promise<void> =>
  work(ctx, async (m) => {
    const was = await m.findOneBy(CostKind, { id })
    if (!was) throw notFound('kind of cost')
    await written(input.code, () => m.update(CostKind, id, read(input)))
    await told(m, ctx, `Kind of cost ${was.name} changed`, { was, became: input })
  })
