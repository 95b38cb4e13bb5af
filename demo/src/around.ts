import { addDays } from '@heron/core/calendar'
import { changeClientBillTerms, changeMatterBillTerms, dispute, matterBillTerms } from '@heron/server/billing'
import { makeField, makeGroup } from '@heron/server/fields'
import { handOver } from '@heron/server/firm'
import { arrangementEffect, changeArrangement, changeMatter, closeMatter, screenPerson, setTeam } from '@heron/server/matters'
import { makeNote, makeTopic } from '@heron/server/notes'
import { checkEnquiry, declineEnquiry, makeContact, makeEnquiry, relate } from '@heron/server/people'
import { Problem, row, rows } from '@heron/server/platform'
import { makeTask } from '@heron/server/tasks'
import { begin, plainTask } from './live'
import type { Office } from './office'
import type { Stage } from './stage'

const noor = 'Noor Haddad-Lind'
const ingrid = 'Ingrid Calloway'
const ferdi = 'Ferdi Kranz'

/** Matters that are not paid for by the hour alone: the clinic by its grant, a wage claim by a part of what it brings, one in two ways. */
async function layArrangements(stage: Stage) {
  const m = stage.base.db.manager
  const of = (area: string, most: number) =>
    rows<{ id: number }>(
      m,
      `SELECT m.id FROM matter m JOIN practice_area a ON a.id = m.area_id AND a.name = ? WHERE m.closed_on IS NULL AND m.billing = 'hourly'
         AND NOT EXISTS (SELECT 1 FROM pre_bill p WHERE p.matter_id = m.id AND p.state <> 'issued') ORDER BY m.id LIMIT ${most}`,
      [area],
    )
  const from = addDays(stage.today, -20)
  const base = { from, flatFee: [], contingent: null, retainer: null }
  const change = async (id: number, input: Omit<Parameters<typeof changeArrangement>[1], 'id' | 'seen'>) => {
    const seen = await arrangementEffect(stage.as(noor), { id, billing: input.billing, from: input.from })
    await changeArrangement(stage.as(noor), { id, ...input, seen })
  }
  for (const { id } of await of('Benefits clinic', 40)) await change(id, { ...base, billing: 'grant' })
  const stages = [
    { label: 'Before suit is filed', share: '1/3' },
    { label: 'After suit is filed', share: '40 %' },
  ]
  for (const { id } of await of('Wages', 2)) await change(id, { ...base, billing: 'contingency', contingent: { feeOf: 'gross', stages } })
  const portion = (label: string, amount: number) => ({ label, amount, due: 'reached' as const, stageId: null })
  for (const { id } of await of('Aquaculture', 1))
    await change(id, {
      ...base,
      billing: 'mixed',
      flatFee: [portion('Permit filed', 180_000), portion('Permit granted', 120_000)],
      retainer: { floor: 200_000, fillTo: 500_000 },
    })
}

/** Engagements with interest on overdue bills, and a payer who disputes one. */
async function layTerms(stage: Stage) {
  const m = stage.base.db.manager
  const orla = stage.as('Orla Petrakis')
  const late = await rows<{ id: number; clientId: number }>(
    m,
    `SELECT b.id, m.client_id AS clientId FROM bill b JOIN matter m ON m.id = b.matter_id
      WHERE b.due_on < ? AND b.total > COALESCE((SELECT SUM(a.amount) FROM allocation a WHERE a.bill_id = b.id), 0) ORDER BY b.due_on, b.id`,
    [stage.today],
  )
  for (const clientId of new Set(late.slice(-3).map((b) => b.clientId)))
    await changeClientBillTerms(orla, clientId, { interestBasisPoints: 1200, graceDays: 5 })
  const capped = await row<{ id: number; clientId: number }>(
    stage.base.db.manager,
    `SELECT id, client_id AS clientId FROM matter WHERE short_name = 'Gannet Ferry v. Corvane'`,
  )
  if (capped) {
    // So much that work of these days brings it near its cap.
    await changeClientBillTerms(orla, capped.clientId, { theirNumber: 'GFC-114' })
    const ledes = { capped: true, warnAt: '75, 90, 100', format: 'ledes' as const, theirNumber: 'GF-2031-07' }
    await changeMatterBillTerms(orla, capped.id, { ...ledes, budget: 1_000_000_00 })
    const { stands } = await matterBillTerms(orla, capped.id)
    await changeMatterBillTerms(orla, capped.id, { ...ledes, budget: Math.ceil(stands!.used / 0.92 / 1000_00) * 1000_00 })
  }
  if (late[1]) await dispute(orla, late[1].id, { disputed: true, reason: 'says that the survey was not asked for' })
}

/** Fields of the firm's own, before anything is opened. */
export async function makeFields(stage: Stage) {
  const ctx = stage.as(ferdi)
  const areas = new Map(
    (await rows<{ id: number; name: string }>(stage.base.db.manager, `SELECT id, name FROM practice_area`)).map((a) => [a.name, a.id]),
  )
  const plain = { choices: [], otherAllowed: false, required: false, areaIds: [], shownIf: null, retired: false }
  const maritime = [areas.get('Maritime')!, areas.get('Aquaculture')!]
  const vessels = await makeGroup(ctx, { owner: 'matter', name: 'Vessels', repeating: true })
  await makeField(ctx, { ...plain, groupId: vessels.id, name: 'Vessel', type: 'text', areaIds: maritime })
  await makeField(ctx, { ...plain, groupId: vessels.id, name: 'Hull number', type: 'text', areaIds: maritime })
  await makeField(ctx, {
    ...plain,
    groupId: vessels.id,
    name: 'Kind of vessel',
    type: 'choice',
    choices: ['ferry', 'tug', 'barge', 'fishing boat', 'yacht'],
    otherAllowed: true,
    areaIds: maritime,
  })
  const claim = await makeGroup(ctx, { owner: 'matter', name: 'Claim', repeating: false })
  await makeField(ctx, { ...plain, groupId: claim.id, name: 'Amount claimed', type: 'money' })
  const insured = await makeField(ctx, { ...plain, groupId: claim.id, name: 'Insured loss', type: 'yes/no' })
  await makeField(ctx, {
    ...plain,
    groupId: claim.id,
    name: 'Insurer of the loss',
    type: 'contact',
    shownIf: { fieldId: insured.id, value: 'yes' },
  })
  const estate = await makeGroup(ctx, { owner: 'matter', name: 'Estate', repeating: false })
  await makeField(ctx, {
    ...plain,
    groupId: estate.id,
    name: 'Date of death',
    type: 'date',
    required: true,
    areaIds: [areas.get('Estates')!],
  })
  const heirs = await makeGroup(ctx, { owner: 'matter', name: 'Beneficiaries', repeating: true })
  await makeField(ctx, { ...plain, groupId: heirs.id, name: 'Beneficiary', type: 'contact', areaIds: [areas.get('Estates')!] })
  await makeField(ctx, { ...plain, groupId: heirs.id, name: 'Share', type: 'text', areaIds: [areas.get('Estates')!] })
  const about = await makeGroup(ctx, { owner: 'contact', name: 'For the firm', repeating: false })
  await makeField(ctx, { ...plain, groupId: about.id, name: 'Prefers', type: 'choice', choices: ['e-mail', 'phone', 'letters'] })
  await makeField(ctx, {
    ...plain,
    groupId: about.id,
    name: 'Interests',
    type: 'choices',
    choices: ['fisheries', 'boatbuilding', 'brewing', 'land'],
    otherAllowed: true,
  })
}

const blank = {
  greeting: '',
  email: '',
  phone: '',
  address: '',
  notes: '',
  birthDate: null,
  language: '',
  pronouns: '',
  taxNumber: '',
  isPrivate: false,
  aliases: [],
}

/** People in organizations, relations, former names: what conflict checks follow. */
export async function relatePeople(stage: Stage, office: Office) {
  const ctx = stage.as(ingrid)
  const id = (name: string) => office.contacts.get(name)!
  const add = async (
    name: string,
    kind: 'person' | 'organization',
    kinds: string[],
    more: Partial<Omit<typeof blank, 'aliases'>> & {
      aliases?: { kind: 'former name' | 'trading name' | 'nickname' | 'also known as'; name: string }[]
    } = {},
  ) => {
    const made = await makeContact(ctx, { ...blank, kind, name, kinds, ...more })
    office.contacts.set(name, made.id)
    return made.id
  }
  await add('Karin Odegaard', 'person', ['client'], { email: 'karin.odegaard@gannet.example', phone: '(555) 014-2391' })
  await add('Corvane Barge Lines, Inc.', 'organization', ['opposing party'], {
    aliases: [{ kind: 'former name', name: 'Narrows Barge Company' }],
  })
  await add('Lars Tyden', 'person', ['opposing party'], { phone: '(555) 014-2417', aliases: [{ kind: 'nickname', name: 'Lasse Tyden' }] })
  await add('Peregrine Lighterage', 'organization', ['vendor'], { aliases: [{ kind: 'trading name', name: 'Harrow Lighters' }] })
  await add('Margaret Ostergaard', 'person', ['witness'], {
    aliases: [{ kind: 'former name', name: 'Margaret Solheim' }],
    phone: '(555) 014-2305',
  })
  const say = (from: string, kind: string, to: string, title = '') =>
    relate(ctx, id(from), { otherId: id(to), kind, inverse: false, title })
  await say('Karin Odegaard', 'officer of', 'Gannet Ferry Cooperative', 'General manager')
  await say('Lars Tyden', 'officer of', 'Corvane Towing Co.', 'President')
  await say('Marec Tyden', 'child of', 'Lars Tyden')
  await say('Corvane Barge Lines, Inc.', 'affiliate of', 'Corvane Towing Co.')
  await say('Brackwater Insurance', 'insures', 'Corvane Towing Co.')
  await say("Growers' Insurance Pool", 'insures', 'Brinewell Oyster Co.')
  await say('Corvin Achterberg', 'works for', 'Lund & Co.', 'Partner')
  await say('Margaret Ostergaard', 'spouse of', 'Pilar Ostergaard')
}

/** The rest of a living office: enquiries, tags, screens, notes, talk, closed matters, a leave. */
export async function layAround(stage: Stage, office: Office) {
  const { today } = stage
  const m = stage.base.db.manager
  const find = (short: string) => office.find(short)
  const gannet = find('Gannet Ferry v. Corvane')
  const at = (n: number) => addDays(today, n)

  await closeFinished(stage, office)
  await layTerms(stage)
  await layArrangements(stage)
  const estates = (await rows<{ id: number; name: string }>(m, `SELECT id, name FROM practice_area`)).find((a) => a.name === 'Estates')!.id
  const enquiry = {
    contactId: null,
    kind: 'person' as const,
    email: '',
    phone: '',
    areaId: null,
    consultOn: null,
    consultAt: null,
    consultMinutes: null,
    consultFee: null,
    ownerId: stage.id(ingrid),
  }
  const tarn = await makeEnquiry(stage.as('Billie Strand'), {
    ...enquiry,
    name: 'Rosalind Tarn',
    phone: '(555) 014-2488',
    about: 'Her late uncle left a boathouse to her and to the yacht club; the club says otherwise.',
    adverse: ['Harrow Sound Yacht Club'],
    source: 'A client',
    areaId: estates,
    nextStep: 'Consultation',
    nextOn: at(1),
    consultOn: at(1),
    consultAt: '10:30',
    consultMinutes: 45,
    consultFee: 150_00,
  })
  await checkEnquiry(stage.as(ingrid), tarn.id)
  await makeEnquiry(stage.as('Billie Strand'), {
    ...enquiry,
    name: 'Dockside Coffee Roasters',
    kind: 'organization',
    about: 'Landlord will not repair the quay in front of the shop.',
    adverse: ['Pellan Shores Development'],
    source: 'Web page',
    nextStep: 'Check conflicts',
    nextOn: today,
  })
  const lost = await makeEnquiry(stage.as('Billie Strand'), {
    ...enquiry,
    name: 'Evert Quist',
    about: 'Wanted to sue the ferry over a missed connection.',
    adverse: ['Gannet Ferry Cooperative'],
    source: 'Walk-in',
    nextStep: 'Decline',
    nextOn: null,
  })
  await declineEnquiry(stage.as(ingrid), lost.id, 'A conflict')

  const fields = new Map((await rows<{ id: number; k: string }>(m, `SELECT id, merge_key AS k FROM field_def`)).map((f) => [f.k, f.id]))
  const g = (await row<Record<string, string | number | null>>(
    m,
    `SELECT name, short_name AS shortName, opened_on AS openedOn, area_id AS areaId, description, court, case_number AS caseNumber, judge_id AS judgeId, our_side AS ourSide, rule_set_key AS ruleSetKey, originating_id AS originatingId, client_id AS clientId FROM matter WHERE id = ?`,
    [gannet.id],
  ))!
  await changeMatter(stage.as(noor), {
    ...(g as unknown as Parameters<typeof changeMatter>[1]),
    id: gannet.id,
    secondNumber: 'GFC-1107',
    tags: ['collision', 'expert needed'],
    clientIds: [],
    fields: {
      [fields.get('vessel')!]: ['Gannet', 'Corvane 7'],
      [fields.get('hull_number')!]: ['WX-1180', 'WX-2207'],
      [fields.get('kind_of_vessel')!]: ['ferry', 'tug'],
      [fields.get('amount_claimed')!]: ['412,500.00'],
      [fields.get('insured_loss')!]: ['yes'],
      [fields.get('insurer_of_the_loss')!]: [String(office.contacts.get('Brackwater Insurance')!)],
    },
  })
  const trial = await row<{ id: number }>(m, `SELECT id FROM procedure_def WHERE name = 'Trial preparation'`)
  const ahead = await row<{ n: number }>(
    m,
    `SELECT COUNT(*) AS n FROM docket_entry WHERE matter_id = ? AND title LIKE '%trial%' AND day > ?`,
    [gannet.id, today],
  )
  if (ahead!.n) await begin(stage.as(noor), gannet.id, trial!.id, today)

  const desmond = stage.id('Desmond Fenn')
  const brinewell = find('Brinewell Oyster v. Pellan')
  await setTeam(stage.as(noor), brinewell.id, { userId: stage.id('Tomas Okafor-Reyes'), role: 'lawyer', rate: null, keeps: true })
  await screenPerson(stage.as(noor), brinewell.id, desmond, 'advised Pellan Shores before he joined')

  const mention = (name: string) => `<span data-type="mention" data-id="${stage.id(name)}" data-label="${name}">@${name}</span>`
  await makeNote(stage.as(noor), {
    matterId: gannet.id,
    contactId: null,
    topicId: null,
    paperId: null,
    html: '<p>Mate on watch is steady and plain. The <strong>sound signal</strong> is the case: nobody on the ferry heard one.</p><ul><li>Ask for the tug’s own log</li><li>Weather at Harrow Narrows, hour by hour</li></ul>',
  })
  const topic = await makeTopic(
    stage.as('Tomas Okafor-Reyes'),
    gannet.id,
    'Expert on radar plots',
    `<p>${mention(noor)} Voss can start after the holiday. He asks for the bridge audio first.</p>`,
  )
  await makeNote(stage.as('Billie Strand'), {
    matterId: null,
    contactId: null,
    topicId: topic.id,
    paperId: null,
    html: `<p>${mention('Tomas Okafor-Reyes')} audio is indexed up to the second hour.</p>`,
  })
  await makeNote(stage.as('Billie Strand'), {
    matterId: null,
    contactId: office.contacts.get('Pilar Ostergaard')!,
    topicId: null,
    paperId: null,
    html: '<p>Best reached before eight; hard of hearing on the phone.</p>',
  })

  await makeTask(stage.as(noor), {
    ...plainTask,
    text: 'Outline for the deposition of Lars Tyden',
    matterId: gannet.id,
    assigneeId: stage.id('Tomas Okafor-Reyes'),
    dueOn: at(-1),
    priority: 'high',
    items: ['Watch schedule', 'Radio log', 'Earlier collisions'].map((text, i) => ({ text, done: i === 0 })),
  })
  await makeTask(stage.as(noor), {
    ...plainTask,
    text: 'Renew the library card',
    matterId: null,
    assigneeId: stage.id(noor),
    dueOn: at(4),
    priority: 'low',
    remindOn: at(3),
  })

  // A leave to come, with nothing on hand to give away.
  await handOver(stage.as(ferdi), stage.id('Jun Aldana'), { kind: 'leave', from: at(14), to: at(21), gives: [] })
}

/** Closes what the plan says was finished, where nothing stands in the way. */
async function closeFinished(stage: Stage, office: Office) {
  for (const matter of office.matters.filter((x) => x.plan.closedAfter && office.closedOn(x.plan)! <= stage.today)) {
    const closedOn = office.closedOn(matter.plan)!
    try {
      await closeMatter(stage.as(matter.plan.lead), matter.id, {
        day: closedOn,
        note: 'Done',
        accepted: ['drafts', 'time', 'costs', 'bills', 'dates', 'tasks', 'conflicts'],
      })
    } catch (error) {
      // Money still in trust, or a pre-bill, keeps a matter open in life too.
      if (!(error instanceof Problem)) throw error
    }
  }
}
