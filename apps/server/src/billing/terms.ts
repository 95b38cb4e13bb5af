import type { EntityManager } from 'typeorm'
import { BillTerms } from './run-entities'
import { change, contactScope, requireMatter } from '../platform/access'
import { audit } from '../platform/audit'
import type { Ctx } from '../platform/context'
import { row, work } from '../platform/database'
import { fieldFault, notFound } from '../platform/problem'

export interface TermsIn {
  dueDays: number | null
  interestBasisPoints: number | null
  graceDays: number | null
}
const nothing: TermsIn = { dueDays: null, interestBasisPoints: null, graceDays: null }
const ownOf = async (m: EntityManager, owner: 'matter' | 'client', ownerId: number): Promise<TermsIn> => {
  const found = await m.findOneBy(BillTerms, { owner, ownerId })
  return found ? { dueDays: found.dueDays, interestBasisPoints: found.interestBasisPoints, graceDays: found.graceDays } : nothing
}
const firmDays = async (m: EntityManager) => (await row<{ days: number }>(m, `SELECT bill_terms_days AS days FROM firm`))!.days

/** What holds for bills of a matter: its own terms, else its client's, else the firm's; without a word there is no interest. */
export async function termsOf(m: EntityManager, matterId: number, clientId: number) {
  const own = await ownOf(m, 'matter', matterId)
  const client = await ownOf(m, 'client', clientId)
  return {
    dueDays: own.dueDays ?? client.dueDays ?? (await firmDays(m)),
    interestBasisPoints: own.interestBasisPoints ?? client.interestBasisPoints ?? 0,
    graceDays: own.graceDays ?? client.graceDays ?? 0,
  }
}

async function keep(m: EntityManager, owner: 'matter' | 'client', ownerId: number, input: TermsIn) {
  if (input.graceDays !== null && input.interestBasisPoints === null)
    throw fieldFault('graceDays', 'Grace is of interest; say first at which rate it runs')
  await m.delete(BillTerms, { owner, ownerId })
  if (Object.values(input).some((v) => v !== null)) await m.insert(BillTerms, { owner, ownerId, ...input })
}
const inWords = (t: TermsIn) =>
  [
    t.dueDays === null ? '' : `due after ${t.dueDays} days`,
    t.interestBasisPoints === null
      ? ''
      : `interest ${t.interestBasisPoints / 100} % a year${t.graceDays ? ` after ${t.graceDays} days` : ''}`,
  ]
    .filter(Boolean)
    .join(', ') || 'as usual'

export async function matterBillTerms(ctx: Ctx, id: number) {
  const m = ctx.db.manager
  const matter = await requireMatter(m, ctx, id, 'money')
  const client = await ownOf(m, 'client', matter.clientId)
  const usual = { dueDays: client.dueDays ?? (await firmDays(m)), interestBasisPoints: client.interestBasisPoints ?? 0, graceDays: client.graceDays ?? 0 } // prettier-ignore
  return { ...(await ownOf(m, 'matter', id)), usual }
}
export const changeMatterBillTerms = (ctx: Ctx, id: number, input: TermsIn): Promise<void> =>
  work(ctx, async (m) => {
    const matter = await requireMatter(m, ctx, id, 'money', change)
    await keep(m, 'matter', id, input)
    await audit(m, ctx, { kind: 'changed', text: `Terms of bills: ${inWords(input)}`, matterId: matter.id, subject: 'bill', subjectId: id })
  })

async function requireClient(m: EntityManager, ctx: Ctx, id: number) {
  if (!(await row(m, `SELECT 1 FROM contact c WHERE c.id = ? AND ${contactScope(ctx.actor)}`, [id]))) throw notFound('contact')
}
export async function clientBillTerms(ctx: Ctx, id: number) {
  const m = ctx.db.manager
  await requireClient(m, ctx, id)
  return { ...(await ownOf(m, 'client', id)), usual: { dueDays: await firmDays(m), interestBasisPoints: 0, graceDays: 0 } }
}
export const changeClientBillTerms = (ctx: Ctx, id: number, input: TermsIn): Promise<void> =>
  work(ctx, async (m) => {
    await requireClient(m, ctx, id)
    await keep(m, 'client', id, input)
    await audit(m, ctx, { kind: 'changed', text: `Terms of bills for a client: ${inWords(input)}`, subject: 'fee', subjectId: id })
  })
