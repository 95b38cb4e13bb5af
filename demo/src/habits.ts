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
/** The task that an activity is mostly for. */
export const taskOf: Record<string, string> = { A101: 'L120', A102: 'L120', A103: 'L210', A104: 'L320', A105: 'L120', A106: 'L120', A107: 'L190', A109: 'L230' } // prettier-ignore

/** Costs as they come in a firm: by the code of their kind, with units or an amount. */
export const costs: [code: string, text: string, cents: number, payee: string, units?: string][] = [
  ['COPY', 'Copies of the record', 42_00, '', '168'],
  ['COURT', 'Filing fee', 405_00, 'Wexmoor Records Office'],
  ['DEPO', 'Transcript', 388_50, 'Strand Reporting'],
  ['EXPERT', 'Stake report', 720_00, 'Pellan Survey'],
  ['MILES', 'To the harbor and back', 43_40, '', '62'],
]
