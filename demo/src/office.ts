import type { TimeIn } from '@heron/contract'
import { addDays, type Day } from '@heron/core/calendar'
import {
  approve,
  changeLine,
  issueBill,
  makePreBill,
  payBillFromTrust,
  receivePayment,
  reversePayment,
  setDiscount,
  writeOff,
} from '@heron/server/billing'
import { ledgers, makeSheet, payNow, postSheet, voidPayment } from '@heron/server/ledger'
import { earnPortion, openMatter } from '@heron/server/matters'
import { checkConflicts, decideHit } from '@heron/server/people'
import { row, rows } from '@heron/server/platform'
import { costKinds, recordCost } from '@heron/server/costs'
import { postTime, recordTime, reverseTime } from '@heron/server/time'
import { chance } from './chance'
import { costs, keepers, pace, taskOf } from './habits'
import { clients, meetAll } from './people'
import { matterPlans, work, type MatterPlan } from './matters'
import { openDay, type Stage } from './stage'
import { fundByGrant } from './wordings'
import { giveWay, openOf, payBackWhatIsDue, type Overpaid } from './settling'

/** What most contacts have nothing of. */

interface OpenMatter {
  id: number
  plan: MatterPlan
  clientId: number
  /** Bills that wait for payment: who pays when. */
  awaiting: { billId: number; on: Day; total: number }[]
}

/** The office at work: opens matters, records, bills and moves money as the days go by. */
export class Office {
  readonly contacts = new Map<string, number>()
  readonly matters: OpenMatter[] = []
  private readonly plans: MatterPlan[]
  private readonly dice = chance(20261123)
  private readonly pending: { plan: MatterPlan; matter: OpenMatter; cents: number; on: Day }[] = []
  private events = 0
  private overpaid: Overpaid[] = []

  constructor(
    private readonly stage: Stage,
    private readonly pooled: number,
  ) {
    this.plans = matterPlans(
      clients.map(([name]) => name),
      62,
    )
  }

  async meetPeople() {
    await meetAll(this.stage.as('Billie Strand'), this.contacts)
  }

  private pick<T>(list: readonly T[]): T {
    return list[Math.floor(this.dice() * list.length)]!
  }

  find(short: string): OpenMatter {
    return this.matters.find((m) => m.plan.short === short)!
  }

  /** Nobody opens or closes a matter while the office is closed. */
  openedOn = (plan: MatterPlan): Day => openDay(addDays(this.stage.today, -plan.age))
  closedOn = (plan: MatterPlan): Day | null => (plan.closedAfter ? openDay(addDays(this.stage.today, plan.closedAfter - plan.age)) : null)

  async openMatters() {
    const { stage } = this
    for (const plan of this.plans.filter((p) => this.openedOn(p) === stage.day)) {
      const ctx = stage.as(plan.lead)
      const clientId = this.contacts.get(plan.client)!
      const names = [plan.client, ...(plan.adverse ? [plan.adverse] : [])]
      const check = await checkConflicts(
        ctx,
        names.map((name) => ({ name })),
        [plan.client],
      )
      // What the firm's own clients hit is decided at once; a few stay for the lead to look at.
      for (const hit of check.hits)
        if (plan.age > 45) await decideHit(ctx, hit.id, 'no conflict', hit.term === plan.client ? 'our own client' : 'another person')
      const area = await row<{ id: number; rule: string | null }>(
        stage.tx!,
        `SELECT id, rule_set_key AS rule FROM practice_area WHERE name = ?`,
        [plan.area],
      )
      const federal = area!.rule === 'us-federal-civil'
      const team = [
        { userId: stage.id(plan.lead), role: 'lead' as const, rate: null },
        { userId: stage.id('Billie Strand'), role: 'paralegal' as const, rate: null },
        ...(plan.lead === 'Noor Haddad-Lind'
          ? [
              { userId: stage.id('Tomas Okafor-Reyes'), role: 'lawyer' as const, rate: null },
              { userId: stage.id('Jun Aldana'), role: 'assistant' as const, rate: null },
            ]
          : []),
        ...(plan.outside || plan.weight > 0.85 ? [{ userId: stage.id('Sable Whitcombe'), role: 'outside' as const, rate: null }] : []),
      ]
      const opened = await openMatter(ctx, {
        kind: 'client',
        secondNumber: '',
        judgeId: federal && plan.adverse ? this.contacts.get('Hon. Miriam Oyelaran')! : null,
        originatingId: stage.id(this.pick(['Ingrid Calloway', 'Desmond Fenn', plan.lead])),
        tags: [],
        clientIds: [],
        enquiryId: null,
        procedures: [],
        clientId,
        name: plan.name,
        shortName: plan.short,
        openedOn: stage.day,
        areaId: area!.id,
        description: plan.description,
        parties: [
          { contactId: clientId, role: plan.side ?? 'client', side: 'ours', counsel: 'us', counselId: null, servedOn: null },
          ...(plan.adverse
            ? [
                {
                  contactId: this.contacts.get(plan.adverse)!,
                  role: plan.side === 'plaintiff' ? 'defendant' : plan.side === 'opposer' ? 'applicant' : 'claimant',
                  side: 'adverse' as const,
                  counsel: '',
                  counselId: this.contacts.get('Corvin Achterberg')!,
                  servedOn: plan.side === 'plaintiff' ? addDays(stage.day, 21) : null,
                },
              ]
            : []),
        ],
        conflictCheckId: check.id,
        court: plan.adverse && area!.rule ? (federal ? 'U.S. District Court, Eastern Wexmoor' : 'Superior Court of Wexmoor') : '',
        caseNumber: plan.caseNumber ?? '',
        ourSide: plan.side ?? '',
        ruleSetKey: plan.adverse || plan.area === 'Estates' ? area!.rule : null,
        leadId: stage.id(plan.lead),
        team,
        access: 'firm',
        billing: plan.flat ? 'flat' : 'hourly',
        contingent: null,
        flatFee: (plan.flat ?? []).map(([label, dollars]) => ({ label, amount: dollars * 100, due: 'opening' as const, stageId: null })),
        billToId: clientId,
        payers: plan.insurer
          ? [
              { contactId: clientId, fixed: null, basisPoints: 4_000 },
              { contactId: this.contacts.get(plan.insurer)!, fixed: null, basisPoints: 6_000 },
            ]
          : [],
      })
      const matter = { id: opened.id, plan, clientId, awaiting: [] }
      this.matters.push(matter)
      if (plan.area === 'Wages') await fundByGrant(stage, ctx, opened.id)
      if (plan.deposit)
        this.pending.push({ plan, matter, cents: plan.deposit * 100, on: addDays(stage.day, 3 + Math.floor(this.dice() * 6)) })
    }
  }

  private live(keeper: string): OpenMatter[] {
    const { stage } = this
    return this.matters.filter((m) => {
      const closed = this.closedOn(m.plan)
      if (closed && closed <= stage.day) return false
      if (keeper === 'Sable Whitcombe') return m.plan.outside === true || m.plan.weight > 0.85
      if (keeper === 'Desmond Fenn') return ['Estates', 'Boatyards and small business'].includes(m.plan.area)
      if (keeper === 'Noor Haddad-Lind') return m.plan.lead === keeper || m.plan.area === 'Wages'
      return true
    })
  }

  private weighed(list: OpenMatter[]): OpenMatter {
    let at = this.dice() * list.reduce((n, m) => n + m.plan.weight, 0)
    return list.find((m) => (at -= m.plan.weight) <= 0) ?? list[0]!
  }

  /** Everyone records the day, one after another: the firm is the same each time that it is loaded. */
  async workDay() {
    const { stage } = this
    const days = keepers.map((keeper) => ({ keeper, entries: this.entriesOf(keeper) }))
    await stage.base.db.transaction(async (m) => {
      for (const { keeper, entries } of days) for (const entry of entries) await recordTime(stage.as(keeper, m), entry)
    })
    const around = this.live('Billie Strand')
    if (this.dice() < 0.4 && around.length) {
      const [code, text, cents, payee, units] = this.pick(costs)
      const kind = (await costKinds(stage.as('Orla Petrakis'))).find((k) => k.code === code)!
      await recordCost(stage.as('Orla Petrakis'), this.weighed(around).id, {
        day: stage.day,
        kindId: kind.id,
        text,
        payee,
        ...(units ? { units } : { amount: cents }),
      })
    }
  }

  private entriesOf(keeper: string): TimeIn[] {
    const list = this.live(keeper)
    if (!list.length) return []
    return Array.from({ length: Math.floor(pace[keeper]! + this.dice()) }, () => {
      const [activity, text] = this.pick(work)
      const free = this.dice() > 0.97
      return {
        matterId: this.weighed(list).id,
        day: this.stage.day,
        activity,
        text,
        duration: `${12 + Math.floor(this.dice() ** 2 * 190)}m`,
        rate: null,
        charge: free ? ('no charge' as const) : ('billable' as const),
        userId: null,
        task: taskOf[activity] ?? null,
        inCourt: activity === 'A109',
        privateAttorney: keeper === 'Sable Whitcombe',
      }
    })
  }

  /** Friday: everyone posts the week, and now and then an entry turns out to be wrong. */
  async postWeek() {
    const m = this.stage.tx!
    for (const keeper of keepers) {
      const ctx = this.stage.as(keeper)
      const drafts = await rows<{ id: number }>(
        m,
        `SELECT id FROM time_entry WHERE user_id = ? AND state = 'draft' AND day < ? ORDER BY id`,
        [ctx.actor.id, addDays(this.stage.today, -2)],
      )
      if (!drafts.length) continue
      await postTime(
        ctx,
        drafts.map((d) => d.id),
      )
      if (this.dice() < 0.06) await reverseTime(ctx, this.pick(drafts).id, { reason: 'entered on the wrong matter', day: null })
    }
  }

  /** Deposits that arrive, bills that are paid, checks out of trust. */
  async money() {
    const { stage } = this
    const orla = stage.as('Orla Petrakis')
    const arrived = this.pending.filter((p) => p.on <= stage.day)
    if (arrived.length && (arrived.length > 1 || this.dice() < 0.95)) {
      for (const a of arrived) this.pending.splice(this.pending.indexOf(a), 1)
      const receipts = arrived.map(({ matter, plan, cents }, i) => ({
        clientId: matter.clientId,
        matterId: matter.id,
        depositor: plan.client,
        kind: this.dice() < 0.25 ? ('wire' as const) : ('check' as const),
        reference: String(1200 + Math.floor(this.dice() * 8000) + i),
        text: 'Deposit for fees and costs',
        amount: cents,
      }))
      const sheet = await makeSheet(orla, {
        bankAccountId: this.pooled,
        day: stage.day,
        controlTotal: receipts.reduce((n, r) => n + r.amount, 0),
        receipts,
      })
      await postSheet(orla, sheet.id)
    }
    for (const matter of this.matters)
      for (const due of matter.awaiting.filter((a) => a.on <= stage.day)) {
        matter.awaiting.splice(matter.awaiting.indexOf(due), 1)
        await this.settle(matter, due.billId)
      }
    await payBackWhatIsDue(orla, stage, this.overpaid)
    if (this.dice() < 0.12) await this.checkOut()
  }

  private async settle(matter: OpenMatter, billId: number) {
    const { stage } = this
    const orla = stage.as('Orla Petrakis')
    const bill = await row<{ payerId: number }>(stage.tx!, `SELECT payer_id AS payerId FROM bill WHERE id = ?`, [billId])
    let open = await openOf(stage.tx!, billId)
    if (open <= 0) return
    if (this.events % 43 === 42) open = await giveWay(orla, stage, billId, open)
    const held = (await this.held(matter))[0]
    this.events += 1
    // Only the client's own bills are paid from the client's money.
    const fromTrust = bill!.payerId === matter.clientId ? Math.min(open, Math.max(0, held?.available ?? 0)) : 0
    if (held && fromTrust > 0)
      await payBillFromTrust(orla, { ledgerId: held.id, billId, day: stage.day, amount: fromTrust, overrideReason: '' })
    const left = open - fromTrust
    if (left > 0 && this.dice() < 0.82) {
      const part = this.events % 7 === 0 ? Math.ceil(left / 2) : left
      // A few pay more than they owe; most of that is paid back.
      const over = this.events % 31 === 0 && part === left ? 5_000 * (1 + (this.events % 4)) : 0
      const paid = await receivePayment(orla, {
        payerId: bill!.payerId,
        day: stage.day,
        amount: part + over,
        kind: this.events % 3 ? 'check' : 'transfer',
        reference: String(4000 + this.events),
        parts: [{ billId, amount: part }],
      })
      if (over && this.events % 2) this.overpaid.push({ paymentId: paid.id, amount: over, on: addDays(stage.day, 12) })
      // Now and then a check comes back, and is made good later.
      if (this.events % 41 === 0 && !over) {
        await reversePayment(orla, paid.id, stage.day, 'check returned unpaid')
      }
    }
    // What is still owed is asked for again; most pay, a few never do.
    const rest = left > 0 ? await openOf(stage.tx!, billId) : 0
    if (rest > 0 && this.dice() < 0.93)
      matter.awaiting.push({ billId, on: addDays(stage.day, 9 + Math.floor(this.dice() * 30)), total: rest })
    else if (rest > 0 && this.events % 2)
      await writeOff(orla, billId, { day: stage.day, amount: rest, reason: 'asked for four times; nothing is to be had' })
    // A deposit used up is asked for again.
    if (matter.plan.deposit && (held?.available ?? 0) - fromTrust < matter.plan.deposit * 25 && this.dice() < 0.75)
      this.pending.push({
        plan: matter.plan,
        matter,
        cents: matter.plan.deposit * 100,
        on: addDays(stage.day, 4 + Math.floor(this.dice() * 9)),
      })
  }

  private async held(matter: OpenMatter) {
    const ctx = this.stage.as('Orla Petrakis')
    // The list is read inside the day's transaction, so that it knows what the day has done.
    const inside = { ...ctx, db: { ...ctx.db, manager: this.stage.tx! } as typeof ctx.db }
    return (await ledgers(inside, { q: '', matterId: matter.id, withMoney: 'yes', page: 1, size: 5 })).rows
  }

  private async checkOut() {
    const { stage } = this
    const orla = stage.as('Orla Petrakis')
    const list = this.live('Billie Strand')
    if (!list.length) return
    const matter = this.weighed(list)
    const held = (await this.held(matter))[0]
    if (!held || held.available < 1200_00) return
    const [, text, cents, payee] = this.pick(costs.filter((c) => c[3] !== ''))
    const paid = await payNow(orla, {
      ledgerId: held.id,
      day: stage.day,
      method: 'check',
      payeeName: payee,
      payeeAddress: 'Harrow Sound, Wexmoor 04417',
      amount: cents,
      memo: text,
      checkNo: null,
      overrideReason: '',
    })
    if (paid.checkNo! % 11 === 0) await voidPayment(orla, paid.id, { day: stage.day, reason: 'written to the wrong payee' })
  }

  /** The third of the month: pre-bills of last month's work, reviewed, approved and issued. */
  async billMonth() {
    const { stage } = this
    const m = stage.tx!
    const orla = stage.as('Orla Petrakis')
    const to = addDays(stage.day, -3)
    // The month just ended is still in review when the demo opens.
    const latest = addDays(stage.today, -31) < stage.day
    let left = 0
    for (const matter of this.matters) {
      const worth = await row<{ n: number }>(
        m,
        `SELECT COALESCE(SUM(amount), 0) AS n FROM time_entry WHERE matter_id = ? AND state = 'posted' AND bill_id IS NULL AND day <= ?`,
        [matter.id, to],
      )
      const portions = await rows(m, `SELECT 1 FROM fee_portion WHERE matter_id = ? AND bill_id IS NULL`, [matter.id])
      if (matter.plan.flat ? !portions.length : worth!.n < 2600_00) continue
      const lead = stage.as(matter.plan.lead)
      const made = await makePreBill(orla, matter.id, to).catch(() => null)
      if (!made) continue
      if (latest && matter.plan.lead === 'Noor Haddad-Lind' && left < 3) {
        left += 1
        continue
      }
      if (this.dice() < 0.3) {
        const line = await row<{ id: number; text: string; worked: number }>(
          m,
          `SELECT id, text, worked FROM pre_bill_line WHERE pre_bill_id = ? AND kind = 'time' AND charged > 20000 ORDER BY id DESC LIMIT 1`,
          [made.id],
        )
        if (line)
          await changeLine(lead, made.id, {
            lineId: line.id,
            text: line.text,
            charged: Math.round(line.worked / 200) * 100,
            noCharge: false,
            heldBack: false,
          })
      }
      if (this.dice() < 0.12) await setDiscount(lead, made.id, { amount: 0, basisPoints: 500 })
      await approve(lead, made.id, true)
      if (latest && left < 4 && this.dice() < 0.3) {
        left += 1
        continue
      }
      const bill = await issueBill(orla, made.id, stage.day)
      for (const { id } of [bill, ...bill.others])
        matter.awaiting.push({ billId: id, on: addDays(stage.day, 5 + Math.floor(this.dice() * 50)), total: 0 })
      for (const portion of matter.plan.flat
        ? await rows<{ id: number }>(m, `SELECT id FROM fee_portion WHERE matter_id = ? AND earned_on IS NULL`, [matter.id])
        : [])
        await earnPortion(lead, portion.id, stage.day)
    }
  }
}
