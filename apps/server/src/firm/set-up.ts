import type { Day } from '@heron/core/calendar'
import type { Role } from '@heron/contract'
import type { AccountRole } from '@heron/core/ledger'
import { audit } from '../platform/audit'
import { hashPassword } from '../platform/auth'
import type { Ctx } from '../platform/context'
import { insertRow, work } from '../platform/database'
import { refused } from '../platform/problem'
import { Account, BankAccount } from '../ledger/entities'
import { Stage } from '../matters/entities'
import { PracticeArea } from '../platform/shared-entities'
import type { Grants } from '@heron/contract'
import type { StepDue } from '@heron/core/tasks'
import { saveProcedure } from '../tasks'
import { Activity, AreaProcedure, ListedFee, UserRate } from './entities'
import { ClearingDays, Firm, UserAccount } from '../platform/shared-entities'
import { addToAreaTeam, firmThere } from './queries'

export interface FirmPlan {
  firm: {
    name: string
    address: string
    phone: string
    demo: boolean
    district: string | null
    zone?: string
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
    /** The person's own; otherwise the one that all share, in the demo. */
    password?: string
    rates: { from: Day; to: Day | null; rate: number }[]
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
  areas: {
    name: string
    ruleSet: string | null
    stages: string[]
    staff?: Grants
    team?: { email: string; role: 'lead' | 'lawyer' | 'paralegal' }[]
    procedures?: string[]
  }[]
  fees?: { name: string; area: string | null; portions: { label: string; amount: number }[] }[]
  matterPattern?: string
  workDays?: number[]
  activities: { code: string; name: string }[]
  clearing: Record<string, number>
  procedures: { name: string; description: string; area: string | null; steps: StepPlan[] }[]
}
/** A step: by default so many days after the start; `after` names another step by its number. */
export interface StepPlan {
  text: string
  to: 'lead' | 'paralegal' | 'starter' | 'given'
  after?: number
  /** Counted from when that step is done. */
  done?: boolean
  /** Counted from a date of the matter's docket. */
  date?: string
  before?: boolean
  waits?: number[]
  count: number
  unit: 'calendar' | 'business'
  priority?: 'high' | 'normal' | 'low'
  remindDays?: number
}

function dueOf(s: StepPlan): StepDue {
  const anchor: StepDue['anchor'] = s.date
    ? { kind: 'docket', name: s.date }
    : s.after
      ? { kind: s.done ? 'done' : 'step', step: `s${s.after}` }
      : { kind: 'start' }
  return { count: s.count, unit: s.unit, direction: s.before ? 'before' : 'after', anchor }
}

/** Sets a new firm up in one act. Refused where there is one already. */
export function setUpFirm(ctx: Ctx, plan: FirmPlan): Promise<void> {
  return work(ctx, async (m) => {
    if (await firmThere(m)) throw refused('firm-exists', 'This firm is set up already.')
    await m.insert(Firm, {
      id: 1,
      ...plan.firm,
      ...(plan.matterPattern ? { matterPattern: plan.matterPattern } : {}),
      ...(plan.workDays ? { workDays: JSON.stringify(plan.workDays) } : {}),
    })
    const shared = await hashPassword(plan.password)
    for (const { rates, goalHours, mayOverride, password, ...person } of plan.staff) {
      const passwordHash = password ? await hashPassword(password) : shared
      const userId = await insertRow(m, UserAccount, {
        ...person,
        passwordHash,
        dayGoalMinutes: Math.round(goalHours * 60),
        mayOverrideClearing: mayOverride ?? false,
      })
      for (const r of rates) await m.insert(UserRate, { userId, fromDay: r.from, toDay: r.to, rate: r.rate, usual: true })
    }
    const accounts = new Map<string, number>()
    for (const a of plan.accounts) {
      const madeId = await insertRow(m, Account, { ...a, role: a.role ?? null })
      accounts.set(a.code, madeId)
    }
    for (const { gl, liability, ...bank } of plan.banks)
      await m.insert(BankAccount, {
        ...bank,
        glAccountId: accounts.get(gl)!,
        liabilityAccountId: liability ? accounts.get(liability)! : null,
        usual: plan.banks.findIndex((b) => b.kind === bank.kind) === plan.banks.findIndex((b) => b.name === bank.name),
      })
    const areas = new Map<string, number>()
    for (const a of plan.areas) {
      const areaId = await insertRow(m, PracticeArea, {
        name: a.name,
        ruleSetKey: a.ruleSet,
        ...(a.staff
          ? {
              staffFile: a.staff.file,
              staffDocket: a.staff.docket,
              staffPapers: a.staff.papers,
              staffMoney: a.staff.money,
              staffTrust: a.staff.trust,
            }
          : {}),
      })
      areas.set(a.name, areaId)
      for (const [i, name] of a.stages.entries()) await m.insert(Stage, { areaId, name, ordinal: i + 1 })
    }
    for (const a of plan.activities) await m.insert(Activity, { ...a, rate: null })
    for (const [kind, courtDays] of Object.entries(plan.clearing)) await m.insert(ClearingDays, { kind, courtDays })
    const procedures = new Map<string, number>()
    for (const p of plan.procedures) {
      const made = await saveProcedure(
        { ...ctx, tx: m },
        {
          name: p.name,
          description: p.description,
          areaId: p.area ? areas.get(p.area)! : null,
          steps: p.steps.map((s, i) => ({
            key: `s${i + 1}`,
            text: s.text,
            assignTo: s.to === 'starter' || s.to === 'given' ? { kind: s.to } : { kind: 'role', role: s.to },
            priority: s.priority ?? 'normal',
            estimateMinutes: null,
            remindDays: s.remindDays ?? null,
            waitsFor: (s.waits ?? []).map((w) => `s${w}`),
            due: dueOf(s),
          })),
        },
      )
      procedures.set(p.name, made.id)
    }
    for (const a of plan.areas) {
      for (const name of a.procedures ?? [])
        await m.insert(AreaProcedure, { areaId: areas.get(a.name)!, procedureId: procedures.get(name)! })
      for (const t of a.team ?? []) await addToAreaTeam(m, areas, a.name, t.role, t.email)
    }
    for (const f of plan.fees ?? [])
      await m.insert(ListedFee, { name: f.name, areaId: f.area ? areas.get(f.area)! : null, portions: JSON.stringify(f.portions) })
    await audit(m, { clock: ctx.clock, actor: null }, { kind: 'set up', text: `${plan.firm.name} set up`, subject: 'firm', subjectId: 1 })
  })
}
