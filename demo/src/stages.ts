import { addDays } from '@heron/core/calendar'
import type { FirmPlan } from '@heron/server/firm'
import { setStage } from '@heron/server/matters'
import { row } from '@heron/server/platform'
import type { Office } from './office'
import { openDay, type Stage } from './stage'

/** Moves matters on through the stages of their area on the days due, at even intervals. */
export async function moveStages(stage: Stage, office: Office, areas: FirmPlan['areas']): Promise<void> {
  for (const { id, plan } of office.matters.filter((m) => m.plan.stage)) {
    const names = areas.find((a) => a.name === plan.area)!.stages
    const last = names.indexOf(plan.stage!)
    const opened = office.openedOn(plan)
    const span = plan.closedAfter ?? plan.age
    const name = names.find((_, k) => k > 0 && k <= last && openDay(addDays(opened, Math.floor((span * k) / (last + 1)))) === stage.day)
    if (!name) continue
    const found = await row<{ id: number }>(
      stage.tx!,
      `SELECT s.id FROM stage s JOIN matter m ON m.area_id = s.area_id WHERE m.id = ? AND s.name = ?`,
      [id, name],
    )
    await setStage(stage.as(plan.lead), id, found!.id)
  }
}
