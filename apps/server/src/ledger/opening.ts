import type { Day } from '@heron/core/calendar'
import { openedByClearing, type JournalLine } from '@heron/core/ledger'
import { showMoney, sum } from '@heron/core/money'
import type { EntityManager } from 'typeorm'
import { audit } from '../platform/audit'
import { instant, type Ctx } from '../platform/context'
import { insertRow } from '../platform/database'
import { refused } from '../platform/problem'
import { useCheckNumber } from './check-numbers'
import { move } from './door'
import { PaymentOut } from './entities'
import { bankAccount, ensureLedger, lockLedger, type BankHead } from './ledgers'
import { clearingDay } from './ledger-queries'
import { accountFor, type BankLeg } from './posting'
import { type LedgerLeg } from './posting-queries'
import { CheckOut, FirmPayment } from './check-entities'
import { entriesUpTo, markStart, movedIn, noteMovedIn } from './check-queries'

export type OpeningOwner = { kind: 'client'; clientId: number; matterId: number | null } | { kind: 'firm' | 'unidentified' | 'foundation' }
export interface OpeningCheck {
  number: number
  writtenOn: Day
  payee: string
  amount: number
  memo: string
  /** Whose ledger it was drawn on; null in operating. */
  owner: OpeningOwner | null
}
export interface OpeningBankIn {
  bankAccountId: number
  /** Trust: each ledger as the book has it. */
  ledgers: readonly { owner: OpeningOwner; amount: number }[]
  /** Operating: the balance of the book. */
  book: number
  checks: readonly OpeningCheck[]
  /** Trust: whose each is, where it is known; until it clears it pays nothing. */
  deposits: readonly { day: Day; reference: string; amount: number; text: string; owner: OpeningOwner | null }[]
}

const noted = (m: EntityManager, journalId: number, bankAccountId: number | null, day: Day) => noteMovedIn(m, journalId, bankAccountId, day)

/** What the bank's statement shows, and each deposit that it has not credited, as the legs of the bank. */
function bankLegs(bank: BankHead, b: OpeningBankIn, gross: number): BankLeg[] {
  const shown = gross - sum(b.deposits.map((d) => d.amount))
  return [
    ...(shown ? [{ bankAccountId: bank.id, amount: shown, kind: 'opening', text: 'Balance of the statement when the firm moved in' }] : []),
    ...b.deposits.map((d) => ({ bankAccountId: bank.id, amount: d.amount, kind: 'deposit', reference: d.reference, text: d.text || 'Deposit in transit when the firm moved in' })), // prettier-ignore
  ]
}

/**
 * Moves one bank account in as of a day: its ledgers or its balance with what the checks still outstanding will take, each deposit in
 * transit, and then each unpaid check as a payment of its own, so that it can be matched, grow stale, or be voided to the same ledger.
 */
export async function openBank(m: EntityManager, ctx: Ctx, asOf: Day, b: OpeningBankIn): Promise<void> {
  const bank = await bankAccount(m, b.bankAccountId)
  const [before] = await movedIn(m, [bank.id])
  if (before) throw refused('loaded', `${bank.name} was moved in before, as of ${before.day}.`)
  const [earlier] = await entriesUpTo(m, [bank.id], asOf)
  if (earlier)
    throw refused('loaded', `${bank.name} has entries of ${earlier.day} already. Its books of before end before its first entry.`)
  const account = await accountFor(m)
  const clearing = account('opening clearing')
  const open = sum(b.checks.map((c) => c.amount))
  if (bank.liabilityAccountId === null) {
    const gross = b.book + open
    const lines: JournalLine[] = gross ? [{ account: bank.glAccountId, amount: gross }, { account: clearing, amount: -gross }] : [] // prettier-ignore
    if (lines.length) await noted(m, await move(m, ctx, { day: asOf, kind: 'opening', memo: `${bank.name} moved in` }, { lines, bank: bankLegs(bank, b, gross) }), bank.id, asOf) // prettier-ignore
    for (const c of b.checks) {
      const madeId = await insertRow(m, FirmPayment, {
        bankAccountId: bank.id,
        payeeId: null,
        method: 'check',
        day: asOf,
        writtenOn: c.writtenOn,
        payeeName: c.payee,
        amount: c.amount,
        memo: c.memo,
        createdBy: ctx.actor.id,
        createdAt: instant(ctx.clock.now()),
      })
      const number = await useCheckNumber(m, ctx, bank.id, { firmPaymentId: madeId }, c.number)
      const text = `Check ${number}, ${c.payee}${c.memo ? `: ${c.memo}` : ''}`
      const journalId = await move(m, ctx, { day: asOf, kind: 'vendor payment', memo: text, subject: 'vendor payment', subjectId: madeId }, {
        lines: [{ account: clearing, amount: c.amount }, { account: bank.glAccountId, amount: -c.amount }],
        bank: [{ bankAccountId: bank.id, amount: -c.amount, kind: 'check', reference: String(number), text }],
      }) // prettier-ignore
      await m.update(FirmPayment, { id: madeId }, { state: 'posted', journalId, checkNo: number })
    }
    return
  }
  // Each ledger with what its outstanding checks will take.
  const grossOf = new Map<number, { amount: number; matterId: number | null; firm: boolean }>()
  const add = async (owner: OpeningOwner, amount: number) => {
    const id = await ensureLedger(m, bank.id, owner)
    const own = grossOf.get(id) ?? { amount: 0, matterId: owner.kind === 'client' ? owner.matterId : null, firm: owner.kind === 'firm' }
    own.amount += amount
    grossOf.set(id, own)
    return id
  }
  for (const l of b.ledgers) await add(l.owner, l.amount)
  const checks: (OpeningCheck & { ledgerId: number })[] = []
  for (const c of b.checks) checks.push({ ...c, ledgerId: await add(c.owner!, c.amount) })
  const list = [...grossOf].filter(([, l]) => l.amount > 0)
  const gross = sum(list.map(([, l]) => l.amount))
  const firm = sum(list.filter(([, l]) => l.firm).map(([, l]) => l.amount))
  if (!gross) return
  const waiting = new Map<number, { clearsOn: Day; amount: number }[]>()
  for (const d of b.deposits) {
    if (!d.owner) continue
    const id = await ensureLedger(m, bank.id, d.owner)
    const clearsOn = await clearingDay(m, 'check', d.day)
    if (clearsOn <= asOf) continue
    const own = waiting.get(id) ?? []
    own.push({ clearsOn, amount: d.amount })
    waiting.set(id, own)
  }
  const drawnOn = new Map<number, number>()
  for (const c of checks) drawnOn.set(c.ledgerId, (drawnOn.get(c.ledgerId) ?? 0) + c.amount)
  const drawn = (id: number) => drawnOn.get(id) ?? 0
  const ledgers: LedgerLeg[] = list.flatMap(([ledgerId, l]) =>
    openedByClearing(l.amount - drawn(ledgerId), drawn(ledgerId), waiting.get(ledgerId) ?? []).map((part) => ({
      ledgerId,
      bankAccountId: bank.id,
      ...part,
      text: part.clearsOn ? 'Deposit in transit, moved in' : 'Balance moved in',
    })),
  )
  const journalId = await move(m, ctx, { day: asOf, kind: 'opening', memo: `${bank.name} moved in` }, {
    lines: [
      { account: bank.glAccountId, amount: gross },
      ...list.map(([, l]) => ({ account: bank.liabilityAccountId!, amount: -l.amount, matterId: l.matterId })),
      ...(firm ? [{ account: account('firm money in trust'), amount: firm }, { account: clearing, amount: -firm }] : []),
    ],
    bank: bankLegs(bank, b, gross),
    ledgers,
  }) // prettier-ignore
  await noted(m, journalId, bank.id, asOf)
  for (const c of checks) {
    const ledger = await lockLedger(m, ctx, c.ledgerId)
    const id = await insertRow(m, PaymentOut, {
      ledgerId: c.ledgerId,
      method: 'check',
      checkNo: c.number,
      day: asOf,
      writtenOn: c.writtenOn,
      payeeName: c.payee,
      payeeAddress: '',
      amount: c.amount,
      memo: c.memo,
      overrideReason: '',
      createdBy: ctx.actor.id,
      createdAt: instant(ctx.clock.now()),
    })
    const number = await useCheckNumber(m, ctx, bank.id, { paymentId: id }, c.number)
    const text = `Check ${number}, ${c.payee}${c.memo ? `: ${c.memo}` : ''}`
    const paid = await move(m, ctx, { day: asOf, kind: 'payment out', memo: `${text} (${ledger.name})`, subject: 'payment out', subjectId: id }, {
      lines: [
        { account: bank.liabilityAccountId, amount: c.amount, matterId: ledger.matterId },
        { account: bank.glAccountId, amount: -c.amount, matterId: ledger.matterId },
        ...(ledger.kind === 'firm' ? [{ account: clearing, amount: c.amount }, { account: account('firm money in trust'), amount: -c.amount }] : []),
      ],
      bank: [{ bankAccountId: bank.id, amount: -c.amount, kind: 'check', reference: String(number), text }],
      ledgers: [{ ledgerId: ledger.id, bankAccountId: bank.id, amount: -c.amount, text }],
    }, { exceptPayment: id }) // prettier-ignore
    // Who has agreed to it did so before.
    await m.update(PaymentOut, id, { state: 'posted', journalId: paid })
    await m.insert(CheckOut, { paymentId: id, how: 'by hand', userId: ctx.actor.id, at: instant(ctx.clock.now()) })
  }
  await audit(m, ctx, {
    kind: 'moved in',
    text: `${bank.name} moved in: ${showMoney(gross - open)} on its ledgers`,
    subject: 'account',
    subjectId: bank.id,
  })
}

/** The rest of the trial balance against opening clearing, in one journal. */
export async function openAccounts(
  m: EntityManager,
  ctx: Ctx,
  asOf: Day,
  list: readonly { accountId: number; amount: number }[],
): Promise<void> {
  const lines: JournalLine[] = list.filter((l) => l.amount).map((l) => ({ account: l.accountId, amount: l.amount }))
  if (!lines.length) return
  const account = await accountFor(m)
  const rest = sum(lines.map((l) => l.amount))
  if (rest) lines.push({ account: account('opening clearing'), amount: -rest })
  await noted(m, await move(m, ctx, { day: asOf, kind: 'opening', memo: 'Balances moved in' }, { lines }), null, asOf)
}

/** Entries of an account that were in transit when the firm moved in; they stay so once its first statement is read. */
export const markMovedIn = (m: EntityManager, bankAccountId: number) => markStart(m, bankAccountId)
