import type { EntityManager } from 'typeorm'
import { gather, type HandingOver, type What } from '../platform/area'
import type { Ctx } from '../platform/context'
import { notFound, refused } from '../platform/problem'
import { mayBeHanded, screenedFrom } from './people-queries'

export interface Give {
  what: What
  subjectId: number
  toId: number
}

/** All that can be handed over, in the order in which it is. */
export const handedOver = (): HandingOver[] => gather((own) => own.handsOver).sort((a, b) => a.order - b.order)
const of = (what: What) => handedOver().find((h) => h.what === what)!

export const matterOf = (m: EntityManager, g: Pick<Give, 'what' | 'subjectId'>) => of(g.what).matterOf(m, g.subjectId)
export const nameOf = async (m: EntityManager, h: Pick<Give, 'what' | 'subjectId'>) =>
  (await of(h.what).nameOf(m, h.subjectId)) ?? 'something deleted'

/** Hands one thing over and says how it was, so that it can be given back. */
export async function give(m: EntityManager, ctx: Ctx, fromId: number, g: Give, stays: boolean): Promise<object> {
  const matter = await matterOf(m, g)
  if (!matter) throw notFound('matter, date or task')
  if (matter.matterId) {
    if (!(await mayBeHanded(m, ctx, matter.matterId))) throw notFound('matter')
    const screened = await screenedFrom(m, matter.matterId, g.toId)
    if (screened)
      throw refused('screened', `${screened.name} cannot be given work on ${matter.number}. Choose someone else; nothing was handed over.`)
  }
  return of(g.what).give(m, ctx, { fromId, toId: g.toId, subjectId: g.subjectId, stays })
}

export const giveBack = (m: EntityManager, fromId: number, h: Give & { was: string }): Promise<boolean> =>
  of(h.what).giveBack(m, { fromId, toId: h.toId, subjectId: h.subjectId, was: h.was })
