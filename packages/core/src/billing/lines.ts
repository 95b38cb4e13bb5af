/** What a line of a bill is for. */
export type LineKind = 'time' | 'flat' | 'soft cost' | 'hard cost' | 'interest'

export const isFee = (kind: LineKind): boolean => kind === 'time' || kind === 'flat'
