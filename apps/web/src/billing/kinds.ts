/** How money comes in. */
export const moneyKinds = [
  { value: 'check', text: 'Check' },
  { value: 'transfer', text: 'Transfer' },
  { value: 'card', text: 'Card' },
  { value: 'bank debit', text: 'Bank debit' },
] as const

/** What settles a bill, as it is read beside an amount. */
export const settledBy: Record<string, string> = {
  trust: 'from trust',
  check: 'by check',
  transfer: 'by transfer',
  card: 'by card',
  'bank debit': 'by bank debit',
  'credit note': 'credit note',
  'write-off': 'written off',
  void: 'voided',
}
