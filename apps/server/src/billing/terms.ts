import type { EntityManager } from 'typeorm'
import { BillTerms, type BillGroup } from './run-entities'
import { requireContact } from '../people'
import { change, requireMatter } from '../platform/access'
import { audit } from '../platform/audit'
import type { Ctx } from '../platform/context'
import { lockRow, work } from '../platform/database'
import { budgetOf } from '../platform/budget'
import { fieldFault, notFound } from '../platform/problem'
import { unchangedSince } from '../platform/seen'
import { Matter } from '../platform/shared-entities'
import { percentOf, readShares, type TaxRates } from '@heron/core/billing'
import { showMoney } from '@heron/core/money'
import { activeAmong, clientOpenTo, termsRow } from './pre-bill-queries'

/** What bills bear and show of their own; null as usual. */
interface Shown {
  /** Off the fees of every bill. */
  discountBasisPoints: number | null
  taxFees: number | null
  taxSoftCosts: number | null
  taxHardCosts: number | null
  /** Of a matter; else that of whoever is billed. */
  language: 'en' | 'es' | null
  billGroup: BillGroup | null
  billSummary: boolean | null
  billTrust: boolean | null
  billSlip: boolean | null
}
/** Terms of bills; what is left out is as usual. */
export interface TermsIn extends Shown {
  dueDays: number | null
  interestBasisPoints: number | null
  graceDays: number | null
  format: 'pdf' | 'ledes' | null
  theirNumber: string
  budget: number | null
  capped: boolean
  warnAt: string
  warnIds: number[]
}
const plain: Shown = { discountBasisPoints: null, taxFees: null, taxSoftCosts: null, taxHardCosts: null, language: null, billGroup: null, billSummary: null, billTrust: null, billSlip: null } // prettier-ignore
const nothing: TermsIn = { ...plain, dueDays: null, interestBasisPoints: null, graceDays: null, format: null, theirNumber: '', budget: null, capped: false, warnAt: '', warnIds: [] } // prettier-ignore
const ownOf = async (m: EntityManager, owner: 'matter' | 'client', ownerId: number): Promise<TermsIn> => {
  const found = await m.findOneBy(BillTerms, { owner, ownerId })
  if (!found) return nothing
  const { owner: _, ownerId: __, budget, warnIds, ...rest } = found
  return { ...rest, budget: budget === null ? null : Number(budget), warnIds: warnIds.split(',').filter(Boolean).map(Number) }
}

/** What holds for bills of a matter: its own terms, else its client's, else the firm's; without a word there is neither interest nor discount. */
export async function termsOf(m: EntityManager, matterId: number | null, clientId: number | null) {
  const found = (await termsRow(m, matterId, clientId))!
  const { taxFees, taxSoft, taxHard, summary, trust, slip, ...terms } = found
  return {
    ...terms,
    taxes: { fees: taxFees, softCosts: taxSoft, hardCosts: taxHard } satisfies TaxRates,
    summary: Boolean(summary),
    trust: Boolean(trust),
    slip: Boolean(slip),
  }
}
/** Shares and people in one order, in which two readers' terms can be compared. */
const inOrder = (t: TermsIn): TermsIn => ({
  ...t,
  warnAt: readShares(t.warnAt)?.join(',') ?? t.warnAt,
  warnIds: [...new Set(t.warnIds)].sort((a, b) => a - b),
})
async function keep(m: EntityManager, owner: 'matter' | 'client', ownerId: number, input: TermsIn, seen: TermsIn | undefined) {
  unchangedSince(inOrder(await ownOf(m, owner, ownerId)), seen && inOrder(seen), 'these terms')
  if (input.graceDays !== null && input.interestBasisPoints === null)
    throw fieldFault('graceDays', 'Grace is of interest; say first at which rate it runs')
  const shares = readShares(input.warnAt)
  if (!shares) throw fieldFault('warnAt', 'Give shares in percent like 75, 90, 100')
  if (owner === 'client' && input.language !== null) throw fieldFault('language', 'The language of a client stands on their contact')
  if (owner === 'client' && input.budget !== null) throw fieldFault('budget', 'A budget is of a matter')
  if (input.budget === null && (shares.length || input.capped)) throw fieldFault('budget', 'Give the budget first')
  if (input.warnIds.length) {
    const known = await activeAmong(m, input.warnIds)
    if (Number(known[0]?.n) !== new Set(input.warnIds).size) throw fieldFault('warnIds', 'Choose people who work here')
  }
  await m.delete(BillTerms, { owner, ownerId })
  const kept = { ...input, warnAt: shares.join(','), warnIds: [...new Set(input.warnIds)].join(',') }
  if (Object.values(kept).some((v) => v !== null && v !== '' && v !== false)) await m.insert(BillTerms, { owner, ownerId, ...kept })
}
const inWords = (t: TermsIn) =>
  [
    t.dueDays === null ? '' : `due after ${t.dueDays} days`,
    t.interestBasisPoints === null
      ? ''
      : `interest ${t.interestBasisPoints / 100} % a year${t.graceDays ? ` after ${t.graceDays} days` : ''}`,
    t.discountBasisPoints ? `${t.discountBasisPoints / 100} % off fees` : '',
    ...(
      [
        [t.taxFees, 'fees'],
        [t.taxSoftCosts, 'own costs'],
        [t.taxHardCosts, 'costs advanced'],
      ] as const
    ).map(([rate, on]) => (rate === null ? '' : `tax on ${on} ${rate / 100} %`)),
    t.language ? `in ${{ en: 'English', es: 'Spanish' }[t.language]}` : '',
    t.billGroup || [t.billSummary, t.billTrust, t.billSlip].some((s) => s !== null) ? 'what they show' : '',
    t.format === 'ledes' ? 'as LEDES 1998B' : '',
    t.theirNumber ? `number ${t.theirNumber}` : '',
    t.budget === null ? '' : `${t.capped ? 'cap' : 'budget'} ${showMoney(t.budget)}`,
  ]
    .filter(Boolean)
    .join(', ') || 'as usual'

/** A matter's budget as it stands; null where it has none. */
export async function budgetStands(m: EntityManager, matterId: number) {
  const found = await budgetOf(m, matterId)
  if (!found) return null
  const { budget, capped, used, drafts } = found
  return { budget, capped, used, drafts, percent: percentOf(used, budget) }
}

export async function matterBillTerms(ctx: Ctx, id: number) {
  const m = ctx.db.manager
  const matter = await requireMatter(m, ctx, id, 'money')
  const usual = await termsOf(m, null, matter.clientId)
  return { ...(await ownOf(m, 'matter', id)), usual, stands: await budgetStands(m, id) }
}
type Said = Partial<TermsIn> & { seen?: TermsIn | undefined }
export const changeMatterBillTerms = (ctx: Ctx, id: number, { seen, ...said }: Said): Promise<void> =>
  work(ctx, async (m) => {
    const matter = await requireMatter(m, ctx, id, 'money', change)
    await lockRow(m, Matter, id)
    const input = { ...nothing, ...said }
    await keep(m, 'matter', id, input, seen)
    await audit(m, ctx, { kind: 'changed', text: `Terms of bills: ${inWords(input)}`, matterId: matter.id, subject: 'bill', subjectId: id })
  })

async function requireClient(m: EntityManager, ctx: Ctx, id: number) {
  if (!(await clientOpenTo(m, ctx, id))) throw notFound('contact')
}
export async function clientBillTerms(ctx: Ctx, id: number) {
  const m = ctx.db.manager
  await requireClient(m, ctx, id)
  return { ...(await ownOf(m, 'client', id)), stands: null, usual: await termsOf(m, null, null) }
}
export const changeClientBillTerms = (ctx: Ctx, id: number, { seen, ...said }: Said): Promise<void> =>
  work(ctx, async (m) => {
    await requireClient(m, ctx, id)
    await requireContact(m, ctx, id, true)
    const input = { ...nothing, ...said }
    await keep(m, 'client', id, input, seen)
    await audit(m, ctx, { kind: 'changed', text: `Terms of bills for a client: ${inWords(input)}`, subject: 'fee', subjectId: id })
  })
