import type { Role } from '@heron/contract'
import type { AccountRole } from '@heron/core/ledger'
import { audit } from '../platform/audit'
import { hashPassword } from '../platform/auth'
import type { Ctx } from '../platform/context'
import { row, work } from '../platform/database'
import { refused } from '../platform/problem'
import { Account, BankAccount } from '../ledger/entities'
import { PracticeArea, Stage } from '../matters/entities'
import { ProcedureDef, ProcedureStep } from '../tasks/entities'
import { Activity, ClearingDays, Firm, UserAccount, UserRate } from './entities'

export interface FirmPlan {
  firm: {
    name: string
    address: string
    phone: string
    demo: boolean
    district: string | null
    trustNoticeDays: number
    taxBasisPoints: number
  }
  password: string
  staff: {
    name: string
    initials: string
    email: string
    role: Role
    title: string
    goalHours: number
    mayOverride?: boolean
    rates: { from: string; to: string | null; rate: number }[]
  }[]
  accounts: { code: string; name: string; kind: 'asset' | 'liability' | 'equity' | 'income' | 'expense'; role?: AccountRole }[]
  banks: {
    name: string
    kind: 'pooled' | 'separate' | 'operating'
    bank: string
    ending: string
    gl: string
    liability?: string
    nextCheck: number
  }[]
  areas: { name: string; ruleSet: string | null; stages: string[] }[]
  activities: { code: string; name: string }[]
  clearing: Record<string, number>
  procedures: { name: string; description: string; area: string | null; steps: StepPlan[] }[]
}
/** Days after the start, or after another step by its number. */
export interface StepPlan {
  text: string
  to: 'lead' | 'paralegal' | 'starter'
  after?: number
  count: number
  unit: 'calendar' | 'business'
  priority?: 'high' | 'normal' | 'low'
}

/** Sets a new firm up in one act. Refused where there is one already. */
export function setUpFirm(ctx: Ctx, plan: FirmPlan): Promise<void> {
  return work(ctx, async (m) => {
    if (await row(m, `SELECT 1 FROM firm`)) throw refused('firm-exists', 'This firm is set up already.')
    await m.insert(Firm, { id: 1, ...plan.firm })
    const passwordHash = await hashPassword(plan.password)
    for (const { rates, goalHours, mayOverride, ...person } of plan.staff) {
      const made = await m.insert(UserAccount, {
        ...person,
        passwordHash,
        dayGoalMinutes: Math.round(goalHours * 60),
        mayOverrideClearing: mayOverride ?? false,
      })
      const userId = made.identifiers[0]!['id'] as number
      for (const r of rates) await m.insert(UserRate, { userId, fromDay: r.from, toDay: r.to, rate: r.rate, usual: true })
    }
    const accounts = new Map<string, number>()
    for (const a of plan.accounts) {
      const made = await m.insert(Account, { ...a, role: a.role ?? null })
      accounts.set(a.code, made.identifiers[0]!['id'] as number)
    }
    for (const { gl, liability, ...bank } of plan.banks)
      await m.insert(BankAccount, {
        ...bank,
        glAccountId: accounts.get(gl)!,
        liabilityAccountId: liability ? accounts.get(liability)! : null,
      })
    const areas = new Map<string, number>()
    for (const a of plan.areas) {
      const made = await m.insert(PracticeArea, { name: a.name, ruleSetKey: a.ruleSet })
      const areaId = made.identifiers[0]!['id'] as number
      areas.set(a.name, areaId)
      for (const [i, name] of a.stages.entries()) await m.insert(Stage, { areaId, name, ordinal: i + 1 })
    }
    for (const a of plan.activities) await m.insert(Activity, { ...a, rate: null })
    for (const [kind, courtDays] of Object.entries(plan.clearing)) await m.insert(ClearingDays, { kind, courtDays })
    for (const p of plan.procedures) {
      const made = await m.insert(ProcedureDef, { name: p.name, description: p.description, areaId: p.area ? areas.get(p.area)! : null })
      const procedureId = made.identifiers[0]!['id'] as number
      for (const [i, s] of p.steps.entries())
        await m.insert(ProcedureStep, {
          procedureId,
          ordinal: i + 1,
          text: s.text,
          assignTo: s.to,
          anchorStep: s.after ?? null,
          count: s.count,
          unit: s.unit,
          direction: 'after',
          priority: s.priority ?? 'normal',
        })
    }
    await audit(m, { clock: ctx.clock, actor: null }, { kind: 'set up', text: `${plan.firm.name} set up`, subject: 'firm', subjectId: 1 })
  })
}
