import { addDays, type Day } from '@heron/core/calendar'
import { closingLines, faultOfShares, fiscalYear, isYearEnd } from '@heron/core/ledger'
import { showMoney, sum } from '@heron/core/money'
import { IsNull } from 'typeorm'
import { audit } from '../../platform/audit'
import type { Ctx } from '../../platform/context'
import { work } from '../../platform/database'
import { fieldFault, notFound, refused } from '../../platform/problem'
import { move, reverse } from '../door'
import { chart } from './sums'
import { ClosingJournal, PartnerShare } from './entities'
import { Firm } from '../../platform/shared-entities'
import { closingOf, emptyShares, firmYears, firstJournal, lastClosedYear, resultOf, sharesOf } from './year-queries'

export const setYears = (
  ctx: Ctx,
  input: { yearEnd: string; shares: readonly { accountId: number; basisPoints: number }[] },
): Promise<void> =>
  work(ctx, async (m) => {
    if (!isYearEnd(input.yearEnd)) throw fieldFault('yearEnd', 'Give a month and day like 12-31')
    const was = await firmYears(m, 'FOR UPDATE')
    if (was.yearEnd !== input.yearEnd && (await m.existsBy(ClosingJournal, { undoneBy: IsNull() })))
      throw fieldFault('yearEnd', 'Years were closed by the day it has. It stays')
    if (input.shares.length) {
      const fault = faultOfShares(input.shares.map((s) => ({ account: s.accountId, basisPoints: s.basisPoints })))
      if (fault) throw fieldFault('shares', fault)
      const equity = await chart(m)
      const wrong = input.shares.findIndex(
        (s) => !equity.some((a) => a.id === s.accountId && a.kind === 'equity' && a.role !== 'opening clearing'),
      )
      if (wrong >= 0) throw fieldFault(`shares.${wrong}.accountId`, 'Choose an account of equity')
    }
    const before = await sharesOf(m)
    await m.updateAll(Firm, { yearEnd: input.yearEnd })
    await emptyShares(m)
    for (const s of input.shares) await m.insert(PartnerShare, { accountId: s.accountId, basisPoints: s.basisPoints })
    await audit(m, ctx, { kind: 'set up', text: 'Fiscal year and shares of its result changed', subject: 'account', detail: { was: { ...was, shares: before }, became: input } }) // prettier-ignore
  })

/** Closes the books up to a day, or opens them again from one, but never a year that is closed: that is undone by itself. */
export const closePeriod = (ctx: Ctx, day: Day | null, reason: string): Promise<void> =>
  work(ctx, async (m) => {
    const { closedTo } = await firmYears(m, 'FOR UPDATE')
    if (day && day >= ctx.clock.today()) throw fieldFault('day', 'Close a period when it is over')
    const year = await lastClosedYear(m)
    if (year?.to && (day === null || day < year.to))
      throw refused('year-closed', `The year that ended on ${year.to} is closed. Undo its closing first.`)
    const opens = closedTo !== null && (day === null || day < closedTo)
    if (opens && !reason.trim()) throw fieldFault('reason', 'Say why the books are opened again')
    await m.updateAll(Firm, { booksClosedTo: day })
    await audit(m, ctx, { kind: opens ? 'opened' : 'closed', text: day ? `Books closed up to ${day}${opens ? `, opened from then on: ${reason}` : ''}` : `Books opened: ${reason}`, subject: 'account', detail: { was: closedTo, became: day } }) // prettier-ignore
  })

/** A year's income and expenses go to the partners' equity by their shares, and its books are closed. */
export const closeYear = (ctx: Ctx, to: Day, seen: number): Promise<{ journalId: number }> =>
  work(ctx, async (m) => {
    const { yearEnd, closedTo } = await firmYears(m, 'FOR UPDATE')
    const year = fiscalYear(to, yearEnd)
    if (year.to !== to) throw notFound('fiscal year')
    if (to >= ctx.clock.today()) throw refused('year-runs', 'This year is not over yet.')
    if (await closingOf(m, to)) throw refused('year-closed', 'This year is closed already.')
    const first = await firstJournal(m)
    // Years are closed in their order; one in which nothing was earned or spent has nothing to close.
    for (let day = addDays(year.from, -1); first?.day && first.day <= day;) {
      const before = fiscalYear(day, yearEnd)
      if (await closingOf(m, before.to)) break
      if ((await resultOf(m, before)).length) throw refused('year-runs', `Close the year that ended on ${before.to} first.`)
      day = addDays(before.from, -1)
    }
    if (closedTo && closedTo >= to)
      throw refused('period-closed', `The books are closed up to ${closedTo}. Open them up to the day before ${to}, then close the year.`)
    const shares = (await sharesOf(m)).map((s) => ({ account: s.accountId, basisPoints: s.basisPoints }))
    const fault = faultOfShares(shares)
    if (fault) throw refused('no-shares', `${fault}. Set the shares first.`)
    // Whoever posts holds the firm's row in common: what was being posted is done by now, and what comes is judged by what is closed.
    const result = await resultOf(m, year)
    const net = -sum(result.map((a) => a.balance)) || 0
    if (net !== seen) throw refused('changed-meanwhile', `The result is ${showMoney(net)} by now. Look again.`)
    const lines = closingLines(result, shares)
    if (lines.length < 2) throw refused('nothing-open', 'Nothing was earned or spent in this year. Close its books by date.')
    const journalId = await move(m, ctx, { day: to, kind: 'closing', memo: `Closing of the year that ended on ${to}` }, { lines })
    await m.insert(ClosingJournal, { journalId, yearTo: to })
    await m.updateAll(Firm, { booksClosedTo: to })
    await audit(m, ctx, { kind: 'closed', text: `Year that ended on ${to} closed, ${showMoney(net)} to equity`, subject: 'journal', subjectId: journalId }) // prettier-ignore
    return { journalId }
  })

/** Undoes the closing of the last closed year, by a mirrored entry; its books are open again from its first day on. */
export const openYear = (ctx: Ctx, to: Day, reason: string): Promise<{ journalId: number }> =>
  work(ctx, async (m) => {
    const { yearEnd } = await firmYears(m, 'FOR UPDATE')
    const closing = await closingOf(m, to)
    if (!closing) throw notFound('closed year')
    const last = await lastClosedYear(m)
    if (last!.to !== to) throw refused('year-closed', `The year that ended on ${last!.to} was closed after it. Undo that first.`)
    await m.updateAll(Firm, { booksClosedTo: addDays(fiscalYear(to, yearEnd).from, -1) })
    const journalId = await reverse(m, ctx, closing.journalId, to, reason, { kind: 'closing undone' })
    await m.update(ClosingJournal, { journalId: closing.journalId }, { undoneBy: journalId })
    await audit(m, ctx, {
      kind: 'opened',
      text: `Closing of the year that ended on ${to} undone: ${reason}`,
      subject: 'journal',
      subjectId: journalId,
    })
    return { journalId }
  })
