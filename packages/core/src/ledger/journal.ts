import { sum, type Cents } from '../money'

/** Purposes that the application itself posts to; every firm has exactly one account for each. */
export const accountRoles = [
  'receivable',
  'work in progress',
  'unbilled fees',
  'costs advanced',
  'payables',
  'fees',
  'costs recovered',
  'interest',
  'costs not recovered',
  'client credits',
  'firm money in trust',
  'due from clients',
  'tax payable',
  'opening clearing',
  'bank charges',
  'vendor discounts',
  'bad debts',
  'equity',
] as const
export type AccountRole = (typeof accountRoles)[number]

/** Debit positive, credit negative, in cents. */
export interface JournalLine {
  account: number
  amount: Cents
  matterId?: number | null
  timekeeperId?: number | null
  billId?: number | null
  /** Set on the lines of a trust bank or its liability. */
  bankAccountId?: number | null
}

/** A movement of a bank account, as its statement will show it. */
export interface BankMove {
  bankAccountId: number
  amount: Cents
}

/** A movement of a client ledger; plus is money the firm holds for that client. */
export interface LedgerMove {
  ledgerId: number
  bankAccountId: number
  amount: Cents
}

export interface JournalParts {
  lines: readonly JournalLine[]
  bank: readonly BankMove[]
  ledgers: readonly LedgerMove[]
}

/** Accounts of a trust bank: its book in the general ledger and what the firm owes its clients. */
export interface TrustAccounts {
  bankAccountId: number
  bankGl: number
  liabilityGl: number
}

/**
 * What is wrong with a journal; empty when it may be posted. Debits equal credits, and for each trust account
 * the change of the bank, of the liability and of its client ledgers are the same, each kept as its own record.
 */
export function faultsOfJournal(j: JournalParts, trust: readonly TrustAccounts[]): string[] {
  const faults: string[] = []
  const off = sum(j.lines.map((l) => l.amount))
  if (j.lines.length < 2) faults.push('A journal needs two lines or more')
  if (off !== 0) faults.push(`Debits and credits differ by ${off} cents`)
  if (j.lines.some((l) => !Number.isSafeInteger(l.amount) || l.amount === 0)) faults.push('A line has no amount in whole cents')
  for (const t of trust) {
    const bank = sum(j.bank.filter((b) => b.bankAccountId === t.bankAccountId).map((b) => b.amount))
    const ledgers = sum(j.ledgers.filter((l) => l.bankAccountId === t.bankAccountId).map((l) => l.amount))
    const bankGl = sum(j.lines.filter((l) => l.account === t.bankGl).map((l) => l.amount))
    const liability = -sum(j.lines.filter((l) => l.account === t.liabilityGl).map((l) => l.amount))
    if (bank !== ledgers || bank !== bankGl || bank !== liability)
      faults.push(`Trust account ${t.bankAccountId}: bank ${bank}, its book ${bankGl}, owed to clients ${liability}, ledgers ${ledgers}`)
  }
  return faults
}

/** The mirrored entry of a journal. */
export function mirror(j: JournalParts): JournalParts {
  return {
    lines: j.lines.map((l) => ({ ...l, amount: -l.amount })),
    bank: j.bank.map((b) => ({ ...b, amount: -b.amount })),
    ledgers: j.ledgers.map((l) => ({ ...l, amount: -l.amount })),
  }
}
