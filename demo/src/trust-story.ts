import { addDays, type Day } from '@heron/core/calendar'
import {
  askCorrection,
  bookInterest,
  layHold,
  makeBankChecksOut,
  makeSheet,
  moveMoney,
  payNow,
  postSheet,
  returnDeposit,
} from '@heron/server/ledger'
import { makeCall, sendCall } from '@heron/server/billing'
import { row, rows } from '@heron/server/platform'
import { openDay, type Stage } from './stage'

interface Known {
  id: number
  clientId: number
  client: string
}
const matterLike = async (stage: Stage, words: string): Promise<Known> =>
  (await row<Known>(
    stage.base.db.manager,
    `SELECT m.id, m.client_id AS clientId, c.name AS client FROM matter m JOIN contact c ON c.id = m.client_id WHERE c.name LIKE ? AND m.closed_on IS NULL AND m.kind <> 'practice' ORDER BY m.id LIMIT 1`,
    [`%${words}%`],
  ))!

interface Paid {
  clientId: number | null
  matterId: number | null
  depositor: string
  kind: 'check' | 'wire'
  amount: number
  text: string
}
async function deposit(stage: Stage, bankAccountId: number, r: Paid) {
  const orla = stage.as('Orla Petrakis')
  const sheet = await makeSheet(orla, { bankAccountId, day: stage.day, controlTotal: r.amount, receipts: [{ ...r, reference: '' }] })
  await postSheet(orla, sheet.id)
  return (await row<{ receiptId: number; ledgerId: number; entryId: number }>(
    stage.base.db.manager,
    `SELECT r.id AS receiptId, e.ledger_id AS ledgerId, e.id AS entryId FROM deposit_receipt r JOIN deposit_sheet s ON s.id = r.sheet_id JOIN ledger_entry e ON e.journal_id = s.journal_id WHERE s.id = ?`,
    [sheet.id],
  ))!
}

/**
 * What a bookkeeper has to settle: a check that nobody cashed, an estate's money in an account of its own, a deposit that came
 * back, money without an owner, a lien, and a receipt on the wrong ledger that waits for a second person.
 */
export async function layTrust(stage: Stage, pooled: number): Promise<{ staleCheck: string }> {
  const day = (back: number): Day => (stage.day = openDay(addDays(stage.today, -back)))
  const orla = () => stage.as('Orla Petrakis')
  const gannet = await matterLike(stage, 'Gannet')
  const tidecrest = await matterLike(stage, 'Tidecrest')
  const varga = await matterLike(stage, 'Varga')
  const brinewell = await matterLike(stage, 'Brinewell')

  day(236)
  const early = await deposit(stage, pooled, { clientId: gannet.clientId, matterId: gannet.id, depositor: gannet.client, kind: 'wire', amount: 1_250_00, text: 'for the survey' }) // prettier-ignore
  day(231)
  const stale = await payNow(orla(), { ledgerId: early.ledgerId, day: stage.day, method: 'check', payeeName: 'Halvard Diving Survey', payeeAddress: '12 Slip Lane\nHarrow Sound', amount: 385_00, memo: 'hull survey', checkNo: null, overrideReason: '' }) // prettier-ignore

  day(24)
  const estate = await deposit(stage, pooled, { clientId: varga.clientId, matterId: varga.id, depositor: 'Wexmoor Savings, account of A. Varga', kind: 'wire', amount: 180_000_00, text: 'balance of the estate' }) // prettier-ignore
  day(20)
  const separate = (await row<{ id: number }>(
    stage.base.db.manager,
    `SELECT id FROM bank_account WHERE kind = 'separate' ORDER BY id LIMIT 1`,
  ))!.id
  await moveMoney(orla(), { fromLedgerId: estate.ledgerId, bankAccountId: separate, matterId: varga.id, day: stage.day, amount: 175_000_00, reason: 'to earn interest until distribution', beforeTerm: false }) // prettier-ignore
  day(5)
  await bookInterest(orla(), separate, { day: stage.day, amount: 212_40, text: 'to mid-month', ledgerId: null })

  day(19)
  const bounced = await deposit(stage, pooled, { clientId: tidecrest.clientId, matterId: tidecrest.id, depositor: tidecrest.client, kind: 'check', amount: 2_400_00, text: 'deposit for costs' }) // prettier-ignore
  day(9)
  const held = (
    await rows<{ book: number }>(stage.base.db.manager, `SELECT COALESCE(SUM(amount), 0) AS book FROM ledger_entry WHERE ledger_id = ?`, [
      bounced.ledgerId,
    ])
  )[0]!.book
  if (held >= 900_00)
    await payNow(orla(), { ledgerId: bounced.ledgerId, day: stage.day, method: 'check', payeeName: 'Clerk of the Superior Court', payeeAddress: '1 Court Square\nHarrow Sound', amount: held - 1_500_00 > 900_00 ? held - 1_500_00 : 900_00, memo: 'filing and service', checkNo: null, overrideReason: '' }) // prettier-ignore
  day(3)
  await returnDeposit(orla(), bounced.receiptId, { day: stage.day, text: 'not sufficient funds', operatingAccountId: null })

  day(6)
  await deposit(stage, pooled, { clientId: null, matterId: null, depositor: 'R. Sandoval', kind: 'wire', amount: 640_00, text: 'no reference given' }) // prettier-ignore
  const mixed = await deposit(stage, pooled, { clientId: gannet.clientId, matterId: gannet.id, depositor: brinewell.client, kind: 'wire', amount: 1_100_00, text: 'retainer' }) // prettier-ignore
  day(4)
  await askCorrection(orla(), { entryId: mixed.entryId, clientId: brinewell.clientId, matterId: brinewell.id, amount: 1_100_00, day: stage.day, reason: 'the wire was Brinewell’s; the wrong line was chosen' }) // prettier-ignore
  await layHold(orla(), early.ledgerId, { kind: 'lien', amount: 500_00, reason: 'Harrow Sound Chandlery, notice of lien of this month' })
  // Calls: one late, one that runs, one still a draft.
  const origin = 'http://127.0.0.1:4600'
  const call = (m: Known, amount: number, due: Day | null, message: string) =>
    makeCall(orla(), {
      bankAccountId: pooled,
      clientId: m.clientId,
      matterId: m.id,
      amount,
      dueOn: due,
      message,
      minimum: null,
      everyDays: null,
    })
  day(30)
  const late = await call(tidecrest, 6_000_00, addDays(stage.today, -8), 'For the experts’ reports in the coming months.')
  await sendCall(orla(), late.id, origin)
  day(7)
  const running = await call(brinewell, 3_500_00, addDays(stage.today, 14), 'For the survey of the beds, as we discussed by phone.')
  await sendCall(orla(), running.id, origin)
  stage.day = stage.today
  await call(varga, 1_200_00, null, '')
  await makeBankChecksOut(orla(), addDays(stage.today, -3))
  return { staleCheck: String(stale.checkNo) }
}
