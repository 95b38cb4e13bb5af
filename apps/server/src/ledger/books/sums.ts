import type { Day } from '@heron/core/calendar'
import type { AccountBalance, AccountKind, AccountRole } from '@heron/core/ledger'
import type { EntityManager } from 'typeorm'
import type { Base } from '../../platform/area'
import { insertMany } from '../../platform/database'
import { AccountDayMark } from './entities'
import { Account } from '../entities'
import { unbalancedIn } from '../check-queries'
import { addBankDays, addDays, type Asked, lockedMark, markNext, moved } from './sum-queries'

/** How many journals are added up at once, so that no statement is long. */
const atOnce = 20_000
/** Longer than any transaction: what was being posted when a mark was seen is done by then. */
const settled = 300

/**
 * Adds what was posted up to a mark of some minutes ago to the sums of its days, of accounts and of bank accounts. Nothing is counted
 * twice or left out: the mark moves in the same transaction, and journals beyond it are added when a figure is asked for.
 */
export async function addUpDays(base: Pick<Base, 'db'>, wait = settled): Promise<void> {
  for (let more = true; more;)
    more = await base.db.transaction(async (m) => {
      const mark = (await lockedMark(m, wait))!
      const to = Math.min(mark.next, mark.upTo + atOnce)
      if (to > mark.upTo && (mark.old || wait === 0)) {
        await addDays(m, to, mark.upTo)
        await addBankDays(m, to, mark.upTo)
        const unbalanced = await unbalancedIn(m, mark.upTo, to)
        await m.update(AccountDayMark, { id: 1 }, { upTo: to, unbalanced: () => `unbalanced + ${Number(unbalanced)}` })
        return to < mark.next
      }
      if (to === mark.upTo) await markNext(m)
      return false
    })
}

export interface AccountHead {
  id: number
  code: string
  name: string
  kind: AccountKind
  role: string | null
  parentId: number | null
  closed: boolean
}
export async function chart(m: EntityManager): Promise<AccountHead[]> {
  const list = await m.find(Account, {
    select: { id: true, code: true, name: true, kind: true, role: true, parentId: true, closed: true },
    order: { code: 'ASC' },
  })
  return list.map((a) => ({ ...a, closed: Boolean(a.closed) }))
}

/** The chart with what each account moved in a span, or stands at on a day. */
export async function balances(m: EntityManager, asked: Asked): Promise<(AccountHead & AccountBalance)[]> {
  const found = new Map((await moved(m, asked)).map((a) => [a.id, a.balance]))
  return (await chart(m)).map((a) => ({ ...a, balance: found.get(a.id) ?? 0 }))
}

/** What the account of a purpose stands at on a day, debit positive; nothing where the firm has none. */
export async function accountBalance(m: EntityManager, role: AccountRole, to: Day): Promise<number> {
  const account = (await chart(m)).find((a) => a.role === role)
  return account ? ((await moved(m, { to, accountId: account.id }))[0]?.balance ?? 0) : 0
}

/** Takes an expense out of, or puts it into, what counts on paid money on a day: owed it does not count, paid it does. */
export const shiftCash = (m: EntityManager, journalId: number, day: Day, shifts: readonly { accountId: number; amount: number }[]) =>
  insertMany(
    m,
    'cash_shift',
    ['journal_id', 'account_id', 'day', 'amount'],
    shifts.map((s) => [journalId, s.accountId, day, s.amount]),
  )
