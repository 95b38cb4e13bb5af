import type { ReportTable } from '@heron/contract'
import type { Ctx } from '../../platform/context'
import { flow } from '../flow'
import { table } from './table'
import { type Span, spanText } from './money-queries'

/** Billed and collected fees of a span by the lawyer with whom the matter came. */
export async function originating(ctx: Ctx, s: Span): Promise<ReportTable> {
  const f = await flow(ctx, { ...s, as: 'act', by: 'originating' })
  return table(
    { title: 'Originating credit', under: `fees, ${spanText(s)}`, bars: ['billed', 'collected'] },
    f.groups,
    [
      { key: 'name', text: 'Originating lawyer', kind: 'text', value: (r) => r.name },
      { key: 'worked', text: 'Worked', kind: 'money', value: (r) => r.flow.worked || null, total: true },
      { key: 'billed', text: 'Billed', kind: 'money', value: (r) => r.flow.billed || null, total: true },
      { key: 'credited', text: 'Credited', kind: 'money', value: (r) => r.flow.credited || null, total: true },
      { key: 'writtenOff', text: 'Written off', kind: 'money', value: (r) => r.flow.writtenOff || null, total: true },
      { key: 'collected', text: 'Collected', kind: 'money', value: (r) => r.flow.collected || null, total: true },
    ],
    (r) => ({ key: r.key, to: `/reports/flow?as=act&by=originating&from=${s.from}&to=${s.to}&step=collected&key=${r.key}` }),
  )
}
