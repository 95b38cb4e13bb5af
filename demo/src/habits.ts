export const keepers = [
  'Ingrid Calloway',
  'Desmond Fenn',
  'Noor Haddad-Lind',
  'Tomas Okafor-Reyes',
  'Billie Strand',
  'Jun Aldana',
  'Sable Whitcombe',
]
/** Entries a day, on average, by timekeeper. */
export const pace: Record<string, number> = {
  'Ingrid Calloway': 2,
  'Desmond Fenn': 2.4,
  'Noor Haddad-Lind': 3.6,
  'Tomas Okafor-Reyes': 3.5,
  'Billie Strand': 2.9,
  'Jun Aldana': 1,
  'Sable Whitcombe': 0.7,
}
export const costs: [kind: 'soft cost' | 'hard cost', text: string, cents: number, payee: string][] = [
  ['soft cost', 'Copies, 168 at $0.25', 42_00, ''],
  ['hard cost', 'Filing fee', 405_00, 'Wexmoor Records Office'],
  ['hard cost', 'Transcript', 388_50, 'Strand Reporting'],
  ['hard cost', 'Stake report', 720_00, 'Pellan Survey'],
  ['soft cost', 'Mileage, 62 at $0.70', 43_40, ''],
]
