import type { Day } from '@heron/core/calendar'
import { counted } from '@heron/core/words'
import type { FirmSettings } from '@heron/contract'
import { faultOfNumberPattern, formatMatterNumber, numberSeries } from '@heron/core/matters'
import { audit } from '../platform/audit'
import type { Ctx } from '../platform/context'
import { work } from '../platform/database'
import { fieldFault, notFound } from '../platform/problem'
import { differences } from '../people'
import { ruleSets } from '../platform/rule-sets'
import { Counter } from '../platform/entities'
import { FirmHoliday } from './entities'
import { Firm } from '../platform/shared-entities'
import { emptyHolidays, settingsRow } from './queries'

export async function firmSettings(ctx: Ctx) {
  const m = ctx.db.manager
  const f = await settingsRow(m)
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
    await emptyHolidays(m)
    for (const h of holidays) await m.insert(FirmHoliday, { day: h.day, name: h.name })
    await audit(m, ctx, {
      kind: 'set up',
      text: `${counted(holidays.length, 'day')} on which the firm is closed`,
      subject: 'firm',
      subjectId: 1,
    })
  })
}
