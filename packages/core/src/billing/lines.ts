/** What a line of a bill is for. */
export type LineKind = 'time' | 'flat' | 'soft cost' | 'hard cost' | 'interest'

/** Whether a line is of the firm's fees: time, or a fee of a set amount. */
export const isFee = (kind: LineKind): boolean => kind === 'time' || kind === 'flat'
