import { readQuestion } from '@heron/core/oversight'
import { may, type Ctx } from '../platform/context'
import { weekEnd } from './queries'
import { type Answer, byLimit, ofClient, ofTimekeeper } from './ask-queries'

/** A figure by words, in one of the documented forms; nothing for anything else. */
export async function ask(ctx: Ctx, q: string): Promise<Answer[]> {
  if (!may(ctx.actor, 'bills.see')) return []
  const asked = readQuestion(q, ctx.clock.today(), await weekEnd(ctx.db.manager))
  if (!asked) return []
  if ('amount' in asked) return byLimit(ctx, asked)
  return 'from' in asked ? ofTimekeeper(ctx, asked) : ofClient(ctx, asked)
}
