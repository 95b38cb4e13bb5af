import { yearStart } from '@heron/core/calendar'
import type { FirstSteps } from '@heron/contract'
import { shippedRuleSets } from '@heron/core/docket'
import { faultOfNumberPattern } from '@heron/core/matters'
import type { Ctx } from '../platform/context'
import { fieldFault } from '../platform/problem'
import { startingAccounts } from './chart'
import { setUpFirm } from './set-up'

/** Codes for activities that a firm starts with; the Uniform Task-Based set's activity part. */
const activities = [
  { code: 'A101', name: 'Plan and prepare' },
  { code: 'A102', name: 'Research' },
  { code: 'A103', name: 'Draft and revise' },
  { code: 'A104', name: 'Review and analyze' },
  { code: 'A105', name: 'Confer within the firm' },
  { code: 'A106', name: 'Confer with client' },
  { code: 'A107', name: 'Confer with other counsel' },
  { code: 'A109', name: 'Appear and attend' },
]

/** Sets a new firm up by the guided first steps; refused where there is one already. */
export async function firstSetUp(ctx: Ctx, input: FirstSteps): Promise<void> {
  const fault = faultOfNumberPattern(input.matterPattern)
  if (fault) throw fieldFault('matterPattern', fault)
  const emails = [input.administrator.email, ...input.people.map((p) => p.email)].map((e) => e.toLowerCase())
  emails.forEach((e, i) => {
    if (emails.indexOf(e) !== i) throw fieldFault(`people.${i - 1}.email`, 'Two people cannot have the same address')
  })
  input.areas.forEach((a, i) => {
    if (a.ruleSetKey && !shippedRuleSets.some((s) => s.key === a.ruleSetKey)) throw fieldFault(`areas.${i}.ruleSetKey`, 'Choose a rule set')
    if (input.areas.findIndex((b) => b.name.toLowerCase() === a.name.toLowerCase()) !== i)
      throw fieldFault(`areas.${i}.name`, 'This area stands in the list already')
  })
  const today = ctx.clock.today()
  const person = { title: '', goalHours: 0 }
  await setUpFirm(ctx, {
    firm: { ...input.firm, demo: false, district: null, trustNoticeDays: 0, taxBasisPoints: 0 },
    password: input.administrator.password,
    matterPattern: input.matterPattern,
    workDays: input.workDays,
    staff: [
      { ...person, ...input.administrator, email: input.administrator.email.toLowerCase(), role: 'administrator', rates: [] },
      ...input.people.map(({ rate, ...p }) => ({
        ...person,
        ...p,
        email: p.email.toLowerCase(),
        rates: rate === null ? [] : [{ from: yearStart(today), to: null, rate }],
      })),
    ],
    accounts: startingAccounts,
    banks: [
      { ...input.operatingBank, kind: 'operating', gl: '1010', nextCheck: 1001 },
      { ...input.trustBank, kind: 'pooled', gl: '1020', liability: '2010', nextCheck: 1001 },
    ],
    areas: input.areas.map((a) => ({ name: a.name, ruleSet: a.ruleSetKey, stages: a.stages })),
    activities,
    clearing: { check: 5, "cashier's check": 1, cash: 0, wire: 0, card: 2, 'bank debit': 5 },
    procedures: [],
  })
  ctx.clock.standIn?.(input.firm.zone)
}
