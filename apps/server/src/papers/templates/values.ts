import { sum } from '@heron/core/money'
import { dayValue, initials, listed, money, olderNames, valueAt, type FieldSpec, type Value, type ValueRecord } from '@heron/core/templates'
import { templateFieldsOf } from '../../fields'
import { mayPart, type OpenMatter } from '../../platform/access'
import { may, type Ctx } from '../../platform/context'
import type { EntityManager } from 'typeorm'
import {
  billsOf,
  clientsOf,
  contacts,
  datesOf,
  factsForLetter,
  itemsOf,
  type MatterValues,
  moneyOf,
  partiesOf,
  teamOf,
} from './value-queries'

export interface Chosen {
  personId: number | null
  costIds: readonly number[]
  timeIds: readonly number[]
}

const sided = ['plaintiff', 'petitioner', 'claimant', 'appellant', 'applicant']

/** The values of all fields on a matter, as the one who makes the paper may know them. */
export async function matterValues(m: EntityManager, ctx: Ctx, matter: OpenMatter, chosen: Chosen): Promise<MatterValues> {
  const today = ctx.clock.today()
  const head = await factsForLetter(m, ctx, matter.id)
  const parties = await partiesOf(m, ctx, matter.id)
  const more = await clientsOf(m, matter.id)
  const clients = await contacts(m, ctx, [matter.clientId, ...more.map((c) => c.id)])
  const client = await templateFieldsOf(m, ctx, 'contact', matter.clientId)
  const own = await templateFieldsOf(m, ctx, 'matter', matter.id)
  const seesMoney = may(ctx.actor, 'bills.see') && (await mayPart(m, ctx, matter.id, 'money'))
  const seesTrust = may(ctx.actor, 'trust.see') && (await mayPart(m, ctx, matter.id, 'trust'))
  const items = await itemsOf(m, ctx, matter.id, seesMoney, chosen)
  const costs = items.costs.filter((c) => chosen.costIds.includes(c.id))
  const time = items.time.filter((t) => chosen.timeIds.includes(t.id))
  const first = clients.get(matter.clientId)!
  const names = (of: (p: (typeof parties)[number]) => boolean) => parties.filter(of).map((p) => String(p.record['name'] ?? ''))
  const starts = names((p) => sided.includes(p.role.toLowerCase()))
  const others = names((p) => !sided.includes(p.role.toLowerCase()) && p.side !== 'other')
  const values: Record<string, Value> = {
    today: dayValue(today),
    firm: { name: head!.firm, address: head!.firmAddress, phone: head!.firmPhone, email: head!.firmEmail, contact_line: head!.line },
    client: { ...first, fields: client.values },
    clients: [...clients.values()],
    matter: {
      number: matter.number, second_number: head!.secondNumber, name: matter.name, short_name: matter.shortName, description: head!.description, area: head!.area ?? '', stage: head!.stage ?? '',
      opened_on: dayValue(matter.openedOn), closed_on: dayValue(matter.closedOn), billing: matter.billing, hourly: matter.billing === 'hourly', flat: matter.billing === 'flat', contingent: matter.billing === 'contingency',
      flat_fee: head!.flatFee === null ? null : money(Number(head!.flatFee)), deposit: head!.fillTo === null ? null : money(Number(head!.fillTo)), contingency: head!.contingency === null ? null : Number(head!.contingency), fields: own.values,
    }, // prettier-ignore
    court: {
      name: head!.court,
      judge: head!.judge ?? '',
      case_number: head!.caseNumber,
      caption: starts.length && others.length ? `${listed(starts, 'and', 'en')} v. ${listed(others, 'and', 'en')}` : '',
    },
    lead: { name: head!.lead, title: head!.leadTitle, email: head!.leadEmail, initials: initials(head!.lead) },
    me: { name: ctx.actor.name, title: head!.meTitle, email: head!.meEmail, initials: initials(ctx.actor.name) },
    team: await teamOf(m, ctx, matter.id, seesMoney),
    parties: parties.map((p) => p.record),
    our_side: parties.filter((p) => p.side === 'ours').map((p) => p.record),
    other_side: parties.filter((p) => p.side === 'adverse').map((p) => p.record),
    person: parties.find((p) => p.id === chosen.personId)?.record ?? (chosen.personId === matter.clientId ? first : {}),
    bills: seesMoney ? await billsOf(m, matter.id) : [],
    costs: costs.map((c) => ({ day: dayValue(c.day), text: c.text, amount: money(c.amount) })),
    time: time.map((t) => ({
      day: dayValue(t.day),
      text: t.text,
      amount: t.amount === null ? null : money(t.amount),
      by: t.by,
      hours: t.hours,
    })),
    costs_total: money(sum(costs.map((c) => c.amount))),
    time_total: seesMoney ? money(sum(time.map((t) => t.amount ?? 0))) : null,
    money: await moneyOf(m, matter.id, seesMoney, seesTrust),
    dates: await datesOf(m, ctx, matter.id),
    answers: {},
  }
  // Names without a path, under which templates made before use them.
  for (const [old, path] of Object.entries(olderNames)) values[old] = valueAt(values, path)
  for (const f of [...client.specs, ...own.specs]) values[f.name] ??= client.values[f.name] ?? own.values[f.name] ?? null
  const older: FieldSpec[] = [...client.specs, ...own.specs]
  return {
    values,
    own: { client: client.specs, matter: own.specs, answers: [], older },
    fields: { client, matter: own },
    persons: distinctPersons([
      ...parties.map((p) => ({ id: p.id, name: nameOf(p.record), role: p.role })),
      { id: matter.clientId, name: nameOf(first), role: 'client' },
    ]),
    ...items,
  }
}

const nameOf = (r: ValueRecord) => (typeof r['name'] === 'string' ? r['name'] : '')
/** Whoever is a party in two parts, or the client besides, is named once. */
const distinctPersons = <T extends { id: number }>(list: readonly T[]): T[] =>
  list.filter((p, i) => list.findIndex((x) => x.id === p.id) === i)
