import { addDays, type Day } from '@heron/core/calendar'
import { writtenByHand } from '@heron/server/ledger'
import { makeContact } from '@heron/server/people'
import { row } from '@heron/server/platform'
import { enterBill, makeRecurringBill, payBills } from '@heron/server/vendors'
import { openDay, type Stage } from './stage'

const blank = { greeting: '', email: '', phone: '', notes: '', birthDate: null, language: '', pronouns: '', taxNumber: '', isPrivate: false, aliases: [], kinds: ['vendor'] } // prettier-ignore

/** Whom the firm owes: paper with a discount that is still open, a reporter for a matter, a bill that is overdue, one paid in part, rent that comes again. */
export async function layVendors(stage: Stage): Promise<void> {
  const m = () => stage.tx ?? stage.base.db.manager
  const day = (back: number): Day => (stage.day = openDay(addDays(stage.today, -back)))
  const orla = () => stage.as('Orla Petrakis')
  const account = async (code: string) => (await row<{ id: number }>(m(), `SELECT id FROM account WHERE code = ?`, [code]))!.id
  const depo = (await row<{ id: number }>(m(), `SELECT id FROM cost_kind WHERE code = 'DEPO'`))!.id
  const matter = (await row<{ id: number }>(m(), `SELECT m.id FROM matter m JOIN contact c ON c.id = m.client_id WHERE c.name LIKE '%Gannet%' AND m.closed_on IS NULL AND m.kind <> 'practice' ORDER BY m.id LIMIT 1`))! // prettier-ignore
  const vendor = async (name: string, address: string) => (await makeContact(orla(), { ...blank, kind: 'organization', name, address })).id
  day(60)
  const paper = await vendor('Halyard Paper & Print', '14 Ropewalk\nHarrow Sound')
  const reporters = await vendor('Saltmarsh Court Reporters', '3 Assize Row\nHarrow Sound')
  const search = await vendor('Lodestar Records Search', 'PO Box 77\nEast Wexmoor')
  const landlord = await vendor('Customs Landing Holdings', '1 Customs Landing\nHarrow Sound')
  const bill = (vendorId: number, at: Day, due: number, lines: { accountId?: number; matterId?: number; kindId?: number; text?: string; amount: number }[], more: object = {}) =>
    enterBill(orla(), { vendorId, day: at, dueOn: addDays(at, due), number: '', memo: '', discount: 0, discountOn: null, ...more, lines: lines.map((l) => ({ accountId: null, matterId: null, kindId: null, text: '', billable: null, ...l })) }) // prettier-ignore
  const office = await account('5040')
  await bill(search, day(48), 30, [{ accountId: office, amount: 412_50 }], { number: 'LR-2207', memo: 'Searches of the quarter' })
  const part = await bill(paper, day(30), 30, [{ accountId: office, amount: 1_260_00 }], { number: '88410', memo: 'Letterhead and toner' })
  const paid = await payBills(orla(), { bankAccountId: null, day: day(12), method: 'check', parts: [{ billId: part.id, amount: 600_00 }] })
  await writtenByHand(orla(), 'operating', paid.payments.map((p) => p.id)) // prettier-ignore
  await bill(reporters, day(9), 30, [{ matterId: matter.id, kindId: depo, text: 'Transcript of the harbor master, 214 pages', amount: 963_00 }], { number: 'T-5518' }) // prettier-ignore
  const now = day(3)
  await bill(paper, now, 30, [{ accountId: office, amount: 840_00 }], { number: '88502', memo: 'Binders for trial', discount: 16_80, discountOn: addDays(now, 10) }) // prettier-ignore
  await makeRecurringBill(orla(), { vendorId: landlord, memo: 'Storage room, Customs Landing', dayOfMonth: 28, everyMonths: 1, dueDays: 10, firstOn: stage.today, until: null, lines: [{ accountId: await account('5020'), matterId: null, kindId: null, text: '', amount: 350_00, billable: null }] }) // prettier-ignore
  stage.day = stage.today
}
