import { counted } from '@heron/core/words'
import { readDay, type Day } from '@heron/core/calendar'
import { readFields, type Values } from '@heron/core/fields'
import { formatMatterNumber, numberSeries } from '@heron/core/matters'
import { presetOfRole } from '@heron/contract'
import type { EntityManager } from 'typeorm'
import { fieldGroups } from '../fields'
import { indexMatters, MatterParty, MatterStage, MatterTag, MatterTeam } from '../matters'
import { audit } from '../platform/audit'
import type { Ctx } from '../platform/context'
import { insertMany, nextNumber } from '../platform/database'
import type { Fault, Importer, Row } from './importer'
import { Matter } from '../platform/shared-entities'
import { insertMatter, type Lists, listsOf, patternOfFirm, split, staffAsArea } from './queries'

interface Ready {
  row: number
  number: string
  name: string
  shortName: string
  secondNumber: string
  clientId: number
  openedOn: Day
  closedOn: Day | null
  areaId: number | null
  stageId: number | null
  leadId: number
  originatingId: number | null
  court: string
  caseNumber: string
  description: string
  billToId: number | null
  tags: string[]
  parties: { contactId: number; role: string; side: 'adverse' | 'ours' }[]
  values: Values
}

const columns: [key: string, needed: boolean, known: string[]][] = [
  ['Number', false, ['matter number', 'file number', 'file no', 'no']],
  ['Matter', true, ['name', 'matter name', 'title', 'case']],
  ['Short name', false, []],
  ['Second number', false, ['client file number', 'old number']],
  ['Client', true, ['client name']],
  ['Opened', true, ['open date', 'opened on', 'date opened']],
  ['Closed', false, ['close date', 'closed on', 'date closed']],
  ['Practice area', false, ['area', 'type']],
  ['Stage', false, ['status', 'phase']],
  ['Lead lawyer', false, ['lead', 'responsible', 'responsible lawyer', 'attorney', 'lawyer']],
  ['Originating lawyer', false, ['originating', 'originator']],
  ['Court', false, []],
  ['Case number', false, ['docket number', 'court number']],
  ['Description', false, ['notes']],
  ['Whom to bill', false, ['bill to', 'payer']],
  ['Opposing parties', false, ['adverse', 'opposing', 'opponent', 'opposing party']],
  ['Tags', false, ['labels']],
]

export const matterImporter: Importer<Ready> = {
  async fields(m) {
    const own = await fieldGroups(m, 'matter')
    return [
      ...columns.map(([key, needed, known]) => ({ key, label: key, needed, known })),
      ...own.flatMap((g) =>
        g.fields.filter((f) => !f.retired).map((f) => ({ key: `f${f.id}`, label: f.name, needed: false, known: [f.mergeKey] })),
      ),
    ]
  },

  async judge(m, ctx, table, progress) {
    const lists = await listsOf(m, ctx, table)
    const groups = await fieldGroups(m, 'matter')
    const good: Ready[] = []
    const faults: Fault[] = []
    for (const [i, r] of table.entries()) {
      const before = faults.length
      const ready = readMatter(r, lists, ctx, (column, text) => faults.push({ row: r.number, column, text }))
      const values: Record<string, (string | string[])[]> = {}
      for (const g of groups)
        for (const f of g.fields) {
          const text = r.get(`f${f.id}`)
          if (text) values[f.id] = f.type === 'choices' ? [split(text)] : g.repeating ? split(text) : [text]
        }
      for (const f of readFields(groups, values, ready.areaId).faults) faults.push({ row: r.number, column: `f${f.fieldId}`, text: f.text })
      if (faults.length === before) good.push({ ...ready, values })
      if (i % 500 === 0) await progress((i / table.length) * 100)
    }
    return { good, faults }
  },

  async load(m, ctx, ready, progress) {
    const groups = await fieldGroups(m, 'matter')
    const made: number[] = []
    for (const [i, r] of ready.entries()) {
      made.push(await loadOne(m, ctx, r, groups))
      if (i % 200 === 0) await progress((i / ready.length) * 90)
    }
    for (let at = 0; at < made.length; at += 500) await indexMatters(m, made.slice(at, at + 500))
  },
}

function readMatter(r: Row, lists: Lists, ctx: Ctx, fault: (column: string, text: string) => void): Omit<Ready, 'values'> {
  const today = ctx.clock.today()
  const contact = (column: string, name: string): number | null => {
    const found = lists.contacts.get(name.toLowerCase()) ?? []
    if (!found.length) fault(column, `${name} is not among the contacts. Import the contacts first, or write the name as it is on record.`)
    if (found.length > 1)
      fault(column, `There are ${counted(found.length, 'contact')} called ${name}. Merge them, or give one another name.`)
    return found[0] ?? null
  }
  const date = (column: string): Day | null => {
    const text = r.get(column)
    const day = text ? readDay(text, today) : null
    if (text && !day) fault(column, `${text} is not a date. Write it like 2026-11-23.`)
    return day
  }
  const person = (column: string): number | null => {
    const text = r.get(column)
    const id = text ? (lists.people.get(text.toLowerCase()) ?? null) : null
    if (text && !id) fault(column, `Nobody here is called ${text}. Give a name, initials or an e-mail address.`)
    return id
  }
  if (!r.get('Matter')) fault('Matter', 'Name the matter')
  if (r.get('Matter').length > 200) fault('Matter', 'Keep it under 200 characters')
  if (!r.get('Client')) fault('Client', 'Name the client')
  const openedOn = date('Opened')
  if (!openedOn && !r.get('Opened')) fault('Opened', 'Give the day it was opened')
  const closedOn = date('Closed')
  if (openedOn && closedOn && closedOn < openedOn) fault('Closed', 'It would close before it was opened')
  const number = r.get('Number')
  if (number.length > 20) fault('Number', 'Numbers may have up to 20 characters')
  if (number && lists.numbers.has(number.toLowerCase())) fault('Number', `${number} is in use, or stands in this file already`)
  if (number) lists.numbers.add(number.toLowerCase())
  const area = r.get('Practice area')
  const areaId = area ? (lists.areas.get(area.toLowerCase()) ?? null) : null
  if (area && !areaId) fault('Practice area', `There is no practice area called ${area}`)
  const stage = r.get('Stage')
  const stageId = stage && areaId ? (lists.stages.get(`${areaId} ${stage.toLowerCase()}`) ?? null) : null
  if (stage && areaId && !stageId) fault('Stage', `${area} has no stage called ${stage}`)
  return {
    row: r.number,
    number,
    name: r.get('Matter'),
    shortName: (r.get('Short name') || r.get('Matter')).slice(0, 60),
    secondNumber: r.get('Second number').slice(0, 60),
    clientId: r.get('Client') ? (contact('Client', r.get('Client')) ?? 0) : 0,
    openedOn: openedOn ?? today,
    closedOn,
    areaId,
    stageId,
    leadId: person('Lead lawyer') ?? ctx.actor.id,
    originatingId: person('Originating lawyer'),
    court: r.get('Court').slice(0, 160),
    caseNumber: r.get('Case number').slice(0, 60),
    description: r.get('Description').slice(0, 4000),
    billToId: r.get('Whom to bill') ? contact('Whom to bill', r.get('Whom to bill')) : null,
    tags: split(r.get('Tags')).map((t) => t.toLowerCase().slice(0, 40)),
    parties: split(r.get('Opposing parties')).flatMap((name) => {
      const contactId = contact('Opposing parties', name)
      return contactId ? [{ contactId, role: 'opposing party', side: 'adverse' as const }] : []
    }),
  }
}

async function loadOne(m: EntityManager, ctx: Ctx, r: Ready, groups: Awaited<ReturnType<typeof fieldGroups>>): Promise<number> {
  let number = r.number
  if (!number) {
    const pattern = (await patternOfFirm(m))!.p
    const year = Number(r.openedOn.slice(0, 4))
    do number = formatMatterNumber(pattern, { year, n: await nextNumber(m, numberSeries(pattern, year)), client: r.clientId })
    while (await m.existsBy(Matter, { number }))
  }
  const own: Record<string, string | number | null> = {
    number,
    name: r.name,
    short_name: r.shortName,
    second_number: r.secondNumber,
    client_id: r.clientId,
    area_id: r.areaId,
    stage_id: r.stageId,
    opened_on: r.openedOn,
    closed_on: r.closedOn,
    description: r.description,
    court: r.court,
    case_number: r.caseNumber,
    lead_id: r.leadId,
    originating_id: r.originatingId,
    bill_to_id: r.billToId,
    active_on: r.closedOn ?? r.openedOn,
  }
  const made = (await insertMatter(m, own)) as { insertId: number }
  const id = made.insertId
  if (r.areaId) await staffAsArea(m, id)
  const g = presetOfRole.lawyer
  await m.insert(MatterTeam, {
    matterId: id,
    userId: r.leadId,
    role: 'lead',
    keeps: true,
    since: r.openedOn,
    atFile: g.file,
    atDocket: g.docket,
    atPapers: g.papers,
    atMoney: g.money,
    atTrust: g.trust,
  })
  if (r.stageId) await m.insert(MatterStage, { matterId: id, stageId: r.stageId, fromDay: r.openedOn, setBy: ctx.actor.id })
  for (const tag of new Set(r.tags)) await m.insert(MatterTag, { matterId: id, tag })
  for (const p of new Map(r.parties.map((p) => [p.contactId, p])).values())
    await m.insert(MatterParty, { matterId: id, contactId: p.contactId, role: p.role, side: p.side, addedAt: `${r.openedOn} 00:00:00` })
  const kept = readFields(groups, r.values, r.areaId).kept
  if (kept.length)
    await insertMany(
      m,
      'field_value',
      ['field_id', 'owner_id', 'item', 'value', 'sorted'],
      kept.map((k) => [k.fieldId, id, k.item, k.value, k.sorted]),
    )
  await audit(m, ctx, { kind: 'opened', text: `Matter ${number} imported: ${r.name}`, matterId: id, subject: 'matter', subjectId: id })
  return id
}
