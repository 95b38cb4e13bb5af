import type { EntityManager } from 'typeorm'
import { instant, isoOf, type Ctx } from '../platform/context'
import { row, rows } from '../platform/database'
import { StandingCheck } from './entities'

export interface CheckedAccount {
  bankAccountId: number
  name: string
  bank: number
  liability: number
  ledgers: number
  ledgerDays: number
}
export interface CheckResult {
  at: string | null
  ok: boolean
  unbalancedJournals: number
  accounts: CheckedAccount[]
  /** The firm's own money in trust: its ledgers there, and the asset account that stands for them. */
  firmMoney: { ledgers: number; account: number }
}

type Compared = Omit<CheckResult, 'at'>

/** So many journals are looked at by one statement, so that however many there are none takes long. */
const atOnce = 100_000
async function unbalancedJournals(m: EntityManager): Promise<number> {
  const last = (await row<{ id: number }>(m, `SELECT COALESCE(MAX(id), 0) AS id FROM journal`))!.id
  let found = 0
  for (let from = 0; from < last; from += atOnce) {
    const off = await row<{ n: number }>(
      m,
      `SELECT COUNT(*) AS n FROM (SELECT j.id FROM journal j LEFT JOIN journal_posting p ON p.journal_id = j.id LEFT JOIN journal_line l ON l.journal_id = j.id
          WHERE j.id > ? AND j.id <= ? GROUP BY j.id, p.journal_id HAVING p.journal_id IS NULL OR COALESCE(SUM(l.amount), 1) <> 0) x`,
      [from, from + atOnce],
    )
    found += off!.n
  }
  return found
}

/** Compares the separate records as they stand at one moment. */
async function compare(m: EntityManager): Promise<Compared> {
  const accounts = await rows<CheckedAccount>(
    m,
    `SELECT b.id AS bankAccountId, b.name,
         COALESCE((SELECT SUM(amount) FROM bank_entry WHERE bank_account_id = b.id), 0) AS bank,
         COALESCE(-(SELECT SUM(amount) FROM journal_line WHERE account_id = b.liability_account_id), 0) AS liability,
         COALESCE((SELECT SUM(e.amount) FROM ledger_entry e JOIN client_ledger l ON l.id = e.ledger_id WHERE l.bank_account_id = b.id), 0) AS ledgers,
         COALESCE((SELECT SUM(d.balance) FROM ledger_day d JOIN client_ledger l ON l.id = d.ledger_id
            WHERE l.bank_account_id = b.id AND d.day = (SELECT MAX(x.day) FROM ledger_day x WHERE x.ledger_id = d.ledger_id)), 0) AS ledgerDays
       FROM bank_account b WHERE b.kind <> 'operating' ORDER BY b.id`,
  )
  const unbalanced = { n: await unbalancedJournals(m) }
  const firmMoney = await row<{ ledgers: number; account: number }>(
    m,
    `SELECT COALESCE((SELECT SUM(e.amount) FROM ledger_entry e JOIN client_ledger l ON l.id = e.ledger_id WHERE l.kind = 'firm'), 0) AS ledgers,
            COALESCE((SELECT SUM(l.amount) FROM journal_line l JOIN account a ON a.id = l.account_id WHERE a.role = 'firm money in trust'), 0) AS account`,
  )
  const ok =
    firmMoney!.ledgers === firmMoney!.account &&
    unbalanced.n === 0 &&
    accounts.every((a) => a.bank === a.liability && a.bank === a.ledgers && a.bank === a.ledgerDays)
  return { ok, unbalancedJournals: unbalanced.n, accounts, firmMoney: firmMoney! }
}

/**
 * Compares what is kept as separate records: the bank book, the liability account, the client ledgers and their
 * closing balances; and that every journal balances and is posted. Keeps the result with its time.
 */
export async function runStandingCheck(ctx: Pick<Ctx, 'db' | 'clock'>): Promise<CheckResult> {
  return ctx.db.transaction('REPEATABLE READ', async (m) => {
    const { ok, ...detail } = await compare(m)
    const at = instant(ctx.clock.now())
    await m.insert(StandingCheck, { at, ok, detail: JSON.stringify(detail) })
    return { at: isoOf(at), ok, ...detail }
  })
}

export async function lastCheck(ctx: Pick<Ctx, 'db' | 'clock'>): Promise<CheckResult> {
  const last = await row<{ at: string; ok: number; detail: string }>(
    ctx.db.manager,
    `SELECT at, ok, detail FROM standing_check ORDER BY id DESC LIMIT 1`,
  )
  // Before the first check was kept: as it stands now, with no time to show.
  if (!last) return { at: null, ...(await ctx.db.transaction('REPEATABLE READ', compare)) }
  const detail = JSON.parse(last.detail) as Pick<CheckResult, 'unbalancedJournals' | 'accounts'> & Partial<Pick<CheckResult, 'firmMoney'>>
  return { at: isoOf(last.at), ok: Boolean(last.ok), firmMoney: { ledgers: 0, account: 0 }, ...detail }
}
