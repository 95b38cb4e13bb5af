import type { EnquiryIn, EnquirySeen } from '@heron/contract'
import type { EntityManager } from 'typeorm'
import { audit } from '../platform/audit'
import { instant, type Ctx } from '../platform/context'
import { lockRow, work } from '../platform/database'
import { fieldFault, notFound, refused } from '../platform/problem'
import { unchangedSince } from '../platform/seen'
import { checkNames } from './conflicts'
import { dropNames, recordNames } from './names'
import { makeContactIn } from './service'
import { requireContact } from './contact-queries'
import { Enquiry } from './entities'
import { PracticeArea, UserAccount } from '../platform/shared-entities'
import { changeEnquiryRow, insertEnquiry, shown, enquiryOpenTo } from './queries'

export async function enquiry(ctx: Ctx, id: number) {
  const found = await enquiryOpenTo(ctx.db.manager, ctx, id)
  if (!found) throw notFound('enquiry')
  return shown(found)
}

/** The enquiry, when it is there, open to the actor, and not yet settled. */
export async function requireOpenEnquiry(m: EntityManager, ctx: Ctx, id: number) {
  await lockRow(m, Enquiry, id)
  const found = await enquiryOpenTo(m, ctx, id)
  if (!found) throw notFound('enquiry')
  if (found.state !== 'open')
    throw refused(
      'enquiry-settled',
      found.state === 'matter' ? 'This enquiry has become a matter.' : 'This enquiry was declined. Take it up again first.',
    )
  return shown(found)
}

async function contactFor(m: EntityManager, ctx: Ctx, input: EnquiryIn): Promise<number> {
  if (input.contactId) return (await requireContact(m, ctx, input.contactId)).id
  if (!input.name) throw fieldFault('name', 'Say who is asking')
  return makeContactIn(m, ctx, {
    kind: input.kind,
    name: input.name,
    greeting: '',
    email: input.email,
    phone: input.phone,
    address: '',
    notes: '',
    kinds: ['prospective client'],
    birthDate: null,
    language: '',
    pronouns: '',
    taxNumber: '',
    isPrivate: false,
    aliases: [],
  })
}

const columns = (ctx: Ctx, input: EnquiryIn) => ({
  about: input.about,
  adverse: JSON.stringify([...new Set(input.adverse)]),
  source: input.source,
  area_id: input.areaId,
  next_step: input.nextStep,
  next_on: input.nextOn,
  consult_on: input.consultOn,
  consult_at: input.consultAt,
  consult_minutes: input.consultMinutes,
  consult_fee: input.consultFee,
  owner_id: input.ownerId ?? ctx.actor.id,
})

/** Those it is against are on record for later conflict checks, whether or not it becomes a matter. */
async function recordAdverse(m: EntityManager, enquiryId: number, names: readonly string[]) {
  await dropNames(m, { enquiryId })
  await recordNames(
    m,
    [...new Set(names)].map((name) => ({ contactId: null, enquiryId, what: 'name', name })),
  )
}

async function ownerWorksHere(m: EntityManager, input: EnquiryIn) {
  if (input.ownerId && !(await m.existsBy(UserAccount, { id: input.ownerId, active: true })))
    throw fieldFault('ownerId', 'Choose someone who works here')
  if (input.areaId && !(await m.existsBy(PracticeArea, { id: input.areaId }))) throw fieldFault('areaId', 'Choose a practice area')
}

export function makeEnquiry(ctx: Ctx, input: EnquiryIn): Promise<{ id: number }> {
  return work(ctx, async (m) => {
    await ownerWorksHere(m, input)
    const contactId = await contactFor(m, ctx, input)
    const own = { ...columns(ctx, input), contact_id: contactId, taken_by: ctx.actor.id, created_at: instant(ctx.clock.now()) }
    const made = (await insertEnquiry(m, own)) as { insertId: number }
    await recordAdverse(m, made.insertId, input.adverse)
    await audit(m, ctx, { kind: 'made', text: `Enquiry taken: ${input.about.slice(0, 120)}`, subject: 'enquiry', subjectId: made.insertId })
    return { id: made.insertId }
  })
}

export function changeEnquiry(ctx: Ctx, id: number, { seen, ...input }: EnquiryIn & { seen?: EnquirySeen | undefined }): Promise<void> {
  return work(ctx, async (m) => {
    const before = await requireOpenEnquiry(m, ctx, id)
    unchangedSince(before, seen, 'this enquiry')
    await ownerWorksHere(m, input)
    // Where nobody else is named, whoever asked still asks.
    const another = input.contactId ? input.contactId !== before.contactId : Boolean(input.name)
    const contactId = another ? await contactFor(m, ctx, input) : before.contactId
    const own = { ...columns(ctx, input), contact_id: contactId }
    await changeEnquiryRow(m, own, id)
    const others = JSON.stringify(before.adverse) !== own.adverse
    if (others) await recordAdverse(m, id, input.adverse)
    // Other names than were checked: the check no longer covers it.
    if (others || contactId !== before.contactId) await m.update(Enquiry, { id }, { conflictCheckId: null })
    await audit(m, ctx, {
      kind: 'changed',
      text: `Enquiry of ${before.name} changed`,
      subject: 'enquiry',
      subjectId: id,
      detail: { was: before, became: input },
    })
  })
}

/** Checks the caller and all it is against. */
export function checkEnquiry(ctx: Ctx, id: number) {
  return work(ctx, async (m) => {
    const e = await requireOpenEnquiry(m, ctx, id)
    const check = await checkNames(m, ctx, [{ name: e.name, contactId: e.contactId }, ...e.adverse.map((name) => ({ name }))], {
      ours: [e.name],
      about: `Enquiry of ${e.name}`,
      itself: { enquiryId: id },
    })
    await m.update(Enquiry, { id }, { conflictCheckId: check.id })
    await audit(m, ctx, { kind: 'checked', text: `Conflicts checked for the enquiry of ${e.name}`, subject: 'enquiry', subjectId: id })
    return check
  })
}

export function declineEnquiry(ctx: Ctx, id: number, reason: string): Promise<void> {
  return work(ctx, async (m) => {
    const e = await requireOpenEnquiry(m, ctx, id)
    await m.update(Enquiry, { id }, { state: 'declined', reason, settledAt: instant(ctx.clock.now()) })
    await audit(m, ctx, { kind: 'declined', text: `Enquiry of ${e.name} declined: ${reason}`, subject: 'enquiry', subjectId: id })
  })
}

export function takeUpEnquiry(ctx: Ctx, id: number): Promise<void> {
  return work(ctx, async (m) => {
    const e = await enquiry({ ...ctx }, id)
    if (e.state !== 'declined') throw refused('enquiry-settled', 'Only a declined enquiry is taken up again.')
    await m.update(Enquiry, { id }, { state: 'open', reason: '', settledAt: null })
    await audit(m, ctx, { kind: 'changed', text: `Enquiry of ${e.name} taken up again`, subject: 'enquiry', subjectId: id })
  })
}

/** An enquiry has become a matter. */
export async function settleEnquiry(m: EntityManager, ctx: Ctx, id: number, matterId: number): Promise<void> {
  const e = await requireOpenEnquiry(m, ctx, id)
  await m.update(Enquiry, { id }, { state: 'matter', matterId, settledAt: instant(ctx.clock.now()) })
  await audit(m, ctx, { kind: 'opened', text: `Enquiry of ${e.name} became this matter`, matterId, subject: 'enquiry', subjectId: id })
}
