import { bankKinds, type TrustSide } from '@heron/core/ledger'
import type { EntityManager } from 'typeorm'
import type { Ctx } from '../platform/context'
import { fieldFault, notFound, Problem } from '../platform/problem'
import { BankAccount, ClientLedger } from './entities'
import { heldBy, holdLedgers, type LedgerHead, ledgerSeen } from './ledger-queries'

/**
 * Locks a ledger until the end of the transaction and reads it, when its matter is open to the actor. `withFirm` locks the
 * firm's own ledger of the same account besides: what stands in for uncleared money is judged against it.
 */
export async function lockLedger(m: EntityManager, ctx: Ctx, id: number, withFirm = false): Promise<LedgerHead> {
  await holdLedgers(m, [id], withFirm)
  const { heads } = heldBy(m)
  const known = heads.get(`${ctx.actor.id} ${id}`)
  if (known) return known
  const found = await ledgerSeen(m, ctx, id)
  if (!found) throw notFound('client ledger')
  heads.set(`${ctx.actor.id} ${id}`, found)
  return found
}

/** A ledger as a side of a movement. */
export const sideOf = (l: LedgerHead): TrustSide => ({
  ledgerId: l.id,
  matterId: l.matterId,
  bankAccountId: l.bankAccountId,
  bankGl: l.bankGl,
  liabilityGl: l.liabilityGl,
})

type LedgerOwner = { kind: 'client'; clientId: number; matterId: number | null } | { kind: 'firm' | 'unidentified' | 'foundation' }
const keyOf = (owner: LedgerOwner) => (owner.kind === 'client' ? `client ${owner.clientId} matter ${owner.matterId ?? 0}` : owner.kind)

/** The ledger of an owner in a trust account, where there is one. */
export const ledgerOf = async (m: EntityManager, bankAccountId: number, owner: LedgerOwner): Promise<number | null> =>
  (await m.findOne(ClientLedger, { select: { id: true }, where: { bankAccountId, ownerKey: keyOf(owner) } }))?.id ?? null

/** Finds or makes the ledger of an owner in a trust account. Money without a client goes to the unidentified ledger. */
export async function ensureLedger(m: EntityManager, bankAccountId: number, owner: LedgerOwner): Promise<number> {
  const known = await ledgerOf(m, bankAccountId, owner)
  if (known) return known
  await m
    .createQueryBuilder()
    .insert()
    .orIgnore()
    .into(ClientLedger)
    .values({
      bankAccountId,
      kind: owner.kind,
      clientId: owner.kind === 'client' ? owner.clientId : null,
      matterId: owner.kind === 'client' ? owner.matterId : null,
      ownerKey: keyOf(owner),
    })
    .execute()
  return (await ledgerOf(m, bankAccountId, owner))!
}

export interface BankHead {
  id: number
  name: string
  kind: 'pooled' | 'separate' | 'operating'
  glAccountId: number
  liabilityAccountId: number | null
}

export async function bankAccount(m: EntityManager, id: number): Promise<BankHead> {
  const found = await m.findOne(BankAccount, {
    select: { id: true, name: true, kind: true, glAccountId: true, liabilityAccountId: true },
    where: { id },
  })
  if (!found) throw notFound('bank account')
  return found
}

/** The operating account that was chosen, or the usual one. */
export async function operatingBank(m: EntityManager, id?: number | null): Promise<BankHead> {
  if (id) {
    const bank = await bankAccount(m, id)
    if (bankKinds[bank.kind].trust) throw fieldFault('bankAccountId', 'Choose an operating account')
    return bank
  }
  const found = await m.findOne(BankAccount, { select: { id: true }, where: { kind: 'operating' }, order: { usual: 'DESC', id: 'ASC' } })
  if (!found) throw new Problem(409, 'no-operating-account', 'The firm has no operating account yet.')
  return bankAccount(m, found.id)
}
