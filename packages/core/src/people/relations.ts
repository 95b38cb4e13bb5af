/** How one contact stands to another, with what it is called from the other side. */
export const relationKinds = [
  { kind: 'works for', inverse: 'employs', followed: true },
  { kind: 'officer of', inverse: 'has as officer', followed: true },
  { kind: 'owner of', inverse: 'owned by', followed: true },
  { kind: 'affiliate of', inverse: 'affiliate of', followed: true },
  { kind: 'subsidiary of', inverse: 'parent company of', followed: true },
  { kind: 'insures', inverse: 'insured by', followed: true },
  { kind: 'spouse of', inverse: 'spouse of', followed: true },
  { kind: 'child of', inverse: 'parent of', followed: true },
  { kind: 'sibling of', inverse: 'sibling of', followed: true },
  { kind: 'guardian of', inverse: 'ward of', followed: true },
  { kind: 'represents', inverse: 'represented by', followed: false },
  { kind: 'referred by', inverse: 'referred', followed: false },
] as const
export type RelationKind = (typeof relationKinds)[number]['kind']
export const relationKindNames = relationKinds.map((r) => r.kind)

/** What a relation is called when read from its other end. */
export const inverseOf = (kind: string): string => relationKinds.find((r) => r.kind === kind)?.inverse ?? kind
/** Whether a conflict check goes along it. */
export const isFollowed = (kind: string): boolean => relationKinds.some((r) => r.kind === kind && r.followed)
