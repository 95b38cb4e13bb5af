import type { Cents } from '../money'
import type { AccountKind } from './books'

/** An account as it stands in the chart. */
export interface ChartAccount {
  readonly id: number
  readonly code: string
  readonly name: string
  readonly kind: AccountKind
  readonly parentId: number | null
  readonly closed: boolean
  /** What the application posts to it as; null where it is the firm's own. */
  readonly role: string | null
}
/** How many accounts may stand under one another. */
export const deepestChart = 5

export type ChartFault = 'no-parent' | 'other-kind' | 'circle' | 'too-deep' | 'parent-closed' | 'kept-by-acts' | 'not-empty' | 'open-below'

/**
 * Whether an account may stand in the chart as it is to be, beside the others as they are: under one of its own kind, never under itself,
 * at most five deep; closed only where it stands at nothing (income and expenses are closed with their year), where nothing open stands
 * under it, and where the application does not post to it by itself. Null where it may.
 *
 * @param balance What it stands at today, in cents, debit positive.
 */
export function judgeAccount(chart: readonly ChartAccount[], to: ChartAccount, balance: Cents): ChartFault | null {
  const byId = new Map(chart.map((a) => [a.id, a]))
  let above = 0
  for (let at = to.parentId; at !== null; above += 1) {
    if (at === to.id) return 'circle'
    const parent = byId.get(at)
    if (!parent) return 'no-parent'
    if (parent.kind !== to.kind) return 'other-kind'
    if (parent.closed && !to.closed) return 'parent-closed'
    if (above >= deepestChart) return 'too-deep'
    at = parent.parentId
  }
  const below = (id: number, depth: number): number =>
    depth > deepestChart
      ? depth
      : Math.max(depth, ...chart.filter((a) => a.parentId === id && a.id !== to.id).map((a) => below(a.id, depth + 1)))
  if (above + 1 + (to.id ? below(to.id, 0) : 0) > deepestChart) return 'too-deep'
  if (!to.closed) return null
  if (to.role !== null) return 'kept-by-acts'
  if (chart.some((a) => a.parentId === to.id && a.id !== to.id && !a.closed)) return 'open-below'
  return balance !== 0 && to.kind !== 'income' && to.kind !== 'expense' ? 'not-empty' : null
}

/** A line of a statement: what one account comes to in each column, in cents; or what it and all under it come to together. */
export interface StatementRow {
  name: string
  accountId: number | null
  amounts: Cents[]
  /** How many accounts stand above it. */
  depth: number
  sum: boolean
}

/**
 * The rows of a statement as the chart has them: an account before those that stand under it, and after them what all come to together.
 * Rows of no account stay where they are. What sums come to is not to be added up again.
 */
export function underParents(
  rows: readonly { name: string; accountId: number | null; amounts: readonly Cents[] }[],
  chart: readonly ChartAccount[],
): StatementRow[] {
  const byId = new Map(chart.map((a) => [a.id, a]))
  const parentOf = (id: number) => {
    const parent = byId.get(id)?.parentId ?? null
    return parent !== null && byId.has(parent) ? parent : null
  }
  const own = new Map(rows.flatMap((r) => (r.accountId === null ? [] : [[r.accountId, r] as const])))
  // Accounts above those that have something are shown, too, so that it is seen where these stand.
  const below = new Map<number, number[]>()
  const seen = new Set<number>()
  const place = (id: number) => {
    if (seen.has(id)) return
    seen.add(id)
    const parent = parentOf(id)
    if (parent === null) return
    below.set(parent, [...(below.get(parent) ?? []), id])
    place(parent)
  }
  for (const id of own.keys()) place(id)
  const rootOf = (id: number): number => {
    let at = id
    for (let steps = 0, up = parentOf(at); up !== null && steps < 2 * deepestChart; up = parentOf(at), steps += 1) at = up
    return at
  }
  const out: StatementRow[] = []
  const columns = rows[0]?.amounts.length ?? 0
  /** Writes an account and all under it; tells what they come to together. */
  const write = (id: number, depth: number): Cents[] => {
    const row = own.get(id)
    const head = byId.get(id)
    const under = (below.get(id) ?? []).sort((a, b) => (byId.get(a)!.code < byId.get(b)!.code ? -1 : 1))
    const name = row?.name ?? `${head!.code} ${head!.name}`
    const amounts = [...(row?.amounts ?? Array<Cents>(columns).fill(0))]
    out.push({ name, accountId: id, amounts, depth, sum: false })
    if (!under.length || depth > deepestChart) return amounts
    const all = [...amounts]
    for (const child of under) for (const [i, amount] of write(child, depth + 1).entries()) all[i]! += amount
    out.push({ name: `${name} together`, accountId: null, amounts: all, depth, sum: true })
    return all
  }
  const written = new Set<number>()
  for (const r of rows) {
    if (r.accountId === null) {
      out.push({ name: r.name, accountId: null, amounts: [...r.amounts], depth: 0, sum: false })
      continue
    }
    const root = rootOf(r.accountId)
    if (written.has(root)) continue
    written.add(root)
    write(root, 0)
  }
  return out
}
