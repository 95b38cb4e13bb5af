import {
  asksForLink,
  billLetterKinds,
  languageOf,
  letterFault,
  letterWith,
  usualBillLetters,
  withLink,
  type BillLetterKind,
  type LetterWords,
} from '@heron/core/billing'
import { daysBetween, showDayInWords } from '@heron/core/calendar'
import { showMoney } from '@heron/core/money'
import type { EntityManager } from 'typeorm'
import { linkInLetter } from './pay-links'
import { letterFacts } from './queries'
import { ledesCheck, ledesOf } from './ledes'
import { keptPdf } from './pdf'
import { BillDispute, BillLetter, BillSent } from './run-entities'
import { lockBill } from './allocations'
import { audit } from '../platform/audit'
import { instant, type Ctx } from '../platform/context'
import { work } from '../platform/database'
import { keepFile } from '../platform/files'
import { sendMail } from '../platform/mail'
import { fieldFault, refused } from '../platform/problem'

export async function letterWords(m: EntityManager, kind: BillLetterKind, language: 'en' | 'es'): Promise<LetterWords> {
  return (await m.findOneBy(BillLetter, { kind, language })) ?? usualBillLetters[kind][language]
}
export async function billLetters(ctx: Ctx) {
  const own = await ctx.db.manager.find(BillLetter)
  return billLetterKinds.flatMap((kind) =>
    (['en', 'es'] as const).map((language) => {
      const by = usualBillLetters[kind]
      const mine = own.find((o) => o.kind === kind && o.language === language)
      return { kind, language, subject: mine?.subject ?? by[language].subject, body: mine?.body ?? by[language].body, own: Boolean(mine) }
    }),
  )
}
/** Keeps the firm's words for a letter; empty words take the firm back to those that ship. */
export const saveBillLetter = (
  ctx: Ctx,
  input: { kind: BillLetterKind; language: 'en' | 'es'; subject: string; body: string },
): Promise<void> =>
  work(ctx, async (m) => {
    const { kind, language, subject, body } = input
    for (const [path, text] of [
      ['subject', subject],
      ['body', body],
    ] as const) {
      const wrong = letterFault(text)
      if (wrong) throw fieldFault(path, wrong)
    }
    const [said, written] = [subject.trim() !== '', body.trim() !== '']
    if (said !== written)
      throw fieldFault(said ? 'body' : 'subject', 'A letter has a subject and words. Empty both to have the usual ones back')
    await m.delete(BillLetter, { kind, language })
    if (said) await m.insert(BillLetter, { kind, language, subject, body })
    await audit(m, ctx, { kind: 'changed', text: `Words of the letter “${kind}” (${language}) changed`, subject: 'fee', subjectId: 0 })
  })

/** Where a bill would go, and with which words. How it is delivered is decided here and nowhere else. */
export async function letterFor(ctx: Ctx, m: EntityManager, billId: number, kind: BillLetterKind) {
  const facts = await letterFacts(m, ctx, billId)
  const language = languageOf(facts.language)
  const words = letterWith(await letterWords(m, kind, language), {
    payer: facts.payer,
    firm: facts.firm,
    bill: facts.number,
    matter: facts.matter,
    amount: showMoney(facts.total),
    open: showMoney(facts.open),
    due: showDayInWords(facts.dueOn),
    days: String(Math.max(0, daysBetween(facts.dueOn, ctx.clock.today()))),
  })
  return { name: facts.payer, email: facts.email, matterId: facts.matterId, number: facts.number, ...words }
}

/** For a client that asks for LEDES 1998B: the file, kept; refused where something is missing, so that nothing goes out that comes back. */
async function electronicOf(m: EntityManager, ctx: Ctx, billId: number): Promise<{ id: number; name: string }[]> {
  if ((await ledesCheck({ ...ctx, tx: m }, billId)).format !== 'ledes') return []
  const { text, faults, name } = await ledesOf(m, ctx, billId)
  if (faults.length) throw refused('ledes-faults', `The client takes this bill as LEDES 1998B only. ${faults.join('. ')}. Mend this first.`)
  return [{ id: (await keepFile(m, ctx, Buffer.from(text), 'text/plain')).id, name }]
}

export interface Written {
  name: string
  email: string
  subject: string
  body: string
}
/** Sends a bill by e-mail, in the firm's words or as they were edited. */
async function sendIn(m: EntityManager, ctx: Ctx, billId: number, kind: BillLetterKind, fileId: number, written: Written | null) {
  const letter = { ...(await letterFor(ctx, m, billId, kind)), ...written }
  // Asked here, under the lock of the bill: whoever marked it meanwhile has stopped what was on its way.
  if (kind !== 'bill' && (await m.findOneBy(BillDispute, { openBill: billId })))
    throw refused('bill-disputed', `Bill ${letter.number} is disputed; no reminder goes out.`)
  if (!letter.email) throw fieldFault('email', `${letter.name} has no e-mail address. Give one here, or on the contact`)
  // The link is made when the letter goes out, and its address stands nowhere else.
  if (asksForLink(letter)) Object.assign(letter, withLink(letter, await linkInLetter(m, ctx, billId)))
  const electronic = kind === 'bill' ? await electronicOf(m, ctx, billId) : []
  const before = await m.countBy(BillSent, { billId, kind })
  const key = `bill ${billId} ${kind} ${before + 1}`
  await m.insert(BillSent, {
    billId,
    kind,
    at: instant(ctx.clock.now()),
    name: letter.name,
    address: letter.email,
    mailKey: key,
    userId: ctx.actor.id,
  })
  await sendMail(m, ctx, {
    key,
    to: { name: letter.name, email: letter.email },
    subject: letter.subject,
    body: letter.body,
    matterId: letter.matterId,
    files: [{ id: fileId, name: `Bill ${letter.number}.pdf` }, ...electronic],
  })
  const what = kind === 'bill' ? 'Bill' : `${kind.charAt(0).toUpperCase()}${kind.slice(1)} of bill`
  await audit(m, ctx, {
    kind: 'billed',
    text: `${what} ${letter.number} sent to ${letter.email}`,
    matterId: letter.matterId,
    subject: 'bill',
    subjectId: billId,
  })
}

export const proposeLetter = async (ctx: Ctx, billId: number, kind: BillLetterKind) => {
  const { name, email, subject, body } = await letterFor(ctx, ctx.db.manager, billId, kind)
  return { name, email, subject, body }
}
export async function sendBill(ctx: Ctx, billId: number, kind: BillLetterKind, written: Written): Promise<void> {
  const { fileId } = await keptPdf(ctx, billId)
  await work(ctx, async (m) => {
    await lockBill(m, ctx, billId, ctx.clock.today())
    await sendIn(m, ctx, billId, kind, fileId, written)
  })
}

/** After issue: the PDF is made, and goes out where wanted, once. */
export async function readyBill(ctx: Ctx, { billId, send }: { billId: number; send: boolean }) {
  const { fileId } = await keptPdf(ctx, billId)
  if (!send) return { sent: false }
  return work(ctx, async (m) => {
    await lockBill(m, ctx, billId, ctx.clock.today())
    if (await m.countBy(BillSent, { billId, kind: 'bill' })) return { sent: false }
    await sendIn(m, ctx, billId, 'bill', fileId, null)
    return { sent: true }
  })
}
