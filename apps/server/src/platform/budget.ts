import { crossed, percentOf } from '@heron/core/billing'
import { showMoney } from '@heron/core/money'
import type { EntityManager } from 'typeorm'
import type { Ctx } from './context'
import { sendMail } from './mail'
import { Matter } from './shared-entities'
import { budgetSet, budgetUsed } from './queries'

/** What a matter is to cost, and what of that is used: fees and costs that were billed, before tax, and those that are to be. */
export interface Budget {
  budget: number
  capped: boolean
  used: number
  /** Time that is not posted yet. */
  drafts: number
  warnAt: number[]
  warnIds: number[]
}

export async function budgetOf(m: EntityManager, matterId: number): Promise<Budget | null> {
  const set = await budgetSet(m, matterId)
  if (!set) return null
  const sums = await budgetUsed(m, matterId)
  const numbers = (text: string) => text.split(',').filter(Boolean).map(Number)
  return {
    budget: set.budget,
    capped: Boolean(set.capped),
    used: sums!.billed + sums!.unbilled,
    drafts: sums!.drafts,
    warnAt: numbers(set.warnAt),
    warnIds: set.warnIds ? numbers(set.warnIds) : [set.lead],
  }
}

/**
 * Does what adds to the unbilled work of matters, and tells those who are to know where a budget reaches a share of its own by it.
 * Each share is told of once for each budget.
 */
export async function watchingBudgets<T>(m: EntityManager, ctx: Ctx, matterIds: readonly number[], act: () => Promise<T>): Promise<T> {
  const before = new Map<number, Budget>()
  for (const id of new Set(matterIds)) {
    const found = await budgetOf(m, id)
    if (found?.warnAt.length) before.set(id, found)
  }
  const result = await act()
  for (const [id, was] of before) {
    const now = (await budgetOf(m, id))!
    const share = crossed(now.budget, was.used, now.used, now.warnAt).at(-1)
    if (share === undefined) continue
    const matter = await m.findOne(Matter, { select: { name: true, number: true, id: true }, where: { id } })
    const what = now.capped ? 'cap' : 'budget'
    const body = `${matter!.number} ${matter!.name} has used ${showMoney(now.used)} of its ${what} of ${showMoney(now.budget)}, which is ${percentOf(now.used, now.budget)} %.`
    for (const to of now.warnIds)
      await sendMail(m, ctx, { key: `budget ${id} ${now.budget} ${share} ${to}`, to, subject: `${matter!.name}: ${percentOf(now.used, now.budget)} % of the ${what} used`, body, matterId: id }) // prettier-ignore
  }
  return result
}
