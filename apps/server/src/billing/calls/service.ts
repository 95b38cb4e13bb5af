import { randomBytes } from 'node:crypto'
import type { CallIn } from '@heron/contract'
import { askAgain, asksStill, callState, dueAgain, remindsToday } from '@heron/core/billing'
import { daysBetween, showDayInWords } from '@heron/core/calendar'
import { showMoney } from '@heron/core/money'
import { IsNull, type EntityManager } from 'typeorm'
import { bankAccount, BankAccount, ledgerOf, ledgersAvailable, requireOwner } from '../../ledger'
import { audit } from '../../platform/audit'
import type { Base } from '../../platform/area'
import { actorOf } from '../../platform/auth'
import { type Actor, instant, type Ctx } from '../../platform/context'
import { lockRow, work } from '../../platform/database'
import { sendMail } from '../../platform/mail'
import { fieldFault, notFound, Problem, refused } from '../../platform/problem'
import { processorInUse } from '../../platform/processor'
import { siteAddress } from '../../platform/site'
import { hashed } from '../card-queries'
import { callById, callsUnderWay, receiptsFor, type CallRow, callWentOut, changeCallRow, insertCallRow } from './queries'
import { AccountCall, AccountCallReceipt } from './entities'
import { PayLink } from '../card-entities'
import { Firm, UserAccount } from '../../platform/shared-entities'

async function judge(m: EntityManager, ctx: Ctx, input: CallIn): Promise<void> {
  const bank = await bankAccount(m, input.bankAccountId)
  if (bank.kind === 'operating') throw fieldFault('bankAccountId', 'A call goes into trust. Send a bill for what is owed to the firm')
  await requireOwner(m, ctx, input)
  const owner = await m.findOne(BankAccount, { select: { clientId: true, id: true }, where: { id: bank.id } })
  if (owner?.clientId && owner.clientId !== input.clientId)
    throw fieldFault('bankAccountId', 'This separate account holds another client’s money')
  const far = input.dueOn ? daysBetween(ctx.clock.today(), input.dueOn) : 0
  if (far < 0 || far > 1_100) throw fieldFault('dueOn', 'Give a day from today on, within three years')
  if (input.minimum && input.minimum >= input.amount) throw fieldFault('minimum', 'Below which it is asked for again: less than the amount')
}

async function insertCall(m: EntityManager, ctx: Ctx, c: CallIn, afterId: number | null): Promise<number> {
  const made = (await insertCallRow(m, ctx, c, afterId)) as { insertId: number }
  await audit(m, ctx, {
    kind: 'drafted',
    text: `Call on account of ${showMoney(c.amount)} drafted`,
    matterId: c.matterId,
    subject: 'call',
    subjectId: made.insertId,
  })
  return made.insertId
}
export const makeCall = (ctx: Ctx, input: CallIn): Promise<{ id: number }> =>
  work(ctx, async (m) => {
    await judge(m, ctx, input)
    return { id: await insertCall(m, ctx, input, null) }
  })

async function lockCall(m: EntityManager, ctx: Ctx, id: number): Promise<CallRow> {
  await lockRow(m, AccountCall, id)
  const call = await callById(m, ctx, id)
  if (!call) throw notFound('call on account')
  return call
}
export const changeCall = (ctx: Ctx, id: number, input: CallIn, version: number): Promise<void> =>
  work(ctx, async (m) => {
    const call = await lockCall(m, ctx, id)
    if (call.sentOn) throw refused('not-a-draft', 'This call was sent. Withdraw it, and make another.')
    if (call.version !== version) throw refused('changed-meanwhile', 'This call was changed after you opened it. Look at it again.')
    await judge(m, ctx, input)
    await changeCallRow(m, input, id)
  })

/** A link by which the payer sees the call and pays it; only its hash is kept. */
async function linkTo(m: EntityManager, ctx: Ctx, callId: number, origin: string): Promise<string> {
  const token = randomBytes(24).toString('base64url')
  await m.insert(PayLink, { callId, tokenHash: hashed(token), origin: origin.slice(0, 200), madeBy: ctx.actor.id, madeAt: instant(ctx.clock.now()) }) // prettier-ignore
  return `${origin}/pay/${token}`
}

/** Sends a call, or reminds of one that was sent; each letter brings a link of its own. */
async function sendIn(m: EntityManager, ctx: Ctx, call: CallRow, origin: string): Promise<{ url: string; to: string }> {
  const today = ctx.clock.today()
  const state = callState(call, today)
  if (state !== 'draft' && !asksStill(state)) throw refused('not-open', `This call is ${state}. Nothing more is asked for.`)
  const again = call.sentOn !== null
  const url = await linkTo(m, ctx, call.id, origin)
  const firm = (await m.findOne(Firm, { select: { name: true, id: true }, where: { id: 1 } }))!.name
  const open = showMoney(call.amount - call.paid)
  if (call.email)
    await sendMail(m, ctx, {
      key: `call ${call.id} ${instant(ctx.clock.now())}`,
      to: { name: call.client, email: call.email },
      subject: again ? `Reminder: ${open} on account, ${firm}` : `${open} on account, ${firm}`,
      body: [
        `${firm} asks you for ${open}, to be held in trust for you${call.matter ? ` in the matter ${call.matter}` : ''}${call.dueOn ? `, by ${showDayInWords(call.dueOn)}` : ''}.`,
        call.message,
        processorInUse() ? `You can pay by card or from a bank account here: ${url}` : `You see it here: ${url}`,
        'The money stays yours until it is earned or paid out for you.',
      ]
        .filter(Boolean)
        .join('\n\n'),
    })
  await callWentOut(m, again, today, call.id)
  await audit(m, ctx, { kind: again ? 'reminded' : 'sent', text: `Call on account of ${showMoney(call.amount)} ${again ? 'reminded of' : 'sent'}${call.email ? ` to ${call.email}` : ', to be handed over by hand'}`, matterId: call.matterId, subject: 'call', subjectId: call.id }) // prettier-ignore
  return { url, to: call.email }
}
export const sendCall = (ctx: Ctx, id: number, origin: string): Promise<{ url: string; to: string }> =>
  work(ctx, async (m) => {
    const call = await lockCall(m, ctx, id)
    const sentToday = call.remindedOn === ctx.clock.today() || (call.sentOn === ctx.clock.today() && call.email !== '')
    if (sentToday && asksStill(callState(call, ctx.clock.today())))
      throw refused('changed-meanwhile', 'It was sent today already. Make a link to hand over, or wait until tomorrow.')
    return sendIn(m, ctx, call, origin)
  })
export const linkOfCall = (ctx: Ctx, id: number, origin: string): Promise<{ url: string }> =>
  work(ctx, async (m) => {
    const call = await lockCall(m, ctx, id)
    if (!asksStill(callState(call, ctx.clock.today())))
      throw refused('not-open', 'Send the call first; of what is paid or withdrawn there is no link.')
    return { url: await linkTo(m, ctx, call.id, origin) }
  })

export const withdrawCall = (ctx: Ctx, id: number): Promise<void> =>
  work(ctx, async (m) => {
    const call = await lockCall(m, ctx, id)
    const state = callState(call, ctx.clock.today())
    if (state === 'paid' || state === 'withdrawn') throw refused('not-open', `This call is ${state}.`)
    await m.update(AccountCall, { id }, { withdrawnOn: ctx.clock.today() })
    await m.update(PayLink, { callId: id, endedAt: IsNull() }, { endedAt: instant(ctx.clock.now()) })
    await audit(m, ctx, {
      kind: 'withdrawn',
      text: `Call on account of ${showMoney(call.amount)} withdrawn`,
      matterId: call.matterId,
      subject: 'call',
      subjectId: id,
    })
  })

export async function receiptsOfCall(ctx: Ctx, id: number) {
  const call = await callById(ctx.db.manager, ctx, id)
  if (!call) throw notFound('call on account')
  return (await receiptsFor(ctx.db.manager, ctx, call)).map((r) => ({ ...r, taken: Boolean(r.taken) }))
}
/** A receipt of the same owner came for the call, offline. */
export const tookReceipt = (ctx: Ctx, id: number, receiptId: number): Promise<void> =>
  work(ctx, async (m) => {
    const call = await lockCall(m, ctx, id)
    const found = (await receiptsFor(m, ctx, call)).find((r) => r.id === receiptId)
    if (!found) throw fieldFault('receiptId', 'Choose a posted receipt of this client, matter and account')
    if (found.taken) throw refused('changed-meanwhile', 'This receipt counts for the call already.')
    if (call.amount <= call.paid) throw refused('not-open', 'This call is paid.')
    await m.insert(AccountCallReceipt, { receiptId, callId: id })
    await audit(m, ctx, { kind: 'received', text: `Receipt ${found.receiptNo}, ${showMoney(found.amount)}, came for the call on account`, matterId: call.matterId, subject: 'call', subjectId: id }) // prettier-ignore
  })

/** Reminders that are due, and calls that are asked for again because their minimum is undercut; each in a transaction of its own. */
export async function followCalls(base: Base): Promise<void> {
  const people = await base.db.manager.find(UserAccount, {
    select: { id: true },
    where: { active: true, role: 'bookkeeper' },
    order: { id: 'ASC' },
    take: 1,
  })
  const usual = people[0] ? await actorOf(base.db.manager, people[0].id) : null
  if (!usual) return
  let after = 0
  for (;;) {
    const some = await callsUnderWay(base.db.manager, { ...base, actor: usual }, after)
    for (const c of some) await followOne(base, usual, c)
    if (!some.length) return
    after = some.at(-1)!.id
  }
}
async function followOne(base: Base, usual: Actor, c: CallRow): Promise<void> {
  const today = base.clock.today()
  const again = c.minimum && !c.more && callState(c, today) === 'paid'
  if (!again && !remindsToday(c, today)) return
  const ctx: Ctx = { ...base, actor: (await actorOf(base.db.manager, c.madeBy)) ?? usual }
  try {
    await work(ctx, (m) => (again ? askOnce(m, ctx, c.id) : remindOnce(m, ctx, c.id)))
  } catch (error) {
    // What one call does not allow keeps no other back; such as one whose maker may not see the matter any more.
    if (!(error instanceof Problem)) throw error
  }
}
async function remindOnce(m: EntityManager, ctx: Ctx, id: number): Promise<void> {
  const call = await lockCall(m, ctx, id)
  if (remindsToday(call, ctx.clock.today())) await sendIn(m, ctx, call, siteAddress())
}
async function askOnce(m: EntityManager, ctx: Ctx, id: number): Promise<void> {
  const call = await lockCall(m, ctx, id)
  if (call.more || !call.minimum) return
  const own = await ledgerOf(m, call.bankAccountId, { kind: 'client', clientId: call.clientId, matterId: call.matterId })
  const available = own && (await ledgersAvailable(ctx, [own], ctx.clock.today())).get(own)
  const amount = askAgain(available ?? 0, call.minimum, call.amount)
  if (!amount) return
  const next = await insertCall(
    m,
    ctx,
    {
      ...call,
      amount: Math.max(amount, call.minimum + 1),
      dueOn: dueAgain({ sentOn: call.sentOn!, dueOn: call.dueOn }, ctx.clock.today()),
    },
    call.id,
  )
  await sendIn(m, ctx, await lockCall(m, ctx, next), siteAddress())
}
