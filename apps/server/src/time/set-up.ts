import { timeFields } from '@heron/contract'
import type { Day } from '@heron/core/calendar'
import { In, type EntityManager } from 'typeorm'
import { audit } from '../platform/audit'
import { may, type Ctx } from '../platform/context'
import { insertMany, work } from '../platform/database'
import { errno, fieldFault, Problem } from '../platform/problem'
import { Firm, UserAccount } from '../platform/shared-entities'
import { FundingSource } from './entities'
import { emptyPhrases, type TimeField, timeSetUp } from './set-up-queries'

export const namesOfPeople = (m: EntityManager, ids: readonly number[]) =>
  m.find(UserAccount, { select: { id: true, name: true }, where: { id: In(ids), active: true }, order: { name: 'ASC' } })

export const setTimeFields = (
  ctx: Ctx,
  input: {
    fields: readonly TimeField[]
    funding: readonly { id?: number | undefined; name: string; from: Day | null; to: Day | null; retired: boolean }[]
  },
): Promise<void> =>
  work(ctx, async (m) => {
    const was = await timeSetUp(m)
    await m.updateAll(Firm, { timeFields: timeFields.filter((f) => input.fields.includes(f)).join(',') })
    for (const [i, f] of input.funding.entries()) {
      if (f.from && f.to && f.to < f.from) throw fieldFault(`funding.${i}.to`, 'It would end before it begins')
      try {
        if (f.id) await m.update(FundingSource, { id: f.id }, { name: f.name, fromDay: f.from, toDay: f.to, retired: f.retired })
        else await m.insert(FundingSource, { name: f.name, fromDay: f.from, toDay: f.to, retired: f.retired })
      } catch (error) {
        if (errno(error) === 1062) throw fieldFault(`funding.${i}.name`, `${f.name} stands here twice`)
        throw error
      }
    }
    await audit(m, ctx, {
      kind: 'set up',
      text: 'Fields of time and sources of funding changed',
      subject: 'fee',
      detail: { was, became: input },
    })
  })

/** Keeps all of one's own wordings, or all of the firm's, as they stand on the page. */
export const setPhrases = (ctx: Ctx, input: { firm: boolean; phrases: readonly { code: string; text: string }[] }): Promise<void> =>
  work(ctx, async (m) => {
    if (input.firm && !may(ctx.actor, 'firm.set-up')) throw new Problem(403, 'not-allowed', 'Who sets the firm up keeps its wordings.')
    const seen = new Set<string>()
    for (const [i, p] of input.phrases.entries()) {
      const code = p.code.toLowerCase()
      if (/\s/.test(code)) throw fieldFault(`phrases.${i}.code`, 'A code is one word')
      if (seen.has(code)) throw fieldFault(`phrases.${i}.code`, `${p.code} stands here twice`)
      seen.add(code)
    }
    const userId = input.firm ? null : ctx.actor.id
    await emptyPhrases(m, userId)
    await insertMany(
      m,
      'phrase',
      ['user_id', 'code', 'text'],
      input.phrases.map((p) => [userId, p.code, p.text]),
    )
    if (input.firm) await audit(m, ctx, { kind: 'set up', text: `Wordings of the firm: ${input.phrases.length}`, subject: 'fee' })
  })
