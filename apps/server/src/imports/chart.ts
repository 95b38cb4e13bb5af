import type { AccountIn } from '@heron/contract'
import { judgeAccount, type AccountKind, type ChartAccount, type ChartFault } from '@heron/core/ledger'
import { chart, changeAccountIn, makeAccountIn } from '../ledger'
import type { Fault, Importer } from './importer'

interface Ready {
  /** The account of the chart that has this number already. */
  id: number
  code: string
  name: string
  kind: AccountKind
  parent: string
}
const columns: [key: string, label: string, needed: boolean, known: string[]][] = [
  ['code', 'Number', true, ['account number', 'account no', 'code', 'account code', 'no', 'acct']],
  ['name', 'Name', true, ['account name', 'account', 'description', 'title']],
  ['kind', 'Kind', true, ['type', 'account type', 'class', 'category']],
  ['parent', 'Stands under', false, ['parent', 'parent number', 'parent account', 'sub-account of', 'subaccount of']],
]
const mostAccounts = 1000
/** As other programs and people call the five kinds. */
const kindNames: Record<AccountKind, readonly string[]> = {
  asset: ['asset', 'assets', 'bank', 'fixed asset', 'current asset', 'other asset', 'other current asset', 'accounts receivable'],
  liability: ['liability', 'liabilities', 'current liability', 'long term liability', 'credit card', 'accounts payable', 'loan'],
  equity: ['equity', 'capital', 'owner’s equity', "owner's equity"],
  income: ['income', 'revenue', 'revenues', 'other income', 'sales'],
  expense: ['expense', 'expenses', 'cost', 'other expense', 'overhead', 'cost of sales'],
}
const kindOf = (text: string) =>
  (Object.keys(kindNames) as AccountKind[]).find((k) => kindNames[k].includes(text.trim().toLowerCase().replace(/\s+/gu, ' ')))
const said: Record<ChartFault, string> = {
  'no-parent': 'There is no such account, neither in the file nor in the chart',
  'other-kind': 'The account above it is of another kind',
  circle: 'It would stand under itself',
  'too-deep': 'Too many accounts would stand under one another',
  'parent-closed': 'The account above it is closed',
  'kept-by-acts': 'The application posts to it by itself',
  'not-empty': 'It does not stand at nothing',
  'open-below': 'Accounts under it are open',
}

/** A chart of accounts: what has a number of the firm's chart takes the new name and place, the rest is added. */
export const chartImporter: Importer<Ready> = {
  fields: async () => columns.map(([key, label, needed, known]) => ({ key, label, needed, known })),

  async judge(m, _ctx, table, progress) {
    const faults: Fault[] = []
    if (table.length > mostAccounts) {
      faults.push({ row: mostAccounts + 2, column: 'code', text: `A chart has at most ${mostAccounts.toLocaleString('en-US')} accounts` })
      return { good: [], faults }
    }
    const before = await chart(m)
    const byCode = new Map(before.map((a) => [a.code, a]))
    const read: { at: number; ready: Ready }[] = []
    const seen = new Map<string, number>()
    for (const r of table) {
      const wrong = faults.length
      const fault = (column: string, text: string) => faults.push({ row: r.number, column, text })
      const code = r.get('code').trim()
      const name = r.get('name').trim()
      const kind = kindOf(r.get('kind'))
      const on = byCode.get(code)
      if (!/^\d{3,6}$/.test(code)) fault('code', code ? `${code} is not a number of three to six digits` : 'Give the number')
      else if (seen.has(code)) fault('code', `${code} stands in row ${seen.get(code)} already`)
      else seen.set(code, r.number)
      if (!name || name.length > 120) fault('name', name ? 'Keep it under 120 characters' : 'Name the account')
      if (!kind) fault('kind', 'Say asset, liability, equity, income or expense')
      else if (on && on.kind !== kind) fault('kind', `${code} is ${on.name} and stays what it is: ${on.kind}`)
      if (faults.length === wrong)
        read.push({ at: r.number, ready: { id: on?.id ?? 0, code, name, kind: kind!, parent: r.get('parent').trim() } })
    }
    // Judged beside one another as they are to be, in whatever order they stand in the file.
    const become = new Map<string, ChartAccount>(before.map((a) => [a.code, a]))
    for (const [n, { ready: x }] of read.entries())
      become.set(x.code, { id: x.id || -1 - n, code: x.code, name: x.name, kind: x.kind, parentId: null, closed: byCode.get(x.code)?.closed ?? false, role: byCode.get(x.code)?.role ?? null }) // prettier-ignore
    const parentOf = (text: string) => become.get(text) ?? become.get(text.split(/\s/u)[0]!)
    for (const { at, ready: x } of read) {
      if (!x.parent) continue
      const parent = parentOf(x.parent)
      if (!parent) faults.push({ row: at, column: 'parent', text: `${x.parent}: ${said['no-parent']}` })
      else become.set(x.code, { ...become.get(x.code)!, parentId: parent.id })
    }
    const all = [...become.values()]
    const good: Ready[] = []
    for (const [i, { at, ready: x }] of read.entries()) {
      const fault = judgeAccount(all, become.get(x.code)!, 0)
      if (fault) faults.push({ row: at, column: 'parent', text: said[fault] })
      else if (!faults.some((f) => f.row === at)) good.push({ ...x, parent: x.parent ? parentOf(x.parent)!.code : '' })
      if (i % 500 === 0) await progress((i / read.length) * 100)
    }
    return { good, faults }
  },

  async load(m, ctx, ready, progress) {
    const byCode = new Map(ready.map((r) => [r.code, r]))
    const ids = new Map((await chart(m)).map((a) => [a.code, a]))
    const done = new Set<string>()
    // Each after the account under which it stands.
    const put = async (r: Ready): Promise<void> => {
      if (done.has(r.code)) return
      done.add(r.code)
      const above = byCode.get(r.parent)
      if (above) await put(above)
      const input: Omit<AccountIn, 'kind'> = { code: r.code, name: r.name, parentId: r.parent ? ids.get(r.parent)!.id : null }
      const was = ids.get(r.code)
      if (was) await changeAccountIn(m, ctx, was.id, { ...input, closed: was.closed })
      else
        ids.set(r.code, { id: await makeAccountIn(m, ctx, { ...input, kind: r.kind }), ...input, kind: r.kind, role: null, closed: false })
    }
    for (const [i, r] of ready.entries()) {
      await put(r)
      if (i % 100 === 0) await progress((i / ready.length) * 100)
    }
  },
}
