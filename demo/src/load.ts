import { dirname, join } from 'node:path'
import { addDays, addYears, monthStart, type Day } from '@heron/core/calendar'
import { calendarFor, shippedHolidaySets, shippedRuleSets } from '@heron/core/docket'
import { setUpFirm } from '@heron/server/firm'
import { addTemplate, saveSet } from '@heron/server/papers'
import { dataSource, FileStore, readConfig, row, rows, work, clock, stoppedClock, type Actor } from '@heron/server/platform'
import { depositFirmMoney, enterJournal, runStandingCheck } from '@heron/server/ledger'
import { layAround, makeFields, relatePeople } from './around'
import { firmPlan } from './firm'
import { demoTemplates } from './templates'
import { layLiveDocket } from './live'
import { Office } from './office'
import { moveStages } from './stages'
import { layStatements } from './statements'
import { layTrust } from './trust-story'
import { layOversight } from './oversight-story'
import { layVendors } from './vendor-story'
import { openDay, Stage } from './stage'
import { layWordings } from './wordings'

const courts = calendarFor(shippedRuleSets[0]!, shippedHolidaySets, 'wexmoor')
/** The day on which wages are paid: about the 28th, and always once in a month. */
const payday = (day: Day): Day => {
  const due = openDay(addDays(monthStart(day), 27))
  return monthStart(due) === monthStart(day) ? due : openDay(addDays(monthStart(day), 24))
}

async function monthlyExpenses(stage: Stage, accounts: Map<string, number>) {
  for (const [code, dollars, memo] of [
    ['5010', 46200, 'Salaries of the month'],
    ['5020', 6400, 'Rent, Customs Landing'],
    ['5030', 1850, 'Professional liability insurance'],
    ['5040', 980, 'Research and subscriptions'],
  ] as const)
    await enterJournal(stage.as('Orla Petrakis'), {
      day: stage.day,
      memo,
      lines: [
        { accountId: accounts.get(code)!, amount: dollars * 100 },
        { accountId: accounts.get('1010')!, amount: -dollars * 100 },
      ],
    })
}

/** Plays part of a day in one transaction. */
async function inOne(stage: Stage, part: () => Promise<void>) {
  await stage.base.db.transaction('READ COMMITTED', async (m) => {
    stage.tx = m
    await part()
  })
  stage.tx = undefined
}

/** Loads Calloway Fenn LLP with two years of work up to today, every act through the application's own services. */
export async function loadDemo(env: Record<string, string>): Promise<void> {
  const config = readConfig(env)
  const db = await dataSource({ ...config.db, pool: 4 }).initialize()
  try {
    const stage = new Stage({ db, files: new FileStore(config.files) }, config.today)
    const { today } = stage
    const begin = addYears(today, -2)
    stage.day = begin
    const nobody: Actor = { id: 0, name: '', role: 'administrator', mayOverride: false }
    await setUpFirm({ ...stage.base, actor: nobody, clock: stoppedClock(begin) }, firmPlan(begin))
    await stage.learnStaff()
    const accounts = new Map(
      (await rows<{ id: number; code: string }>(db.manager, `SELECT id, code FROM account`)).map((a) => [a.code, a.id]),
    )
    const ferdi = stage.as('Ferdi Kranz')
    const made = new Map<string, number>()
    for (const { docx, ...t } of demoTemplates) {
      const file = await docx()
      made.set(t.name, await work(ferdi, (m) => addTemplate(m, ferdi, t, file)))
    }
    await saveSet(ferdi, {
      id: null,
      name: 'Opening a case',
      description: 'What a new litigation matter begins with',
      templateIds: [made.get('Engagement letter')!, made.get('Answer with defenses')!],
    })
    await db.query(`UPDATE firm SET filing_address = 'file@callowayfenn.example', tax_number = '00-0417233'`)
    await enterJournal(stage.as('Orla Petrakis'), {
      day: begin,
      memo: 'Partners’ capital brought in',
      lines: [
        { accountId: accounts.get('1010')!, amount: 180_000_00 },
        { accountId: accounts.get('3010')!, amount: -180_000_00 },
      ],
    })
    const pooled = (await row<{ id: number }>(db.manager, `SELECT id FROM bank_account WHERE kind = 'pooled'`))!.id
    await depositFirmMoney(stage.as('Orla Petrakis'), pooled, begin, 100_00)

    await makeFields(stage)
    await layWordings(stage)
    const office = new Office(stage, pooled)
    const { areas } = firmPlan(begin)
    await office.meetPeople()
    await relatePeople(stage, office)
    for (let day = begin; day <= today; day = addDays(day, 1)) {
      stage.day = day
      const open = !courts.closedWhy(day, 'after')
      await inOne(stage, async () => {
        await office.openMatters()
        await moveStages(stage, office, areas)
      })
      if (open && day < today) await office.workDay()
      await inOne(stage, async () => {
        if (open && openDay(addDays(day, 1)) > addDays(day, 2)) await office.postWeek()
        if (day === payday(day)) await monthlyExpenses(stage, accounts)
        if (open && day < today) await office.money()
        if (day === openDay(addDays(monthStart(day), 2))) await office.billMonth()
      })
    }
    stage.day = today
    await layLiveDocket(stage, office)
    await layAround(stage, office)
    const { staleCheck } = await layTrust(stage, pooled)
    await layVendors(stage)
    await layOversight(stage)
    await layStatements(stage, pooled, staleCheck, join(dirname(config.files), 'statements'))
    await runStandingCheck({ db, clock: clock(config.today) }, { whole: true })
  } finally {
    await db.destroy()
  }
}
