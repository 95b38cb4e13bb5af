import type { EntityManager } from 'typeorm'
import type { ActSubject } from './area'
import { instant, type Ctx } from './context'
import { insertMany } from './database'

export interface Act {
  kind: string
  text: string
  subject: ActSubject
  subjectId?: number | null
  matterId?: number | null
  detail?: unknown
}

/** Writes what happened into the log, in the transaction that did it. */
export async function audit(m: EntityManager, ctx: Pick<Ctx, 'clock'> & { actor: { id: number } | null }, act: Act): Promise<void> {
  // Every act comes through here: rows by their columns are several times quicker than an entity.
  await insertMany(
    m,
    'audit_log',
    ['at', 'user_id', 'kind', 'text', 'matter_id', 'subject', 'subject_id', 'detail'],
    [
      [
        instant(ctx.clock.now()),
        ctx.actor?.id ?? null,
        act.kind,
        act.text.slice(0, 500),
        act.matterId ?? null,
        act.subject,
        act.subjectId ?? null,
        act.detail === undefined ? null : JSON.stringify(act.detail),
      ],
    ],
  )
}
