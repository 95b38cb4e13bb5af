import Docxtemplater from 'docxtemplater'
import PizZip from 'pizzip'
import { isDay, showDayInWords } from '@heron/core/calendar'
import { readMoney, showMoney, sum } from '@heron/core/money'
import { fieldsUsed, mergeFields, missingFields, type MergeField, type MergeValue } from '@heron/core/papers'
import type { EntityManager } from 'typeorm'
import { fieldsForPapers } from '../fields'
import { change, matterScope, requireMatter, touchMatter } from '../platform/access'
import { audit } from '../platform/audit'
import { instant, isoOf, type Ctx } from '../platform/context'
import { row, rows, work, literal } from '../platform/database'
import { keepFile, readStored } from '../platform/files'
import { enqueue } from '../platform/enqueue'
import { fieldFault, notFound } from '../platform/problem'
import { Paper, Template } from './entities'
import { pdfOfDocx } from './office'

export const docxType = 'application/vnd.openxmlformats-officedocument.wordprocessingml.document'

/** Keeps a DOCX as a template and notes the fields it uses. */
export async function addTemplate(
  m: EntityManager,
  ctx: Ctx,
  t: { name: string; description: string; folder: string; docx: Uint8Array },
): Promise<number> {
  const text = new Docxtemplater(new PizZip(t.docx), { paragraphLoop: true, linebreaks: true }).getFullText()
  const file = await keepFile(m, ctx, t.docx, docxType)
  const made = await m.insert(Template, {
    name: t.name,
    description: t.description,
    folder: t.folder,
    fileId: file.id,
    fields: JSON.stringify(fieldsUsed(text)),
  })
  return made.identifiers[0]!['id'] as number
}

interface TemplateRow {
  id: number
  name: string
  description: string
  folder: string
  fileId: number
  fields: string
}

export async function templates(ctx: Ctx) {
  const list = await rows<TemplateRow>(
    ctx.db.manager,
    `SELECT id, name, description, folder, file_id AS fileId, fields FROM template ORDER BY name`,
  )
  return list.map(({ fileId: _file, ...t }) => ({ ...t, fields: JSON.parse(t.fields) as string[] }))
}

async function templateOf(m: EntityManager, id: number) {
  const found = await row<TemplateRow>(m, `SELECT id, name, description, folder, file_id AS fileId, fields FROM template WHERE id = ?`, [
    id,
  ])
  if (!found) throw notFound('template')
  return { ...found, fields: JSON.parse(found.fields) as string[] }
}

/** The values of the merge fields on a matter; what the record lacks is an empty text. */
async function valuesOf(m: EntityManager, ctx: Ctx, matterId: number): Promise<Record<string, MergeValue>> {
  const found = await row<
    Record<
      'firm' | 'firmAddress' | 'client' | 'clientAddress' | 'greeting' | 'name' | 'number' | 'description' | 'court' | 'lead' | 'billing',
      string
    >
  >(
    m,
    `SELECT f.name AS firm, f.address AS firmAddress, c.name AS client, c.address AS clientAddress, c.greeting, m.name, m.number, m.description, m.court, u.name AS lead, m.billing
       FROM matter m JOIN contact c ON c.id = m.client_id JOIN user_account u ON u.id = m.lead_id JOIN firm f WHERE m.id = ?`,
    [matterId],
  )
  const today = ctx.clock.today()
  const team = await rows<{ name: string; role: string; rate: number | null }>(
    m,
    `SELECT u.name, u.title AS role, COALESCE(t.rate, (SELECT r.rate FROM user_rate r WHERE r.user_id = u.id AND r.from_day <= ? AND (r.to_day IS NULL OR r.to_day >= ?) ORDER BY r.usual DESC, r.from_day DESC LIMIT 1)) AS rate
       FROM matter_team t JOIN user_account u ON u.id = t.user_id WHERE t.matter_id = ? ORDER BY t.keeps DESC, u.name`,
    [today, today, matterId],
  )
  const flat = sum(
    (await rows<{ amount: number }>(m, `SELECT amount FROM fee_portion WHERE matter_id = ?`, [matterId])).map((p) => p.amount),
  )
  return {
    today,
    firm_name: found!.firm,
    firm_address: found!.firmAddress,
    client_name: found!.client,
    client_address: found!.clientAddress,
    client_greeting: found!.greeting,
    matter_name: found!.name,
    matter_number: found!.number,
    matter_description: found!.description,
    court: found!.court,
    lead_lawyer: found!.lead,
    hourly: found!.billing === 'hourly',
    flat_fee: flat ? showMoney(flat) : '',
    deposit: '',
    team: team.map((t) => ({ name: t.name, role: t.role, rate: t.rate === null ? '' : showMoney(t.rate) })),
  }
}

const shownValue = (v: MergeValue) =>
  typeof v === 'string' ? v : typeof v === 'boolean' ? (v ? 'yes' : 'no') : v.map((x) => Object.values(x)[0]).join(', ')

/** What a template would use on a matter, and which of it must be asked. */
export async function preparePaper(ctx: Ctx, matterId: number, templateId: number) {
  const m = ctx.db.manager
  const matter = await requireMatter(m, ctx, matterId, 'papers', change)
  const template = await templateOf(m, templateId)
  const firm = await fieldsForPapers(m, matterId, matter.clientId)
  const values = { ...firm.values, ...(await valuesOf(m, ctx, matterId)) }
  return {
    name: `${template.name}, ${matter.shortName}`.slice(0, 120),
    fields: [...mergeFields, ...firm.fields]
      .filter((f) => template.fields.includes(f.name))
      .map((f) => ({ ...f, value: shownValue(values[f.name] ?? '') })),
    missing: missingFields(template.fields, values, firm.fields).map((f) => f.name),
  }
}

export interface MakePayload {
  matterId: number
  templateId: number
  name: string
  answers: Record<string, string>
}

/** Judges the answers and hands the making to a worker, since LibreOffice takes a second or two. */
export function requestPaper(ctx: Ctx, payload: MakePayload): Promise<{ jobId: number }> {
  return work(ctx, async (m) => {
    const matter = await requireMatter(m, ctx, payload.matterId, 'papers', change)
    const template = await templateOf(m, payload.templateId)
    const firm = await fieldsForPapers(m, payload.matterId, matter.clientId)
    const values = { ...firm.values, ...(await valuesOf(m, ctx, payload.matterId)), ...answered(payload.answers, firm.fields) }
    const missing = missingFields(template.fields, values, firm.fields)
    if (missing[0]) throw fieldFault(`answers.${missing[0].name}`, `${missing[0].label} is needed for this paper`)
    return { jobId: await enqueue(m, ctx, 'make paper', payload) }
  })
}

/** Answers by the type of their field: dates must exist, money must be an amount and is written in full. */
function answered(answers: Record<string, string>, own: readonly MergeField[]): Record<string, string> {
  const out: Record<string, string> = {}
  for (const f of [...mergeFields, ...own]) {
    const answer = answers[f.name]?.trim()
    if (!answer || f.type === 'list' || f.type === 'yes/no') continue
    if (f.type === 'day' && !isDay(answer)) throw fieldFault(`answers.${f.name}`, 'Give a date that exists')
    const cents = f.type === 'money' ? readMoney(answer) : null
    if (f.type === 'money' && cents === null) throw fieldFault(`answers.${f.name}`, 'Give an amount')
    out[f.name] = cents === null ? answer : showMoney(cents)
  }
  return out
}

export async function makePaper(ctx: Ctx, payload: MakePayload, progress: (percent: number) => Promise<void>) {
  const m = ctx.db.manager
  const matter = await requireMatter(m, ctx, payload.matterId, 'papers', change)
  const template = await templateOf(m, payload.templateId)
  const firm = await fieldsForPapers(m, payload.matterId, matter.clientId)
  const values = { ...firm.values, ...(await valuesOf(m, ctx, payload.matterId)), ...answered(payload.answers, firm.fields) }
  const { data } = await readStored(m, ctx, template.fileId)
  const document = new Docxtemplater(new PizZip(data), { paragraphLoop: true, linebreaks: true, nullGetter: () => '' })
  document.render({ ...values, today: showDayInWords(values['today'] as string) })
  const docx = document.toBuffer()
  await progress(30)
  const pdf = await pdfOfDocx(docx)
  await progress(90)
  return work(ctx, async (tx) => {
    const ids: number[] = []
    for (const [ending, bytes, type] of [
      ['docx', docx, docxType],
      ['pdf', pdf, 'application/pdf'],
    ] as const) {
      const file = await keepFile(tx, ctx, bytes, type)
      const made = await tx.insert(Paper, {
        matterId: matter.id,
        folder: template.folder,
        name: `${payload.name}.${ending}`,
        fileId: file.id,
        templateId: template.id,
        madeWith: JSON.stringify(values),
        createdBy: ctx.actor.id,
        createdAt: instant(ctx.clock.now()),
      })
      ids.push(made.identifiers[0]!['id'] as number)
    }
    await audit(tx, ctx, {
      kind: 'paper',
      text: `Made ${payload.name} (DOCX and PDF)`,
      matterId: matter.id,
      subject: 'paper',
      subjectId: ids[0]!,
    })
    await touchMatter(tx, ctx, matter.id)
    return { ids }
  })
}

/** Files a paper from the user's computer as it is. */
export async function filePaper(
  ctx: Ctx,
  p: { matterId: number; folder: string; name: string; mediaType: string; data: Uint8Array },
): Promise<{ id: number }> {
  return work(ctx, async (m) => {
    await requireMatter(m, ctx, p.matterId, 'papers', change)
    const file = await keepFile(m, ctx, p.data, p.mediaType || 'application/octet-stream')
    const made = await m.insert(Paper, {
      matterId: p.matterId,
      folder: p.folder,
      name: p.name.slice(0, 200),
      fileId: file.id,
      createdBy: ctx.actor.id,
      createdAt: instant(ctx.clock.now()),
    })
    const id = made.identifiers[0]!['id'] as number
    await audit(m, ctx, { kind: 'filed', text: `Filed ${p.name} in ${p.folder}`, matterId: p.matterId, subject: 'paper', subjectId: id })
    await touchMatter(m, ctx, p.matterId)
    return { id }
  })
}

export async function papersOf(ctx: Ctx, f: { matterId?: number | undefined; q: string; page: number; size: number }) {
  const m = ctx.db.manager
  const where = `WHERE p.deleted_at IS NULL AND ${matterScope(ctx.actor, 'm', 'papers')} ${f.matterId ? `AND p.matter_id = ${Number(f.matterId)}` : ''} AND (? = '' OR p.name LIKE ?)`
  const values = [f.q, `%${literal(f.q)}%`]
  const total = await row<{ n: number }>(m, `SELECT COUNT(*) AS n FROM paper p JOIN matter m ON m.id = p.matter_id ${where}`, values)
  const list = await rows<{
    id: number
    matterId: number
    matter: string
    folder: string
    name: string
    mediaType: string
    size: number
    madeBy: string
    madeAt: string
    template: string | null
  }>(
    m,
    `SELECT p.id, p.matter_id AS matterId, m.short_name AS matter, p.folder, p.name, s.media_type AS mediaType, s.size, u.name AS madeBy, p.created_at AS madeAt, t.name AS template
       FROM paper p JOIN matter m ON m.id = p.matter_id JOIN stored_file s ON s.id = p.file_id JOIN user_account u ON u.id = p.created_by LEFT JOIN template t ON t.id = p.template_id
       ${where} ORDER BY p.created_at DESC, p.id DESC LIMIT ${Number(f.size)} OFFSET ${(Number(f.page) - 1) * Number(f.size)}`,
    values,
  )
  return { rows: list.map((p) => ({ ...p, madeAt: isoOf(p.madeAt) })), total: total!.n }
}

export async function paperFile(ctx: Ctx, id: number) {
  const found = await row<{ name: string; fileId: number }>(
    ctx.db.manager,
    `SELECT p.name, p.file_id AS fileId FROM paper p JOIN matter m ON m.id = p.matter_id WHERE p.id = ? AND p.deleted_at IS NULL AND ${matterScope(ctx.actor, 'm', 'papers')}`,
    [id],
  )
  if (!found) throw notFound('paper')
  const { data, mediaType } = await readStored(ctx.db.manager, ctx, found.fileId)
  return { data, mediaType, name: found.name }
}
