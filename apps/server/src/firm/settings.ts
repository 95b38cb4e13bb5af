import type { Day } from '@heron/core/calendar'
import { counted } from '@heron/core/words'
import type { FirmSettings } from '@heron/contract'
import { faultOfNumberPattern, formatMatterNumber, numberSeries } from '@heron/core/matters'
import { audit } from '../platform/audit'
import type { Ctx } from '../platform/context'
import { row, run, work } from '../platform/database'
import { fieldFault, notFound } from '../platform/problem'
import { differences } from '../people'
import { ruleSets } from '../platform/rule-sets'
import { Counter } from '../platform/entities'
import { FirmHoliday } from './entities'
import { Firm } from '../platform/shared-entities'

export async function firmSettings(ctx: Ctx) {
  const m = ctx.db.manager
  const f = await row<
    Omit<FirmSettings, 'workDays' | 'twoPeopleForBills' | 'paymentOrder'> & {
      workDays: string
      twoPeopleForBills: number
      paymentOrder: string
    }
  >(
    m,
    `SELECT name, address, phone, district, zone, time_unit_minutes AS timeUnitMinutes, time_rounding AS timeRounding, tax_number AS taxNumber, bill_terms_days AS billTermsDays, trust_notice_days AS trustNoticeDays, two_people_for_bills = 1 AS twoPeopleForBills,
            tax_basis_points AS taxBasisPoints, COALESCE(tax_soft_basis_points, tax_basis_points) AS taxSoftBasisPoints, COALESCE(tax_hard_basis_points, 0) AS taxHardBasisPoints,
            payment_order AS paymentOrder, matter_pattern AS matterPattern, work_days AS workDays FROM firm`,
  )
  if (!f) throw notFound('firm')
  const year = Number(ctx.clock.today().slice(0, 4))
  const last = await m.findOne(Counter, { select: { value: true, name: true }, where: { name: numberSeries(f.matterPattern, year) } })
  return {
    ...f,
    twoPeopleForBills: Boolean(f.twoPeopleForBills),
    paymentOrder: f.paymentOrder.split(',') as FirmSettings['paymentOrder'],
    workDays: JSON.parse(f.workDays) as number[],
    holidays: await m.find(FirmHoliday, { select: { day: true, name: true }, order: { day: 'ASC' } }),
    nextNumber: formatMatterNumber(f.matterPattern, { year, n: (last?.value ?? 0) + 1, client: 1 }),
    districts: [...new Set([...(await ruleSets(m)).values()].flatMap((s) => Object.keys(s.set.districtHolidays)))],
  }
}

export async function changeFirm(ctx: Ctx, input: FirmSettings): Promise<void> {
  await work(ctx, async (m) => {
    const fault = faultOfNumberPattern(input.matterPattern)
    if (fault) throw fieldFault('matterPattern', fault)
    const { holidays: _h, nextNumber: _n, districts: _d, ...was } = await firmSettings(ctx)
    await m.updateAll(Firm, {
      name: input.name,
      address: input.address,
      phone: input.phone,
      district: input.district,
      zone: input.zone,
      timeUnitMinutes: input.timeUnitMinutes,
      timeRounding: input.timeRounding,
      taxNumber: input.taxNumber,
      billTermsDays: input.billTermsDays,
      trustNoticeDays: input.trustNoticeDays,
      twoPeopleForBills: input.twoPeopleForBills,
      taxBasisPoints: input.taxBasisPoints,
      taxSoftBasisPoints: input.taxSoftBasisPoints,
      taxHardBasisPoints: input.taxHardBasisPoints,
      paymentOrder: input.paymentOrder.join(','),
      matterPattern: input.matterPattern,
      workDays: JSON.stringify([...new Set(input.workDays)].sort()),
    })
    await audit(m, ctx, {
      kind: 'set up',
      text: 'Settings of the firm changed',
      subject: 'firm',
      subjectId: 1,
      detail: differences(was, input),
    })
  })
  ctx.clock.standIn?.(input.zone)
}

export function setHolidays(ctx: Ctx, holidays: readonly { day: Day; name: string }[]): Promise<void> {
  return work(ctx, async (m) => {
    const seen = new Set<string>()
    holidays.forEach((h, i) => {
      if (seen.has(h.day)) throw fieldFault(`holidays.${i}.day`, 'This day stands in the list already')
      seen.add(h.day)
    })
    await run(m, `DELETE FROM firm_holiday`)
    for (const h of holidays) await m.insert(FirmHoliday, { day: h.day, name: h.name })
    await audit(m, ctx, {
      kind: 'set up',
      text: `${counted(holidays.length, 'day')} on which the firm is closed`,
      subject: 'firm',
      subjectId: 1,
    })
  })
}
