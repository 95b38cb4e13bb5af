import { receiptKinds, type AccountIn, type BankIn } from '@heron/contract'
import type { EntityManager } from 'typeorm'
import { audit } from '../platform/audit'
import type { Ctx } from '../platform/context'
import { row, rows, run, work } from '../platform/database'
import { fieldFault, notFound } from '../platform/problem'

/** What the set-up shows of accounts: banks with the last check used, the chart, and days until payments clear. */
export async function accountsSetUp(ctx: Ctx) {
  const m = ctx.db.manager
  const days = new Map(
    (await rows<{ kind: string; courtDays: number }>(m, `SELECT kind, court_days AS courtDays FROM clearing_days`)).map((c) => [
      c.kind,
      c.courtDays,
    ]),
  )
  return {
    banks: await rows<BankIn & { id: number; kind: string; account: string; lastCheck: number | null }>(
      m,
      `SELECT b.id, b.name, b.kind, b.bank, b.ending, b.next_check AS nextCheck, CONCAT(a.code, ' ', a.name) AS account,
              (SELECT MAX(c.number) FROM check_number c WHERE c.bank_account_id = b.id) AS lastCheck
         FROM bank_account b JOIN account a ON a.id = b.gl_account_id ORDER BY b.kind = 'operating', b.id`,
    ),
    chart: await rows<AccountIn & { id: number; role: string | null }>(m, `SELECT id, code, name, kind, role FROM account ORDER BY code`),
    clearing: receiptKinds.map((kind) => ({ kind, courtDays: days.get(kind) ?? 0 })),
  }
}

const changed = (m: EntityManager, ctx: Ctx, text: string, detail: unknown) =>
  audit(m, ctx, { kind: 'set up', text, subject: 'account', detail })

/** What a bank account is called, and the number from which its checks go on. Numbers that were used are never given again. */
export function changeBank(ctx: Ctx, id: number, input: BankIn): Promise<void> {
  return work(ctx, async (m) => {
    const was = await row<BankIn>(m, `SELECT name, bank, ending, next_check AS nextCheck FROM bank_account WHERE id = ? FOR UPDATE`, [id])
    if (!was) throw notFound('bank account')
    const last = await row<{ number: number | null }>(m, `SELECT MAX(number) AS number FROM check_number WHERE bank_account_id = ?`, [id])
    if (last?.number && input.nextCheck !== was.nextCheck && input.nextCheck <= last.number)
      throw fieldFault('nextCheck', `Check ${last.number} was used. Give a higher number`)
    await run(m, `UPDATE bank_account SET name = ?, bank = ?, ending = ?, next_check = ? WHERE id = ?`, [
      input.name,
      input.bank,
      input.ending,
      input.nextCheck,
      id,
    ])
    await changed(m, ctx, `Bank account ${was.name} changed`, { was, became: input })
  })
}

async function requireFreeCode(m: EntityManager, code: string, id = 0) {
  const other = await row<{ name: string }>(m, `SELECT name FROM account WHERE code = ? AND id <> ?`, [code, id])
  if (other) throw fieldFault('code', `${code} is ${other.name}. Give another number`)
}

export function makeAccount(ctx: Ctx, input: AccountIn): Promise<{ id: number }> {
  return work(ctx, async (m) => {
    await requireFreeCode(m, input.code)
    const made = (await m.query(`INSERT INTO account (code, name, kind) VALUES (?, ?, ?)`, [input.code, input.name, input.kind])) as {
      insertId: number
    }
    await changed(m, ctx, `Account ${input.code} ${input.name} added`, { became: input })
    return { id: made.insertId }
  })
}

/** Number and name. Its kind stays: reports of years that are closed stand on it. */
export function changeAccount(ctx: Ctx, id: number, input: Omit<AccountIn, 'kind'>): Promise<void> {
  return work(ctx, async (m) => {
    const was = await row<Omit<AccountIn, 'kind'>>(m, `SELECT code, name FROM account WHERE id = ? FOR UPDATE`, [id])
    if (!was) throw notFound('account')
    await requireFreeCode(m, input.code, id)
    await run(m, `UPDATE account SET code = ?, name = ? WHERE id = ?`, [input.code, input.name, id])
    await changed(m, ctx, `Account ${was.code} ${was.name} changed`, { was, became: input })
  })
}

/** Holds from the next receipt on; what was received keeps the day on which it clears. */
export function setClearing(ctx: Ctx, clearing: readonly { kind: string; courtDays: number }[]): Promise<void> {
  return work(ctx, async (m) => {
    for (const c of clearing)
      await run(m, `INSERT INTO clearing_days (kind, court_days) VALUES (?, ?) ON DUPLICATE KEY UPDATE court_days = VALUES(court_days)`, [
        c.kind,
        c.courtDays,
      ])
    await changed(m, ctx, 'Clearing days of payments into trust changed', {
      became: Object.fromEntries(clearing.map((c) => [c.kind, c.courtDays])),
    })
  })
}
