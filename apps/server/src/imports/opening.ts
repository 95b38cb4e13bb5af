import { showDay, type Day } from '@heron/core/calendar'
import { openingBanks, openingClearing, type OpeningKind } from '@heron/core/ledger'
import { showMoney } from '@heron/core/money'
import { In } from 'typeorm'
import { Bill, openBill, openCredit } from '../billing'
import { openCost } from '../costs'
import { clearingDay, entriesUpTo, movedIn, openAccounts, openBank, type OpeningBankIn } from '../ledger'
import { may, type Ctx } from '../platform/context'
import { postTime, recordTime } from '../time'
import { openVendorBill } from '../vendors'
import type { Fault, Importer } from './importer'
import { columns, readRow } from './opening-rows'
import { key, known, type Ready, booksClosedTo, checksOnRecord, vendorBillsOnRecord } from './opening-queries'

/** What fits into one transaction that nobody waits long for. */
const mostRows = 20_000

/** The books of a firm as of a day, loaded whole: banks fit their statements, and opening clearing ends at zero. */
export const openingImporter: Importer<Ready> = {
  fields: async () => columns.map(([k, label, needed, more]) => ({ key: k, label, needed, known: more })),

  async judge(m, ctx, table, progress) {
    const faults: Fault[] = []
    if (!may(ctx.actor, 'books.post') || !may(ctx.actor, 'trust.post')) {
      faults.push({ row: 2, column: 'what', text: 'Whoever moves the books in keeps trust money and the books' })
      return { good: [], faults }
    }
    if (table.length > mostRows) {
      faults.push({ row: mostRows + 2, column: 'what', text: `At most ${mostRows.toLocaleString('en-US')} rows are brought at once` })
      return { good: [], faults }
    }
    const k = await known(m, ctx, table)
    const closedTo = (await booksClosedTo(m))?.day
    const today = ctx.clock.today()
    const read: { at: number; ready: Ready }[] = []
    const add = (row: number, column: string, text: string) => faults.push({ row, column, text })
    for (const [i, r] of table.entries()) {
      const ready = readRow(r, k, today, (column, text) => add(r.number, column, text))
      if (ready) read.push({ at: r.number, ready })
      if (i % 500 === 0) await progress((i / table.length) * 90)
    }
    // What stands twice, within the file or on record already.
    const seen = new Map<string, number>()
    const once = (at: number, what: string, column: string, text: string) => {
      if (seen.has(what)) add(at, column, `${text} stands in row ${seen.get(what)} already`)
      else seen.set(what, at)
    }
    for (const { at, ready: x } of read) {
      const { what, bankAccountId } = x.row
      if (closedTo && x.asOf <= closedTo) add(at, 'asOf', `The books are closed up to ${showDay(closedTo)}`)
      if (x.asOf !== read[0]!.ready.asOf) add(at, 'asOf', `All rows are of one day, and the first is of ${showDay(read[0]!.ready.asOf)}`)
      if (what === 'ledger') once(at, `ledger ${bankAccountId} ${JSON.stringify(x.owner)}`, 'client', 'This ledger')
      if (what === 'check') once(at, `check ${bankAccountId} ${Number(x.number)}`, 'number', `Check ${x.number}`)
      if (what === 'statement') once(at, `statement ${bankAccountId}`, 'account', 'The statement of this account')
      if (what === 'account') once(at, `account ${bankAccountId ?? ''} ${x.account ?? ''}`, 'account', 'This account')
      if (what === 'bill') once(at, `bill ${key(x.number)}`, 'number', `Bill ${x.number}`)
      if (what === 'vendor' && x.number) once(at, `vendor ${x.contactId} ${key(x.number)}`, 'number', `Bill ${x.number} of this vendor`)
    }
    const numbersOf = (what: OpeningKind) => read.filter((x) => x.ready.row.what === what)
    const bills = numbersOf('bill')
    for (let at = 0; at < bills.length; at += 500) {
      const used = new Set((await m.find(Bill, { select: { number: true, id: true }, where: { number: In(bills.slice(at, at + 500).map((b) => b.ready.number)) } })).map((b) => key(b.number))) // prettier-ignore
      for (const b of bills.slice(at, at + 500))
        if (used.has(key(b.ready.number))) add(b.at, 'number', `There is a bill ${b.ready.number} already`)
    }
    const slices = <T>(list: readonly T[]) =>
      Array.from({ length: Math.ceil(list.length / 500) }, (_, n) => list.slice(n * 500, n * 500 + 500))
    for (const own of slices(numbersOf('check'))) {
      const used = new Set((await checksOnRecord(m, own)).map((c) => c.key))
      for (const c of own)
        if (used.has(`${c.ready.row.bankAccountId} ${Number(c.ready.number)}`)) add(c.at, 'number', `Check ${c.ready.number} of this account is on record already`) // prettier-ignore
    }
    for (const own of slices(numbersOf('vendor').filter((v) => v.ready.number))) {
      const used = new Set((await vendorBillsOnRecord(m, own)).map((v) => v.key))
      for (const v of own)
        if (used.has(`${v.ready.contactId} ${key(v.ready.number)}`)) add(v.at, 'number', `Bill ${v.ready.number} of this vendor is on record already`) // prettier-ignore
    }
    // What has not cleared pays nothing: until it has, it must be known whose it is.
    const clearing = new Map<Day, Day>()
    for (const { at, ready: x } of numbersOf('deposit')) {
      const bank = k.banks.find((b) => b.id === x.row.bankAccountId)
      if (!bank || bank.kind === 'operating' || x.owner) continue
      const clears = clearing.get(x.day) ?? (await clearingDay(m, 'check', x.day))
      clearing.set(x.day, clears)
      if (clears > today) add(at, 'client', `It clears only on ${showDay(clears)}. Give the client, or the matter, whose ledger it stands on; one row for each`) // prettier-ignore
    }
    const sums = openingBanks(read.map((x) => x.ready.row))
    const named = (id: number) => k.banks.find((b) => b.id === id)!
    if (sums.length) {
      const ids = sums.map((s) => s.bankAccountId)
      const firstOf = (id: number) => read.find((x) => x.ready.row.bankAccountId === id)!.at
      const before = await movedIn(m, ids)
      for (const b of before) add(firstOf(b.id), 'account', `${b.name} was moved in before, as of ${showDay(b.day)}`)
      for (const e of await entriesUpTo(m, ids, read[0]!.ready.asOf))
        if (!before.some((b) => b.id === e.id))
          add(firstOf(e.id), 'account', `${e.name} has entries of ${showDay(e.day)} already. Move it in as of a day before its first entry`)
    }
    const last = table.at(-1)?.number ?? 2
    for (const s of sums) {
      const bank = named(s.bankAccountId)
      const at = read.find((x) => x.ready.row.bankAccountId === s.bankAccountId && x.ready.row.what === 'statement')?.at ?? last
      if (s.said !== null && s.said !== s.statement)
        add(at, 'amount', `The statement of ${bank.name} would show ${showMoney(s.statement)} (${showMoney(s.book)} in the book, ${showMoney(s.checks)} of checks and ${showMoney(s.deposits)} of deposits in transit), not ${showMoney(s.said)}`) // prettier-ignore
      if (bank.kind !== 'operating' && s.statement < 0)
        add(at, 'amount', `The deposits in transit of ${bank.name} are more than its ledgers hold`)
    }
    // Only whole books are judged as a whole: while a row fails, the rest cannot add up.
    const left = openingClearing(read.map((x) => x.ready.row))
    if (!faults.length && left)
      add(last, 'amount', `Opening clearing would end at ${showMoney(Math.abs(left))} ${left > 0 ? 'debit' : 'credit'}, not at zero. Assets, what is owed and the partners’ equity must balance`) // prettier-ignore
    const bad = new Set(faults.map((f) => f.row))
    await progress(100)
    return { good: read.filter((x) => !bad.has(x.at)).map((x) => x.ready), faults }
  },

  async load(m, ctx, ready, progress) {
    const inside: Ctx = { ...ctx, tx: m }
    const asOf = ready[0]!.asOf
    const of = (what: OpeningKind) => ready.filter((r) => r.row.what === what)
    await openAccounts(m, ctx, asOf, of('account').filter((a) => a.account).map((a) => ({ accountId: a.account!, amount: a.row.amount }))) // prettier-ignore
    for (const s of openingBanks(ready.map((r) => r.row))) {
      const own = <T extends Ready>(list: readonly T[]) => list.filter((r) => r.row.bankAccountId === s.bankAccountId)
      const bank: OpeningBankIn = {
        bankAccountId: s.bankAccountId,
        book: s.book,
        ledgers: own(of('ledger')).map((r) => ({ owner: r.owner!, amount: r.row.amount })),
        checks: own(of('check')).map((r) => ({ number: Number(r.number), writtenOn: r.day, payee: r.name, amount: r.row.amount, memo: r.text, owner: r.owner ?? null })), // prettier-ignore
        deposits: own(of('deposit')).map((r) => ({ day: r.day, reference: r.number.slice(0, 60), amount: r.row.amount, text: r.text, owner: r.owner ?? null })), // prettier-ignore
      }
      await openBank(m, ctx, asOf, bank)
    }
    let done = 0
    const rest = ready.filter((r) => ['bill', 'credit', 'vendor', 'cost', 'time'].includes(r.row.what))
    for (const r of rest) {
      const { amount, what } = r.row
      if (what === 'bill')
        await openBill(m, ctx, asOf, { number: r.number, matterId: r.matterId!, payerId: r.payerId!, issuedOn: r.day, dueOn: r.due, fees: r.fees, costs: r.costs, tax: r.tax, timekeeperId: r.userId! }) // prettier-ignore
      else if (what === 'credit') await openCredit(m, ctx, asOf, { payerId: r.payerId!, day: r.day, amount, reference: r.number })
      else if (what === 'vendor')
        await openVendorBill(m, ctx, asOf, { vendorId: r.contactId!, number: r.number, day: r.day, dueOn: r.due, amount, accountId: r.account ?? null, memo: r.text }) // prettier-ignore
      else if (what === 'cost')
        await openCost(m, ctx, asOf, r.matterId!, { day: r.day, kindId: r.kindId!, amount, payee: r.name, text: r.text || 'Cost of before the firm moved in' }) // prettier-ignore
      else {
        const { id } = await recordTime(inside, {
          matterId: r.matterId!,
          day: r.day,
          text: r.text,
          duration: r.hours,
          rate: r.rate,
          userId: r.userId!,
        })
        await postTime(inside, [id])
      }
      if ((done += 1) % 100 === 0) await progress((done / rest.length) * 100)
    }
  },
}
