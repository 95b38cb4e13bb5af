import { addDays, addCourtDays, type Day } from '@heron/core/calendar'
import { calendarFor, shippedHolidaySets, shippedRuleSets, workOutDates } from '@heron/core/docket'
import { addEntry, docketDates, markEntry } from '@heron/server/docket'
import { makeSheet } from '@heron/server/ledger'
import { filePaper, readDropped } from '@heron/server/papers'
import { savedMail } from './saved-mail'
import { row, rows, type Ctx } from '@heron/server/platform'
import { makeTask, previewProcedure, startProcedure } from '@heron/server/tasks'
import { recordTime } from '@heron/server/time'
import type { Stage } from './stage'
import type { Office } from './office'

const courts = calendarFor(shippedRuleSets[0]!, shippedHolidaySets, 'wexmoor')
const noor = 'Noor Haddad-Lind'

/** Nothing is filed, decided or served on a day on which offices are closed: what is past was the day before, what comes the day after. */
function workDay(day: Day, today: Day): Day {
  let at = day
  while (courts.closedWhy(at, 'after')) at = addDays(at, at < today ? -1 : 1)
  return at
}

async function docketAll(
  stage: Stage,
  matterId: number,
  who: string,
  ruleSet: string,
  t: { trigger: string; date: Day; service?: string; label?: string; tentative?: boolean; leave?: string[] },
) {
  const set = shippedRuleSets.find((s) => s.key === ruleSet)!
  const date = workDay(t.date, stage.today)
  const proposals = workOutDates({
    ruleSet: set,
    holidaySets: shippedHolidaySets,
    trigger: t.trigger,
    date,
    service: t.service ?? null,
    events: {},
    facts: [],
    district: 'wexmoor',
  })
  const take = proposals.filter((p) => p.applies && !t.leave?.includes(p.key)).map((p) => p.key)
  await docketDates(stage.as(who), matterId, {
    trigger: t.trigger,
    date,
    service: t.service ?? null,
    tentative: t.tentative ?? false,
    facts: [],
    label: t.label ?? '',
    answersId: null,
    take,
    seen: null,
    moves: null,
  })
}

/** What most tasks have nothing of. */
export const plainTask = {
  details: '',
  dueTime: null,
  remindOn: null,
  estimateMinutes: null,
  onlyNamed: false,
  named: [],
  items: [],
  paperIds: [],
}

/** Starts a procedure with the dates and people as planned. */
export async function begin(ctx: Ctx, matterId: number, procedureId: number, start: Day) {
  const asked = { procedureId, start, givenTo: null, anchors: {} }
  const plan = await previewProcedure(ctx, matterId, asked)
  await startProcedure(ctx, matterId, {
    ...asked,
    version: plan.version,
    steps: plan.steps.map((s) => ({ key: s.key, dueOn: s.dueOn, assigneeId: s.assigneeId, byHand: false })),
  })
}

/** What happened in older court matters: cases begun, motions decided, trials held, with all that was due then met. */
async function layPastEvents(stage: Stage, matters: Office['matters']) {
  const back = (days: number) => addDays(stage.today, -days)
  let n = 0
  for (const matter of matters) {
    const found = (await row<{ key: string | null; closed: string | null }>(
      stage.base.db.manager,
      `SELECT rule_set_key AS \`key\`, closed_on AS closed FROM matter WHERE id = ?`,
      [matter.id],
    ))!
    if (!found.key?.match(/civil|superior/) || found.closed) continue
    n += 1
    const begun = 430 + ((n * 83) % 260)
    const events = [
      { trigger: 'complaint-filed', date: back(begun) },
      { trigger: 'motion-filed', date: back(begun - 70), label: 'motion to compel' },
      { trigger: 'motion-decided', date: back(begun - 92 - ((n * 17) % 60)), label: 'ruling on the motion to compel' },
      ...(n % 3 === 0 ? [{ trigger: 'trial-set', date: back(20 + ((n * 29) % 90)), label: 'trial of liability' }] : []),
    ]
    for (const event of events) await docketAll(stage, matter.id, matter.plan.lead, found.key, event)
    const due = await rows<{ id: number }>(
      stage.base.db.manager,
      `SELECT d.id FROM docket_entry d JOIN trigger_event t ON t.id = d.trigger_id WHERE d.matter_id = ? AND d.day < ? AND t.kind IN (?) AND d.mark = 'open' AND NOT d.left_out`,
      [matter.id, stage.today, events.map((e) => e.trigger)],
    )
    for (const { id } of due) await markEntry(stage.as(matter.plan.lead), id, 'met')
  }
}

/** Dates, tasks and drafts around the day of loading, so that the docket is always live. */
export async function layLiveDocket(stage: Stage, office: Office) {
  const { today } = stage
  const gannet = office.find('Gannet Ferry v. Corvane')
  const brinewell = office.find('Brinewell Oyster v. Pellan')
  const tidecrest = office.find('Tidecrest adv. Munro')
  const ostergaard = office.find('Ostergaard v. Pilots')
  const varga = office.find('Estate of A. Varga')
  const tideRye = office.find('TIDE RYE opposition')
  const featured = [gannet, brinewell, tidecrest, ostergaard, varga]
  const federal = 'us-federal-civil'
  const back = (days: number) => addDays(today, -days)

  await docketAll(stage, gannet.id, noor, federal, {
    trigger: 'interrogatories-served',
    date: back(24),
    service: 'mail',
    label: 'first set to Gannet',
  })
  await docketAll(stage, gannet.id, noor, federal, {
    trigger: 'production-request-served',
    date: back(10),
    service: 'electronic',
    label: 'to Corvane',
  })
  await docketAll(stage, gannet.id, noor, federal, {
    trigger: 'trial-set',
    date: addCourtDays(courts, addDays(today, 126), 1),
    tentative: true,
  })
  await docketAll(stage, brinewell.id, noor, federal, {
    trigger: 'responsive-pleading-served',
    date: back(19),
    service: 'electronic',
    label: 'Pellan’s counterclaim',
    leave: ['amend-once'],
  })
  await docketAll(stage, ostergaard.id, noor, federal, { trigger: 'judgment-entered', date: back(25) })
  await docketAll(stage, tidecrest.id, noor, 'wexmoor-superior', {
    trigger: 'hearing-set',
    date: addCourtDays(courts, today, 22),
    service: 'electronic',
    label: 'motion for summary disposition',
  })
  await docketAll(stage, varga.id, 'Desmond Fenn', 'wexmoor-probate', { trigger: 'letters-issued', date: back(75) })
  await docketAll(stage, varga.id, 'Desmond Fenn', 'wexmoor-probate', { trigger: 'notice-published', date: back(60) })

  const at = (n: number) => addCourtDays(courts, today, n)
  const entry = (
    who: string,
    matterId: number,
    e: {
      title: string
      weight: 'appointment' | 'court order' | 'firm practice'
      day: Day
      time?: string
      lengthMinutes?: number
      place?: string
      text?: string
      meetingLink?: string
      tags?: string[]
      attendeeIds?: number[]
      repeats?: string
      notice?: { title: string; count: number; unit: 'day' | 'month' }
    },
  ) =>
    addEntry(stage.as(who), matterId, {
      text: '',
      authority: e.weight === 'court order' ? 'Court order' : '',
      time: null,
      lengthMinutes: null,
      place: '',
      meetingLink: '',
      responsibleId: null,
      urgent: false,
      offCalendar: false,
      tags: [],
      attendeeIds: [],
      paperIds: [],
      sum: '',
      repeats: null,
      notice: null,
      ...e,
    })
  await entry(noor, gannet.id, {
    title: 'Meet client before deposition',
    weight: 'appointment',
    day: today,
    time: '14:00',
    lengthMinutes: 60,
    place: 'Room 2',
  })
  await entry(noor, gannet.id, { title: 'Retain naval architect as expert', weight: 'firm practice', day: today })
  await entry(noor, tidecrest.id, {
    title: 'Scheduling conference',
    weight: 'court order',
    day: at(4),
    time: '09:30',
    place: 'Courtroom 4B',
  })
  await entry(noor, tidecrest.id, { title: 'Draft pretrial disclosures', weight: 'firm practice', day: at(7) })
  await entry('Tomas Okafor-Reyes', tideRye.id, { title: 'Notice of opposition due at the office', weight: 'court order', day: at(9) })
  await entry(noor, gannet.id, {
    title: 'Case team, weekly',
    weight: 'appointment',
    day: at(1),
    time: '09:00',
    lengthMinutes: 45,
    place: 'Room 1',
    attendeeIds: ['Tomas Okafor-Reyes', 'Billie Strand'].map((name) => stage.id(name)),
    repeats: 'FREQ=WEEKLY;COUNT=20',
  })
  await entry('Tomas Okafor-Reyes', tideRye.id, {
    title: 'Renew the registration of HOLLIN SALT',
    text: 'File the declaration of use and the application for renewal with the mark office.',
    weight: 'firm practice',
    day: addDays(today, 250),
    repeats: 'FREQ=YEARLY;INTERVAL=10',
    notice: { title: 'Ask Hollin & Rye whether to renew HOLLIN SALT', count: 6, unit: 'month' },
  })
  await entry(noor, brinewell.id, {
    title: 'Call with the shellfish surveyor',
    weight: 'appointment',
    day: today,
    time: '10:30',
    lengthMinutes: 30,
    meetingLink: 'https://meet.callowayfenn.example/brinewell-survey',
    attendeeIds: [stage.id('Tomas Okafor-Reyes')],
  })
  await entry(noor, brinewell.id, {
    title: 'Walk the leased beds at low water',
    weight: 'appointment',
    day: at(1),
    time: '13:30',
    lengthMinutes: 120,
    place: 'Brinewell landing, north ramp',
    attendeeIds: [stage.id('Billie Strand')],
    tags: ['site visit'],
  })
  await entry(noor, ostergaard.id, {
    title: 'Decide with the client whether to appeal',
    weight: 'firm practice',
    day: at(1),
    text: 'Before the notice of appeal is due; advise in writing on cost and prospects.',
    tags: ['client decision'],
  })
  await entry('Desmond Fenn', varga.id, {
    title: 'Meet heirs',
    weight: 'appointment',
    day: at(2),
    time: '10:00',
    lengthMinutes: 90,
    place: 'Room 1',
  })

  // Older dates of the other court matters, so that the firm's docket has depth.
  let n = 0
  for (const matter of office.matters) {
    const key = (await row<{ key: string | null; closed: string | null }>(
      stage.base.db.manager,
      `SELECT rule_set_key AS \`key\`, closed_on AS closed FROM matter WHERE id = ?`,
      [matter.id],
    ))!
    if (!key.key || key.closed || featured.includes(matter)) continue
    n += 1
    if (key.key === federal)
      await docketAll(stage, matter.id, matter.plan.lead, federal, {
        trigger: n % 2 ? 'admission-request-served' : 'planning-conference-held',
        date: back(8 + (n % 5) * 3),
        ...(n % 2 ? { service: 'mail' } : {}),
      })
    if (key.key === 'wexmoor-superior')
      await docketAll(stage, matter.id, matter.plan.lead, key.key, {
        trigger: 'discovery-served',
        date: back(5 + (n % 6) * 4),
        service: 'electronic',
      })
  }

  await layPastEvents(
    stage,
    office.matters.filter((x) => !featured.includes(x)),
  )

  const procedure = await rows<{ id: number; name: string }>(stage.base.db.manager, `SELECT id, name FROM procedure_def`)
  for (const [short, name, start] of [
    ['TIDE RYE opposition', 'Opposition to a mark', at(-3)],
    ['Tidecrest adv. Munro', 'Opening a court matter', at(-2)],
  ] as const) {
    const matter = office.find(short)
    const id = procedure.find((p) => p.name === name)!.id
    const ctx = stage.as(matter.plan.lead)
    await begin(ctx, matter.id, id, start)
  }
  const task = (text: string, matterId: number, who: string, dueOn: Day, priority: 'high' | 'normal' = 'normal') =>
    makeTask(stage.as(noor), { ...plainTask, text, matterId, assigneeId: stage.id(who), dueOn, priority })
  await task('Call harbor master about tide logs', gannet.id, noor, today, 'high')
  await task('Review draft answers to interrogatories', gannet.id, noor, at(1))
  await task('Book interpreter, Portuguese', gannet.id, noor, at(2))
  await task('Index bridge audio', gannet.id, 'Billie Strand', at(1))
  await task('Order certified judgment', ostergaard.id, 'Billie Strand', today, 'high')
  await task('Chase heirs’ addresses', varga.id, 'Billie Strand', at(3))

  for (const [matter, text, duration] of [
    [gannet, 'Review of bridge audio', '1.8'],
    [brinewell, 'Draft answer to counterclaim', '1.2'],
    [tidecrest, 'Call with client', '0.9'],
    [brinewell, 'Legal research, estoppel', '38m'],
  ] as const)
    await recordTime(stage.as(noor), {
      matterId: matter.id,
      day: today,
      activity: null,
      text,
      duration,
      rate: null,
      charge: 'billable',
      userId: null,
    })

  const hollin = office.contacts.get('Hollin & Rye Brewing')!
  const pooled = (await row<{ id: number }>(stage.base.db.manager, `SELECT id FROM bank_account WHERE kind = 'pooled'`))!.id
  await makeSheet(stage.as('Orla Petrakis'), {
    bankAccountId: pooled,
    day: today,
    controlTotal: 2500_00,
    receipts: [
      {
        clientId: hollin,
        matterId: tideRye.id,
        depositor: 'Hollin & Rye Brewing',
        kind: 'check',
        reference: '3107',
        text: 'Deposit for the opposition',
        amount: 2500_00,
      },
    ],
  })
  const note = (text: string) => new TextEncoder().encode(text)
  for (const [matter, name, text] of [
    [gannet, 'Notes of crew interview.txt', 'Mate on watch saw the tow at two cables, no sound signal.'],
    [brinewell, 'Tide table extract.txt', 'Mean low water at Lower Brine, 1998 to 2020.'],
    [varga, 'List of heirs.txt', 'Three children, one grandchild.'],
  ] as const)
    await filePaper(stage.as('Billie Strand'), { matterId: matter.id, folder: 'Notes', name, data: note(text) })
  const billie = stage.as('Billie Strand')
  await readDropped(
    billie,
    savedMail({
      id: 'survey-7',
      from: 'Harbor Survey Office <desk@harborsurvey.example>',
      to: 'Billie Strand <billie@callowayfenn.example>',
      subject: 'Survey of the ferry, Gannet v. Corvane',
      date: `${mailDay(today)} 09:12:00 -0500`,
      text: 'Dear Ms. Strand,\n\nour report of the hull survey is attached, with the order of the harbor master that came with it.\n\nHarbor Survey Office',
      attachments: [
        { name: 'scan0001.txt', text: 'Report of hull survey, starboard side\n\nThe plating is set in between frames 12 and 15.' },
        { name: 'scan0002.txt', text: 'Order of the harbor master on moving the ferry\n\nThe ferry stays at berth 4 until inspected.' },
      ],
    }),
  )
}

const mailDay = (day: Day) => new Date(`${day}T12:00:00Z`).toUTCString().slice(0, 16)
