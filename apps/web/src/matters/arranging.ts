import { arrangementNames, arrangements, hasContingentFee, hasPortions, type Arrangement } from '@heron/core/billing'

export interface TypedPortion {
  id?: number
  label: string
  amount: number | null
  due?: 'opening' | 'reached'
  stageId?: number | null
}
export interface TypedArrangement {
  billing: Arrangement
  flatFee: TypedPortion[]
  contingent: { feeOf: 'gross' | 'net of costs'; stages: { label: string; share: string }[] }
}
export const blankContingent = (): TypedArrangement['contingent'] => ({
  feeOf: 'gross',
  stages: [{ label: 'Of what is recovered', share: '' }],
})
export const arrangementOptions = arrangements.map((value) => ({ value, text: arrangementNames[value] }))
/** What goes to the server: only what belongs to the arrangement. A mixed one may do without a part of the recovery. */
export const arrangementToSend = (a: TypedArrangement) => ({
  billing: a.billing,
  flatFee: hasPortions(a.billing)
    ? a.flatFee.map((p) => ({ ...(p.id ? { id: p.id } : {}), label: p.label, amount: p.amount ?? 0, due: p.due ?? ('opening' as const), stageId: p.stageId ?? null }))
    : [], // prettier-ignore
  contingent:
    hasContingentFee(a.billing) && (a.billing === 'contingency' || a.contingent.stages.some((s) => s.share.trim())) ? a.contingent : null,
})
