import { contactScope } from '../platform/access'
import type { Ctx } from '../platform/context'

/** Whom the firm paid, as contact `c`; one that is another's private contact keeps its checks to itself, in lists and on paper. */
export const payeeOf = (payment: string, as = 'c') =>
  `LEFT JOIN contact ${as}w ON ${as}w.id = ${payment}.payee_id LEFT JOIN contact ${as} ON ${as}.id = COALESCE(${as}w.merged_into, ${as}w.id)`
export const payeeOpen = (ctx: Ctx, as = 'c') => `(${as}.id IS NULL OR ${contactScope(ctx.actor, as)})`
