import type { EntityManager } from 'typeorm'
import { BillTerms } from './run-entities'
import { change, contactScope, requireMatter } from '../platform/access'
import { audit } from '../platform/audit'
import type { Ctx } from '../platform/context'
import { row, work } from '../platform/database'
import { budgetOf } from '../platform/budget'
import { fieldFault, notFound } from '../platform/problem'
import { percentOf, readShares } from '@heron/core/billing'
import { showMoney } from '@heron/core/money'

/** Terms of bills; what is left out is as usual. */
export interface TermsIn {
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
const nothing: TermsIn = { dueDays: null, interestBasisPoints: null, graceDays: null, format: null, theirNumber: '', budget: null, capped: false, warnAt: '', warnIds: [] } // prettier-ignore
const ownOf = async (m: EntityManager, owner: 'matter' | 'client', ownerId: number): Promise<TermsIn> => {
  const found = await m.findOneBy(BillTerms, { owner, ownerId })
  if (!found) return nothing
  const { owner: _, ownerId: __, budget, warnIds, ...rest } = found
  return { ...rest, budget: budget === null ? null : Number(budget), warnIds: warnIds.split(',').filter(Boolean).map(Number) }
}
const firmDays = async (m: EntityManager) => (await row<{ days: number }>(m, `SELECT bill_terms_days AS days FROM firm`))!.days

/** What holds for bills of a matter: its own terms, else its client's, else the firm's; without a word there is no interest. */
export const termsOf = async (m: EntityManager, matterId: number, clientId: number) =>
  (await row<{ dueDays: number; interestBasisPoints: number; graceDays: number }>(
    m,
    `SELECT COALESCE(o.due_days, c.due_days, f.bill_terms_days) AS dueDays, COALESCE(o.interest_basis_points, c.interest_basis_points, 0) AS interestBasisPoints,
            COALESCE(o.grace_days, c.grace_days, 0) AS graceDays
       FROM firm f LEFT JOIN bill_terms o ON o.owner = 'matter' AND o.owner_id = ? LEFT JOIN bill_terms c ON c.owner = 'client' AND c.owner_id = ?`,
    [matterId, clientId],
  ))!

async function keep(m: EntityManager, owner: 'matter' | 'client', ownerId: number, input: TermsIn) {
  if (input.graceDays !== null && input.interestBasisPoints === null)
    throw fieldFault('graceDays', 'Grace is of interest; say first at which rate it runs')
  const shares = readShares(input.warnAt)
  if (!shares) throw fieldFault('warnAt', 'Give shares in percent like 75, 90, 100')
  if (owner === 'client' && input.budget !== null) throw fieldFault('budget', 'A budget is of a matter')
  if (input.budget === null && (shares.length || input.capped)) throw fieldFault('budget', 'Give the budget first')
  if (input.warnIds.length) {
    const known = await m.query<{ n: string }[]>(`SELECT COUNT(*) AS n FROM user_account WHERE id IN (?) AND active`, [input.warnIds])
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
  const client = await ownOf(m, 'client', matter.clientId)
  const usual = { dueDays: client.dueDays ?? (await firmDays(m)), interestBasisPoints: client.interestBasisPoints ?? 0, graceDays: client.graceDays ?? 0 } // prettier-ignore
  return { ...(await ownOf(m, 'matter', id)), usual, stands: await budgetStands(m, id) }
}
export const changeMatterBillTerms = (ctx: Ctx, id: number, said: Partial<TermsIn>): Promise<void> =>
  work(ctx, async (m) => {
    const matter = await requireMatter(m, ctx, id, 'money', change)
    const input = { ...nothing, ...said }
    await keep(m, 'matter', id, input)
    await audit(m, ctx, { kind: 'changed', text: `Terms of bills: ${inWords(input)}`, matterId: matter.id, subject: 'bill', subjectId: id })
  })

async function requireClient(m: EntityManager, ctx: Ctx, id: number) {
  if (!(await row(m, `SELECT 1 FROM contact c WHERE c.id = ? AND ${contactScope(ctx.actor)}`, [id]))) throw notFound('contact')
}
export async function clientBillTerms(ctx: Ctx, id: number) {
  const m = ctx.db.manager
  await requireClient(m, ctx, id)
  return { ...(await ownOf(m, 'client', id)), stands: null, usual: { dueDays: await firmDays(m), interestBasisPoints: 0, graceDays: 0 } }
}
export const changeClientBillTerms = (ctx: Ctx, id: number, said: Partial<TermsIn>): Promise<void> =>
  work(ctx, async (m) => {
    await requireClient(m, ctx, id)
    const input = { ...nothing, ...said }
    await keep(m, 'client', id, input)
    await audit(m, ctx, { kind: 'changed', text: `Terms of bills for a client: ${inWords(input)}`, subject: 'fee', subjectId: id })
  })
