import { splitFault } from '@heron/core/bank'
import { showMoney } from '@heron/core/money'
import type { EntityManager } from 'typeorm'
import { audit } from '../../platform/audit'
import type { Ctx } from '../../platform/context'
import { work } from '../../platform/database'
import { fieldFault, notFound, refused } from '../../platform/problem'
import { chargeIn, interestIn, returnIn } from '../acts/bank-did'
import { receiptOf } from '../acts/queries'
import { judgeByHand } from '../books/journals'
import { move } from '../door'
import { keep, locked } from './matching'
import { linesByIds, type BankHead, type LineRow, bankAccountsAmong } from './queries'
import { BankEntry } from '../entities'

/** A line that is in no book yet, with its account held. */
async function freeLine(m: EntityManager, id: number): Promise<{ line: LineRow & { bankId: number }; bank: BankHead }> {
  const [first] = await linesByIds(m, [id])
  if (!first) throw notFound('line')
  const bank = await locked(m, first.bankId)
  const [line] = await linesByIds(m, [id])
  if (line!.matchId) throw refused('changed-meanwhile', 'This line is matched by now. Look again.')
  return { line: line!, bank }
}

/** The line and what was booked for it, as one match. */
async function matched(m: EntityManager, ctx: Ctx, bank: BankHead, line: LineRow, journalId: number, why: string): Promise<void> {
  const entry = await m.findOne(BankEntry, { select: { id: true }, where: { journalId, bankAccountId: bank.id, amount: line.amount }, order: { id: 'ASC' } }) // prettier-ignore
  await keep(m, ctx, bank, [{ lineIds: [line.id], entryIds: [entry!.id], way: 'booked', why, named: '', byItself: false }])
}

interface TrustLine {
  id: number
  what: 'charge' | 'interest' | 'returned'
  text: string
  receiptId: number | null
  ledgerId: number | null
}
/** What the bank did on a trust account is booked to its ledgers, with the firm's cover of what they then lack, on the bank's day. */
export const bookTrustLine = (ctx: Ctx, input: TrustLine): Promise<{ id: number; cover: number }> =>
  work(ctx, async (m) => {
    const { line, bank } = await freeLine(m, input.id)
    if (bank.kind === 'operating')
      throw fieldFault('what', 'This line is of an operating account. Book it to an account of income or expense')
    if ((input.what === 'interest') !== line.amount > 0)
      throw fieldFault(
        'what',
        line.amount > 0
          ? 'Money came in here. Book interest, or enter a deposit sheet'
          : 'Money left here. Book a charge or a returned deposit',
      )
    const day = line.countsOn
    const amount = Math.abs(line.amount)
    const text = input.text || line.text || 'from the statement'
    const post = async (): Promise<{ journalId: number; cover: number }> => {
      if (input.what === 'interest')
        return { ...(await interestIn(m, ctx, bank.id, { day, amount, text: input.text, ledgerId: input.ledgerId })), cover: 0 }
      if (input.what === 'charge') return chargeIn(m, ctx, bank.id, { day, amount, text, operatingAccountId: null })
      const receipt = input.receiptId ? await receiptOf(m, input.receiptId) : null
      if (!receipt || receipt.bankAccountId !== bank.id) throw fieldFault('receiptId', 'Choose the receipt that the bank took back')
      if (receipt.amount !== amount)
        throw fieldFault(
          'receiptId',
          `Receipt ${receipt.receiptNo} is ${showMoney(receipt.amount)}, and the bank took ${showMoney(amount)}. A charge stands on a line of its own`,
        )
      return returnIn(m, ctx, receipt.id, { day, text, operatingAccountId: null })
    }
    const { journalId, cover } = await post()
    await matched(m, ctx, bank, line, journalId, text)
    return { id: journalId, cover }
  })

interface LineParts {
  id: number
  memo: string
  parts: readonly { accountId: number; amount: number }[]
}
/** Books a line of an operating account that is not in the book yet, on the bank's day, to one account or several, and matches the two. */
export const bookLine = (ctx: Ctx, input: LineParts): Promise<{ id: number }> =>
  work(ctx, async (m) => {
    const { line, bank } = await freeLine(m, input.id)
    if (bank.kind !== 'operating')
      throw fieldFault('parts.0.accountId', 'What the bank does on a trust account is booked to its ledgers, not to an account')
    await judgeByHand(m, input.parts, (i) => `parts.${i}.accountId`)
    const banks = await bankAccountsAmong(m, input.parts)
    const ofBank = input.parts.findIndex((p) => banks.some((b) => b.gl === p.accountId))
    if (ofBank >= 0) throw fieldFault(`parts.${ofBank}.accountId`, 'Money that went between accounts of the firm is booked as a journal, and matched on both') // prettier-ignore
    const wrong = splitFault(line.amount, input.parts.map((p) => p.amount)) // prettier-ignore
    if (wrong) throw fieldFault(wrong.at === null ? 'parts' : `parts.${wrong.at}.amount`, wrong.words)
    const journalId = await move(
      m,
      ctx,
      { day: line.countsOn, kind: 'bank', memo: input.memo, subject: 'journal' },
      {
        lines: [
          { account: bank.glAccountId, amount: line.amount },
          ...input.parts.map((p) => ({ account: p.accountId, amount: -p.amount })),
        ],
        bank: [{ bankAccountId: bank.id, amount: line.amount, kind: 'bank', reference: line.reference, text: input.memo }],
      },
    )
    await matched(m, ctx, bank, line, journalId, input.memo)
    await audit(m, ctx, { kind: 'posted', text: `${input.memo}: ${showMoney(line.amount)} on ${bank.name}, from its statement`, subject: 'journal', subjectId: journalId }) // prettier-ignore
    return { id: journalId }
  })
