import type { EntityManager } from 'typeorm'
import { change, requireMatter } from '../platform/access'
import { audit } from '../platform/audit'
import type { Ctx } from '../platform/context'
import { fieldFault } from '../platform/problem'
import { Matter } from '../platform/shared-entities'
import { indexMatters } from './words'

type Write = (m: EntityManager, ctx: Ctx, at: { matterId: number }, text: string) => Promise<void>

/** Writes one thing of a matter's file, as an answer given while a paper was made. */
function writes(column: 'description' | 'secondNumber' | 'court' | 'caseNumber', path: string, most: number, what: string): Write {
  return async (m, ctx, { matterId }, text) => {
    const matter = await requireMatter(m, ctx, matterId, 'file', change)
    if (text.length > most) throw fieldFault(path, `Keep it under ${most} characters`)
    await m.update(Matter, matterId, { [column]: text, version: matter.version + 1 })
    await indexMatters(m, [matterId])
    await audit(m, ctx, { kind: 'changed', text: `${what} from a paper`, matterId, subject: 'matter', subjectId: matterId })
  }
}

export const matterWrites: Record<string, Write> = {
  'matter.description': writes('description', 'matter.description', 4000, 'What the firm is engaged to do'),
  'matter.second_number': writes('secondNumber', 'matter.second_number', 60, 'Second number'),
  'court.name': writes('court', 'court.name', 160, 'Court'),
  'court.case_number': writes('caseNumber', 'court.case_number', 60, 'Case number'),
}
