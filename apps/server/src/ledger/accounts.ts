import type { AccountIn, BankIn, NewBank, TrustRules } from '@heron/contract'
import type { Day } from '@heron/core/calendar'
import { bankKinds, deepestChart, judgeAccount, type ChartAccount, type ChartFault } from '@heron/core/ledger'
import { Not, type EntityManager } from 'typeorm'
import { audit } from '../platform/audit'
import type { Ctx } from '../platform/context'
import { insertRow, locked, work } from '../platform/database'
import { fieldFault, notFound } from '../platform/problem'
import { chart } from './books/sums'
import { moved } from './books/sum-queries'
import { usesOfAccount } from './queries'
import { ClearingDays, Firm } from '../platform/shared-entities'
import { Account, BankAccount } from './entities'
import { addAccount, lastCheckNumber, makeUsual, othersIn, ownerOpenTo, trustRules } from './account-queries'

/** What the firm's jurisdiction says of trust money; it holds from the next payment on. */
export const setTrustRules = (ctx: Ctx, input: TrustRules): Promise<void> =>
  work(ctx, async (m) => {
    const was = await trustRules(m)
    await m.updateAll(Firm, {
      separateTrustViaPooled: input.viaPooled,
      flatFeeInAdvance: input.advance,
      receiptFee: input.receiptFee,
      receiptFeeTo: input.receiptFeeTo,
    })
    await changed(m, ctx, 'Rules of trust money changed', { was, became: input })
  })

/** Whose money a separate account holds: someone on record, and nobody else once a ledger of theirs is there. */
async function requireAccountOwner(m: EntityManager, ctx: Ctx, kind: string, input: BankIn, id: number): Promise<void> {
  if (kind !== 'separate') {
    if (input.clientId || input.maturesOn) throw fieldFault('clientId', 'Only a separate account is one client’s, with a term')
    return
  }
  if (input.clientId && !(await ownerOpenTo(m, ctx, input.clientId))) throw fieldFault('clientId', 'Choose someone on record')
  const held = id ? await othersIn(m, id, input.clientId) : null
  if (held) throw fieldFault('clientId', 'Money of this account’s client lies here. Whose it is stays')
}

const changed = (m: EntityManager, ctx: Ctx, text: string, detail: unknown) =>
  audit(m, ctx, { kind: 'set up', text, subject: 'account', detail })

/** What a bank account is called, and the number from which its checks go on. Numbers that were used are never given again. */
export function changeBank(ctx: Ctx, id: number, input: BankIn): Promise<void> {
  return work(ctx, async (m) => {
    const was = await m.findOne(BankAccount, {
      select: {
        name: true,
        bank: true,
        ending: true,
        nextCheck: true,
        kind: true,
        usual: true,
        clientId: true,
        maturesOn: true,
        staleDays: true,
        unclaimedDays: true,
        twoPeople: true,
        nearDays: true,
        printAtOnce: true,
        id: true,
      },
      where: { id },
      ...locked(m),
    })
    if (!was) throw notFound('bank account')
    const last = await lastCheckNumber(m, id)
    if (last?.number && input.nextCheck !== was.nextCheck && input.nextCheck <= last.number)
      throw fieldFault('nextCheck', `Check ${last.number} was used. Give a higher number`)
    await requireAccountOwner(m, ctx, was.kind, input, id)
    await m.update(
      BankAccount,
      { id },
      {
        name: input.name,
        bank: input.bank,
        ending: input.ending,
        nextCheck: input.nextCheck,
        clientId: input.clientId,
        maturesOn: input.maturesOn,
        staleDays: input.staleDays,
        unclaimedDays: input.unclaimedDays,
        twoPeople: input.twoPeople,
        nearDays: input.nearDays,
        printAtOnce: input.printAtOnce,
      },
    )
    if (input.usual) await makeUsual(m, id, was.kind)
    await changed(m, ctx, `Bank account ${was.name} changed`, { was, became: input })
  })
}

/** Adds a bank account with the accounts of the chart it is booked to, which are its alone. */
export function makeBank(ctx: Ctx, input: NewBank): Promise<{ id: number }> {
  return work(ctx, async (m) => {
    const { trust } = bankKinds[input.kind]
    await requireAccountOwner(m, ctx, input.kind, input, 0)
    if (trust && !input.liabilityCode) throw fieldFault('liabilityCode', 'Give a number for what is owed to clients')
    if (trust && input.liabilityCode === input.code) throw fieldFault('liabilityCode', 'The two accounts need numbers of their own')
    await requireFreeCode(m, input.code)
    if (trust) await requireFreeCode(m, input.liabilityCode!, 0, 'liabilityCode')
    const add = async (code: string, name: string, kind: string) =>
      ((await addAccount(m, code, name, kind)) as { insertId: number }).insertId
    const gl = await add(input.code, input.name, 'asset')
    const liability = trust ? await add(input.liabilityCode!, `Owed to clients, ${input.name}`, 'liability') : null
    const madeId = await insertRow(m, BankAccount, {
      name: input.name,
      kind: input.kind,
      bank: input.bank,
      ending: input.ending,
      glAccountId: gl,
      liabilityAccountId: liability,
      nextCheck: input.nextCheck,
      clientId: input.clientId,
      maturesOn: input.maturesOn,
      staleDays: input.staleDays,
      unclaimedDays: input.unclaimedDays,
      twoPeople: input.twoPeople,
      nearDays: input.nearDays,
      printAtOnce: input.printAtOnce,
    })
    if (input.usual) await makeUsual(m, madeId, input.kind)
    await changed(m, ctx, `Bank account ${input.name} added`, { became: input })
    return { id: madeId }
  })
}

async function requireFreeCode(m: EntityManager, code: string, id = 0, path = 'code') {
  const other = await m.findOne(Account, { select: { name: true, id: true }, where: { code, id: Not(id) } })
  if (other) throw fieldFault(path, `${code} is ${other.name}. Give another number`)
}

const sayChart: Record<ChartFault, (a: ChartAccount) => [path: string, text: string]> = {
  'no-parent': () => ['parentId', 'Choose an account of the chart'],
  'other-kind': (a) => ['parentId', `Choose one of the same kind: ${a.kind}`],
  circle: () => ['parentId', 'It cannot stand under itself'],
  'too-deep': () => ['parentId', `At most ${deepestChart} stand under one another`],
  'parent-closed': () => ['parentId', 'That one is closed. Open it first, or choose another'],
  'kept-by-acts': (a) => ['closed', `The application posts here by itself as ${a.role}. It stays open`],
  'not-empty': () => ['closed', 'It does not stand at nothing. Move its balance first'],
  'open-below': () => ['closed', 'Accounts under it are open. Close those first'],
}
/** Judged beside the chart as it stands, which is held meanwhile. */
async function requirePlace(m: EntityManager, to: ChartAccount): Promise<void> {
  const balance = to.id ? ((await moved(m, { to: farAhead, accountId: to.id }))[0]?.balance ?? 0) : 0
  const fault = judgeAccount(await chart(m), to, balance)
  if (fault) throw fieldFault(...sayChart[fault](to))
}
/** What was posted ahead counts, too. */
const farAhead = '9999-12-31' as Day
const holdChart = (m: EntityManager) => m.find(Account, { select: { id: true }, order: { id: 'ASC' }, ...locked(m) })

export function makeAccount(ctx: Ctx, input: AccountIn): Promise<{ id: number }> {
  return work(ctx, async (m) => ({ id: await makeAccountIn(m, ctx, input) }))
}
export async function makeAccountIn(m: EntityManager, ctx: Ctx, input: AccountIn): Promise<number> {
  await holdChart(m)
  await requireFreeCode(m, input.code)
  await requirePlace(m, { ...input, id: 0, closed: false, role: null })
  return insertRow(m, Account, { code: input.code, name: input.name, kind: input.kind, parentId: input.parentId }) // prettier-ignore
  await changed(m, ctx, `Account ${input.code} ${input.name} added`, { became: input })
}

/** Number, name, place and whether it is closed. Its kind stays: reports of years that are closed stand on it. */
export const changeAccount = (ctx: Ctx, id: number, input: Omit<AccountIn, 'kind'> & { closed: boolean }): Promise<void> =>
  work(ctx, (m) => changeAccountIn(m, ctx, id, input))

export async function changeAccountIn(m: EntityManager, ctx: Ctx, id: number, input: Omit<AccountIn, 'kind'> & { closed: boolean }) {
  await holdChart(m)
  const was = (await chart(m)).find((a) => a.id === id)
  if (!was) throw notFound('account')
  await requireFreeCode(m, input.code, id)
  if (input.closed !== was.closed || input.parentId !== was.parentId) await requirePlace(m, { ...was, ...input })
  if (input.closed && !was.closed) {
    const used = await usesOfAccount(m, id)
    if (used) throw fieldFault('closed', `${used} posts to it. Change that first`)
  }
  await m.update(Account, { id }, { code: input.code, name: input.name, parentId: input.parentId, closed: input.closed }) // prettier-ignore
  const { code, name, parentId, closed } = was
  const done = input.closed && !closed ? 'closed' : closed && !input.closed ? 'opened again' : 'changed'
  await changed(m, ctx, `Account ${code} ${name} ${done}`, { was: { code, name, parentId, closed }, became: input })
}

/** Holds from the next receipt on; what was received keeps the day on which it clears. */
export function setClearing(ctx: Ctx, clearing: readonly { kind: string; courtDays: number }[]): Promise<void> {
  return work(ctx, async (m) => {
    for (const c of clearing) await m.upsert(ClearingDays, { kind: c.kind, courtDays: c.courtDays }, ['kind'])
    await changed(m, ctx, 'Clearing days of payments into trust changed', {
      became: Object.fromEntries(clearing.map((c) => [c.kind, c.courtDays])),
    })
  })
}
