import { addDays } from '@heron/core/calendar'
import { changeBillLook } from '@heron/server/billing'
import { row, type Ctx } from '@heron/server/platform'
import { changeMatterTerms, setPhrases, setTimeFields } from '@heron/server/time'
import { timeFields } from '@heron/contract'
import type { Stage } from './stage'

/** The wage clinic is paid for by a grant of each year. */
const grantOf = (year: number) => `Wage clinic grant ${year}`

/** What entries of time have in this firm, who pays for the clinic, and the firm's wordings. */
export async function layWordings(stage: Stage): Promise<void> {
  const ferdi = stage.as('Ferdi Kranz')
  const first = Number(stage.day.slice(0, 4))
  const years = Array.from({ length: Number(stage.today.slice(0, 4)) - first + 1 }, (_, i) => first + i)
  await setTimeFields(ferdi, {
    fields: timeFields,
    funding: years.map((y) => ({ name: grantOf(y), from: `${y}-01-01`, to: addDays(`${y + 1}-01-01`, -1), retired: false })),
  })
  await changeBillLook(ferdi, { group: 'none', summary: true, trust: true, slip: true })
  await setPhrases(ferdi, {
    firm: true,
    phrases: [
      { code: 'call', text: 'Call with [whom] about [what]' },
      { code: 'conf', text: 'Conference with [whom] on [what]; notes to the file' },
      { code: 'draft', text: 'Draft [what] and send for comments' },
      { code: 'exh', text: 'Gather and number exhibits for [what]' },
      { code: 'hear', text: 'Attend hearing on [what]; report to client' },
      { code: 'read', text: 'Review [what], [how many] pages' },
      { code: 'res', text: 'Research: [question]; memorandum' },
      { code: 'site', text: 'Inspect [place]; photographs and measurements' },
    ],
  })
}

/** A matter of the clinic is paid for by the grant of the year in which it begins. */
export async function fundByGrant(stage: Stage, ctx: Ctx, matterId: number): Promise<void> {
  const name = grantOf(Number(stage.day.slice(0, 4)))
  const source = await row<{ id: number }>(stage.tx!, `SELECT id FROM funding_source WHERE name = ?`, [name])
  await changeMatterTerms(ctx, matterId, { unit: null, rounding: null, roles: [], fundingId: source!.id })
}
