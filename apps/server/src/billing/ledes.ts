import { faultsOfLedes, writeLedes, type LedesClass, type LedesInvoice, type LedesLine } from '@heron/core/billing'
import type { Day } from '@heron/core/calendar'
import type { EntityManager } from 'typeorm'
import { matterScope } from '../platform/access'
import type { Ctx } from '../platform/context'
import { download } from '../platform/files'
import { notFound, refused } from '../platform/problem'
import { ledesHead, ledesLines, type LedesLineRow } from './ledes-queries'

/** How electronic bills call what people are in a firm. */
function classOf(role: string, title: string): LedesClass {
  if (role === 'lawyer') return /partner/i.test(title) ? 'PT' : 'AS'
  return role === 'outside lawyer' ? 'OC' : role === 'paralegal' ? 'LA' : 'OT'
}
/** `Noor Haddad-Lind` as `Haddad-Lind, Noor`. */
const lastFirst = (name: string) => {
  const words = name.trim().split(' ')
  return words.length < 2 ? name : `${words.at(-1)}, ${words.slice(0, -1).join(' ')}`
}

function lineOf(l: LedesLineRow, lead: { initials: string; name: string; role: string; title: string }, day: Day): LedesLine {
  const fee = l.kind === 'time' || l.kind === 'flat' || l.kind === 'interest'
  const keeper = l.initials ? { initials: l.initials, name: l.name ?? '', role: l.role ?? '', title: l.title ?? '' } : lead
  const timed = l.kind === 'time' && Boolean(l.minutes)
  const counted = l.kind === 'soft cost' && l.units !== null && l.unitRate !== null && l.unitRate % 100 === 0
  return {
    kind: fee ? 'fee' : 'expense',
    day: l.day ?? day,
    units: timed ? l.minutes : counted ? l.units : null,
    unitCost: timed ? (l.rate ?? 0) : counted ? l.unitRate! / 100 : l.charged,
    total: l.net,
    task: l.task ?? '',
    activity: l.activity ?? '',
    // Tax has no field of its own in this format; it goes as an expense.
    expense: l.kind === 'tax' ? 'E124' : (l.expense ?? ''),
    keeper: { id: keeper.initials, name: lastFirst(keeper.name), classification: classOf(keeper.role, keeper.title) },
    text: l.text,
  }
}

/** A bill in LEDES 1998B, with what it still needs before a client takes it. */
export async function ledesOf(m: EntityManager, ctx: Ctx, billId: number): Promise<{ text: string; faults: string[]; name: string }> {
  const head = await ledesHead(m, billId, matterScope(ctx.actor, 'm', 'money'))
  if (!head) throw notFound('bill')
  const rows = (await ledesLines(m, billId)).filter((l) => !l.told)
  const days = rows.flatMap((l) => l.day ?? []).sort()
  const invoice: LedesInvoice = {
    number: head.number,
    day: head.issuedOn,
    from: days[0] ?? head.issuedOn,
    to: head.workTo,
    description: head.matter,
    clientId: head.clientNumber,
    clientMatterId: head.matterNumber,
    matterId: head.own,
    firmId: head.firmNumber,
    lines: rows.map((l) => lineOf(l, head, head.issuedOn)),
  }
  return { text: writeLedes(invoice), faults: faultsOfLedes(invoice), name: `${head.number}.txt` }
}

export async function ledesFile(ctx: Ctx, billId: number): Promise<File> {
  const { text, faults, name } = await ledesOf(ctx.db.manager, ctx, billId)
  if (faults.length) throw refused('ledes-faults', `${faults.join('. ')}. Mend this first.`)
  return download(Buffer.from(text), name, 'text/plain; charset=us-ascii')
}

/** How the payer wants the bill, and what it still needs for that. */
export async function ledesCheck(ctx: Ctx, billId: number) {
  const m = ctx.db.manager
  const head = await ledesHead(m, billId, matterScope(ctx.actor, 'm', 'money'))
  if (!head) throw notFound('bill')
  return { format: head.format, faults: (await ledesOf(m, ctx, billId)).faults }
}
