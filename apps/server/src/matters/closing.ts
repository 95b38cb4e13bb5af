import { counted, agreeing } from '@heron/core/words'
import { showMoney } from '@heron/core/money'
import type { EntityManager } from 'typeorm'
import { requireKept, requireMatter } from '../platform/access'
import { withdrawOfMatter } from '../docket'
import { audit } from '../platform/audit'
import { may, type Ctx } from '../platform/context'
import { row, run, work } from '../platform/database'
import { fieldFault, refused } from '../platform/problem'
import { Matter } from './entities'
import { heldOn, owedOn, unbilledOn } from '../platform/figures'

interface Finding {
  key: string
  text: string
  /** Money of a client's in trust is settled before the file is put away; the rest is asked for. */
  blocks: boolean
}

async function findings(m: EntityManager, ctx: Ctx, id: number): Promise<Finding[]> {
  const n = await row<{
    time: number
    fees: number
    drafts: number
    costs: number
    preBills: number
    owed: number
    held: number
    dates: number
    tasks: number
    conflicts: number
  }>(
    m,
    `SELECT ${unbilledOn.time('x')} AS time, ${unbilledOn.portions('x')} AS fees,
            (SELECT COUNT(*) FROM time_entry WHERE matter_id = x.id AND state = 'draft') AS drafts,
            ${unbilledOn.costs('x')} AS costs,
            (SELECT COUNT(*) FROM pre_bill WHERE matter_id = x.id AND state <> 'issued') AS preBills,
            ${owedOn('x.id')} AS owed,
            ${heldOn('x.id')} AS held,
            (SELECT COUNT(*) FROM docket_entry WHERE matter_id = x.id AND day >= ? AND mark IN ('open', 'in hand') AND NOT left_out) AS dates,
            (SELECT COUNT(*) FROM task WHERE matter_id = x.id AND done_at IS NULL) AS tasks,
            (SELECT COUNT(*) FROM conflict_hit h JOIN conflict_check k ON k.id = h.check_id WHERE k.matter_id = x.id AND h.decision IS NULL) AS conflicts
       FROM matter x WHERE x.id = ?`,
    [ctx.clock.today(), id],
  )
  const count = (k: number, one: string, many: string) => `${k} ${k === 1 ? one : many}`
  // Those who see no money are told that there is something, not how much.
  const amount = (cents: number) => (may(ctx.actor, 'bills.see') ? showMoney(cents) : 'an amount')
  const list: (Finding | null)[] = [
    n!.held ? { key: 'trust', text: `${amount(n!.held)} is held in trust. Pay it out or bill against it first.`, blocks: true } : null,
    n!.preBills
      ? { key: 'pre-bills', text: `${count(n!.preBills, 'pre-bill waits', 'pre-bills wait')}. Issue or drop it first.`, blocks: true }
      : null,
    n!.drafts ? { key: 'drafts', text: `${count(n!.drafts, 'draft of time is', 'drafts of time are')} not posted`, blocks: false } : null,
    n!.time ? { key: 'time', text: `${amount(n!.time)} of time is not billed`, blocks: false } : null,
    n!.fees ? { key: 'fees', text: `${amount(n!.fees)} of flat fees is not billed`, blocks: false } : null,
    n!.costs ? { key: 'costs', text: `${amount(n!.costs)} of costs is not billed`, blocks: false } : null,
    n!.owed ? { key: 'bills', text: `${amount(n!.owed)} of bills is not paid`, blocks: false } : null,
    n!.dates ? { key: 'dates', text: `${count(n!.dates, 'coming date leaves', 'coming dates leave')} all calendars`, blocks: false } : null,
    n!.tasks ? { key: 'tasks', text: `${count(n!.tasks, 'task is', 'tasks are')} not done`, blocks: false } : null,
    n!.conflicts
      ? { key: 'conflicts', text: `${count(n!.conflicts, 'conflict hit is', 'conflict hits are')} not decided`, blocks: false }
      : null,
  ]
  return list.filter((f): f is Finding => f !== null)
}

/** What is still open on a matter, each to be settled or accepted before it is closed. */
export async function closing(ctx: Ctx, id: number): Promise<Finding[]> {
  await requireMatter(ctx.db.manager, ctx, id)
  return findings(ctx.db.manager, ctx, id)
}

/** Closes a matter: its dates leave all calendars and the file goes to the archive. */
export function closeMatter(ctx: Ctx, id: number, input: { day: string; note: string; accepted: string[] }): Promise<void> {
  return work(ctx, async (m) => {
    const matter = await requireKept(m, ctx, id)
    if (matter.closedOn) throw refused('matter-closed', 'This matter is closed already.')
    if (input.day < matter.openedOn || input.day > ctx.clock.today()) throw fieldFault('day', 'Give a day between the opening and today')
    await m.query(`SELECT id FROM matter WHERE id = ? FOR UPDATE`, [id])
    const open = await findings(m, ctx, id)
    const block = open.find((f) => f.blocks)
    if (block) throw refused('closing-blocked', block.text)
    const asked = open.find((f) => !input.accepted.includes(f.key))
    if (asked) throw refused('closing-asks', `${asked.text}. Settle it, or tick that it may stay.`)
    await withdrawOfMatter(m, ctx, id)
    await m.update(Matter, id, { closedOn: input.day, closingNote: input.note })
    await audit(m, ctx, {
      kind: 'closed',
      text: `Matter closed${input.note ? `: ${input.note}` : ''}`,
      matterId: id,
      subject: 'matter',
      subjectId: id,
      detail: { was: {}, became: { accepted: open.map((f) => f.text).join('; ') } },
    })
  })
}

/** Reopens a matter. Dates still ahead come back to the calendars; those that passed meanwhile stay off them. */
export function reopenMatter(ctx: Ctx, id: number, reason: string): Promise<{ dates: number }> {
  return work(ctx, async (m) => {
    const matter = await requireKept(m, ctx, id)
    if (!matter.closedOn) throw refused('matter-open', 'This matter is open.')
    await run(
      m,
      `UPDATE docket_entry SET off_calendar = TRUE WHERE matter_id = ? AND day >= ? AND day < ? AND mark IN ('open', 'in hand')`,
      [id, matter.closedOn, ctx.clock.today()],
    )
    await m.update(Matter, id, { closedOn: null, closingNote: '', activeOn: ctx.clock.today() })
    const back = await row<{ n: number }>(
      m,
      `SELECT COUNT(*) AS n FROM docket_entry WHERE matter_id = ? AND day >= ? AND mark IN ('open', 'in hand') AND NOT left_out AND NOT off_calendar`,
      [id, ctx.clock.today()],
    )
    await audit(m, ctx, {
      kind: 'reopened',
      text: `Matter reopened: ${reason}; ${counted(back!.n, 'date')} ${agreeing(back!.n, 'is', 'are')} back`,
      matterId: id,
      subject: 'matter',
      subjectId: id,
    })
    return { dates: back!.n }
  })
}

/** What makes a matter one that was worked on; such a one is closed, never deleted. */
const traces = [
  'time_entry',
  'cost_entry',
  'bill',
  'pre_bill',
  'docket_entry',
  'trigger_event',
  'paper',
  'task',
  'client_ledger',
  'deposit_receipt',
  'note',
  'timer',
] as const

/** Deletes a matter that never had work on it. Its number is not given out again. */
export function removeMatter(ctx: Ctx, id: number): Promise<void> {
  return work(ctx, async (m) => {
    const matter = await requireKept(m, ctx, id)
    for (const table of traces)
      if (await row(m, `SELECT 1 FROM ${table} WHERE matter_id = ? LIMIT 1`, [id]))
        throw refused('matter-has-work', `${matter.number} has work on it. Close it instead.`)
    await run(m, `UPDATE conflict_check SET matter_id = NULL WHERE matter_id = ?`, [id])
    await run(m, `UPDATE enquiry SET matter_id = NULL, state = 'open', settled_at = NULL WHERE matter_id = ?`, [id])
    for (const table of [
      'matter_party',
      'matter_team',
      'matter_screen',
      'matter_client',
      'matter_payer',
      'calendar_feed',
      'matter_tag',
      'matter_stage',
      'matter_follow',
      'matter_word',
      'fee_portion',
      'procedure_run',
      'topic',
    ])
      await run(m, `DELETE FROM ${table} WHERE matter_id = ?`, [id])
    await run(
      m,
      `DELETE v FROM field_value v JOIN field_def d ON d.id = v.field_id JOIN field_group g ON g.id = d.group_id WHERE g.owner = 'matter' AND v.owner_id = ?`,
      [id],
    )
    await run(m, `DELETE FROM matter WHERE id = ?`, [id])
    await audit(m, ctx, {
      kind: 'deleted',
      text: `Matter ${matter.number} deleted: ${matter.name}, which never had work on it`,
      subject: 'matter',
      subjectId: id,
    })
  })
}
