/** What a name met on record plays somewhere. */
export interface PartMet {
  /** On the side the firm acts for. A part in an enquiry other than the one checked counts as not. */
  ours: boolean
  /** In the very matter or enquiry the check is made for. */
  itself: boolean
}

export interface Met {
  /** Met under the very name searched, not one merely like it. */
  sameName: boolean
  /** The record met is the one searched: the same contact, or for a name without a record one without a record. */
  sameRecord: boolean
  /** Searched as a client's name, or a caller's. */
  client: boolean
  parts: readonly PartMet[]
}

/**
 * Whether a hit of a conflict check is settled without a decision, since the name only met itself. Everything else waits
 * for a person: another record of the same name, a name merely like it, someone met on both sides, or on no matter at all.
 */
export function settledByItself({ sameName, sameRecord, client, parts }: Met): 'itself' | 'our own client' | null {
  if (!sameName || !sameRecord || !parts.length) return null
  const oneSide = parts.every((p) => p.ours === parts[0]!.ours)
  if (!oneSide) return null
  if (parts.every((p) => p.itself)) return 'itself'
  return client && parts[0]!.ours ? 'our own client' : null
}
