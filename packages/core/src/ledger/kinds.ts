import type { AccountRole } from './journal'

/** What holds for a kind of bank account. */
export interface BankKind {
  /** Clients' money: its bank book, what is owed and the client ledgers move alike. */
  trust: boolean
  /** Whether checks are drawn on it where the firm moves separate trust money to the pooled account first. */
  checksAlways: boolean
}
export const bankKinds = {
  pooled: { trust: true, checksAlways: true },
  separate: { trust: true, checksAlways: false },
  operating: { trust: false, checksAlways: true },
} as const satisfies Record<string, BankKind>
export type BankKindName = keyof typeof bankKinds

/** What holds for a kind of ledger within a trust account. */
export interface LedgerKind {
  /** Whether money may leave it at all. */
  paysOut: boolean
  /** Whose money may stand in for what has not cleared, once someone authorized says so; null where nobody's may. */
  standIn: 'firm' | null
  /** Whether it is itself what stands in, so that it leaves only as far as it is free. */
  standsIn: boolean
}
export const ledgerKinds = {
  client: { paysOut: true, standIn: 'firm', standsIn: false },
  firm: { paysOut: true, standIn: null, standsIn: true },
  unidentified: { paysOut: false, standIn: null, standsIn: false },
  /** Interest of a pooled account, which is the bar foundation’s until it is remitted. */
  foundation: { paysOut: true, standIn: null, standsIn: false },
} as const satisfies Record<string, LedgerKind>
export type LedgerKindName = keyof typeof ledgerKinds

/** Accounts to which only the application's own acts post: their balance is the sum of records of their own. */
export const keptByActs: readonly AccountRole[] = [
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
  'vendor discounts',
]
