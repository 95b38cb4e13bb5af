import { fireEvent, screen, within } from '@testing-library/vue'
import { beforeEach, describe, expect, it } from 'vitest'
import AreaSheet from '../src/setup/AreaSheet.vue'
import Fields from '../src/setup/Fields.vue'
import Leave from '../src/setup/Leave.vue'
import People from '../src/setup/People.vue'
import StepSheet from '../src/setup/StepSheet.vue'
import { answer, faults, field, lastNote, later, press, put, refusal, Server, settled, show, signIn, wrong, type Asked } from './stage'

beforeEach(() => {
  localStorage.clear()
  signIn({ rights: ['firm.set-up'], role: 'administrator' })
})
type User = Awaited<ReturnType<typeof show>>['user']
const menu = async (user: User, row: string | RegExp, item: string | RegExp) => {
  await user.click(within(screen.getByText(row).closest<HTMLElement>('[role="row"], tr')!).getByRole('button', { name: /^What can be done|^Acts|More/ })) // prettier-ignore
  await user.click(screen.getByRole('menuitem', { name: item }))
  await settled()
}
const person = (id: number, name: string, more: object = {}) => ({ id, name, initials: 'XX', email: `${id}@firm.example`, role: 'lawyer', title: 'Partner', dayGoalMinutes: 450, mayOverride: false, active: true, leftOn: null, absence: null, rates: [], ...more }) // prettier-ignore

describe('people of the firm', () => {
  const staff = [person(2, 'Noor'), person(3, 'Billie', { role: 'paralegal' }), person(4, 'Gone', { active: false, leftOn: '2026-01-31' })]
  it('have a goal of hours as it was typed; what is none is refused at its field', async () => {
    const server = new Server({ 'GET /staff': staff, 'PUT /staff/2': faults(['dayGoalMinutes', 'Give hours, such as 7.5']) })
    const { user } = await show(People)
    await menu(user, 'Noor', 'Change Noor')
    expect(field(/^Goal/).value).toBe('7.5')
    await put(/^Goal/, 'eight')
    await press('Save')
    expect([server.sent('PUT /staff/2')[0]!.body['dayGoalMinutes'], wrong(/^Goal/)]).toEqual(['eight', true])
    server.on('PUT /staff/2', { ok: true })
    await put(/^Goal/, '6.25')
    await press('Save')
    expect([server.sent('PUT /staff/2')[1]!.body, lastNote()?.text]).toEqual([expect.objectContaining({ name: 'Noor', role: 'lawyer', dayGoalMinutes: 375, mayOverride: false }), 'Noor changed']) // prettier-ignore
  })
  it('get a rate and a password in sheets that open empty; of whoever left nothing is changed', async () => {
    const server = new Server({ 'GET /staff': staff, 'POST /staff/2/rates': faults(['from', 'Give a day'], ['rate', 'Give a rate']), 'PUT /staff/3/password': { ok: true } }) // prettier-ignore
    const { user } = await show(People)
    await menu(user, 'Noor', 'New rate for Noor')
    await press('Keep the rate')
    expect([server.sent('POST /staff/2/rates')[0]!.body, wrong('From'), wrong('Rate an hour')]).toEqual([{ from: '', to: null, rate: -1, usual: true }, true, true]) // prettier-ignore
    await press(/^(Close|Leave)/)
    await menu(user, 'Billie', 'New password for Billie')
    await put('New password', 'a long one for her')
    await press('Set it')
    expect(lastNote()?.text).toBe('Billie has a new password and is signed out')
    expect(within(screen.getByText('Gone').closest<HTMLElement>('[role="row"], tr')!).queryByRole('button')).toBeNull()
    expect(screen.getByText(/left .*31 Jan/)).toBeTruthy()
  })
})

describe('fields of the firm', () => {
  const one = (id: number, name: string, more: object = {}) => ({ id, name, type: 'text', choices: [], otherAllowed: false, required: false, areaIds: [], shownIf: null, retired: false, mergeKey: name.toLowerCase(), ...more }) // prettier-ignore
  const groups = [
    {
      id: 1,
      name: 'Vessel',
      repeating: true,
      fields: [one(11, 'Name'), one(12, 'Flag', { type: 'choice', choices: ['Malta', 'Panama'] })],
    },
    { id: 2, name: 'Claim', repeating: false, fields: [] },
  ]
  const around = { 'GET /field-groups': groups, 'GET /matters/setting': { nextNumber: '', areas: [{ id: 1, name: 'Admiralty' }], ruleSets: [], fees: [], staff: [] } } // prettier-ignore
  it('are left without a question where nothing was changed, and asked about where something was', async () => {
    new Server(around)
    const { user } = await show(Fields)
    await menu(user, 'Flag', 'Change Flag')
    expect(field(/^The list/).value).toBe('Malta\nPanama')
    await press(/^(Close|Leave)/)
    expect(screen.queryByRole('dialog')).toBeNull()
    await menu(user, 'Flag', 'Change Flag')
    await put(/^The list/, 'Malta\n\n Liberia ')
    await press(/^(Close|Leave)/)
    expect(screen.getByRole('dialog')).toBeTruthy()
  })
  it('are kept with their list and their condition, and put in order by place', async () => {
    const server = new Server({ ...around, 'PUT /fields/12': { ok: true }, 'PUT /field-order': { ok: true }, 'DELETE /fields/12': refusal('field-in-use', 'Eight matters have it. Retire it.') }) // prettier-ignore
    const { user } = await show(Fields)
    await menu(user, 'Flag', 'Change Flag')
    await put(/^The list/, 'Malta\n\n Liberia ')
    await fireEvent.update(field('Shown only if'), '11')
    await settled()
    await put('is', 'Tern')
    await press('Save')
    expect(server.sent('PUT /fields/12')[0]!.body).toMatchObject({ groupId: 1, choices: ['Malta', 'Liberia'], shownIf: { fieldId: 11, value: 'Tern' } }) // prettier-ignore
    await menu(user, 'Flag', 'Flag earlier')
    await press('Vessel later')
    expect(server.sent('PUT /field-order').map((a) => a.body)).toEqual([{ fieldIds: [12, 11] }, { groupIds: [2, 1] }])
    await menu(user, 'Flag', 'Change Flag')
    await press('Remove')
    await answer(true)
    expect(screen.getByRole('dialog').textContent).toContain('Eight matters have it')
  })
})

describe('whoever leaves', () => {
  const held = (id: number, text: string) => ({ id, text, hint: '' })
  const holdings = { lead: [held(7, 'Gannet')], team: [], date: [held(5, 'Answer')], task: [], paper: [], review: [], hidden: 0 }
  const around = { 'GET /staff': [person(2, 'Noor'), person(3, 'Billie', { role: 'paralegal' }), person(5, 'Tomas')], 'GET /absences': [] }
  it('hands over everything in one choice, matters only to a lawyer, and leaves no matter without a lead', async () => {
    const server = new Server({ ...around, 'GET /staff/2/holdings': holdings, 'POST /staff/2/absences': { handedOver: 2 } })
    await show(Leave)
    await fireEvent.update(field('Who goes'), '2')
    await fireEvent.update(field('For'), 'departure')
    await settled()
    const close = () => screen.getByRole('button', { name: /^Close the account/ })
    await fireEvent.update(field('Hand everything to'), '3')
    await settled()
    expect([close().textContent.trim(), (close() as HTMLButtonElement).disabled, field('Hand Answer to').value]).toEqual(['Close the account and hand over 1', true, '3']) // prettier-ignore
    await fireEvent.update(field('Hand Gannet to'), '5')
    await press(/^Close the account and hand over 2/)
    expect(server.sent('POST /staff/2/absences')[0]!.body).toEqual({ kind: 'departure', from: '2026-11-23', to: null, gives: [{ what: 'date', subjectId: 5, toId: 3 }, { what: 'lead', subjectId: 7, toId: 5 }] }) // prettier-ignore
    expect(lastNote()?.text).toBe('2 things handed over')
  })
  it('is shown with what is theirs alone, and says when that cannot be read', async () => {
    const slow = later<unknown>()
    const server = new Server({ ...around, 'GET /staff/2/holdings': holdings, 'GET /staff/5/holdings': () => slow.promise })
    await show(Leave)
    await fireEvent.update(field('Who goes'), '2')
    await settled()
    await fireEvent.update(field('Hand everything to'), '3')
    await fireEvent.update(field('Who goes'), '5')
    await settled()
    expect([screen.queryByText('Gannet'), screen.queryByRole('button', { name: /hand over/ })]).toEqual([null, null])
    slow.come({ ...holdings, lead: [held(8, 'Tern')] })
    await settled()
    expect([field('Hand Tern to').value, field('Hand everything to').value]).toEqual(['Stays', '0'])
    server.on('GET /staff/2/holdings', refusal('failed', 'Try again.'))
    await fireEvent.update(field('Who goes'), '2')
    await settled()
    expect(screen.getByRole('alert').textContent).toContain('Try again.')
  })
  it('of a leave, asks for what falls within it', async () => {
    const server = new Server({ ...around, 'GET /staff/2/holdings': ({ query }: Asked) => ({ ...holdings, date: query['to'] ? [] : holdings.date }) }) // prettier-ignore
    await show(Leave)
    await fireEvent.update(field('Who goes'), '2')
    await settled()
    await fireEvent.update(field('Hand Answer to'), '3')
    await put(/^To/, '2026-12-04')
    await fireEvent.change(field(/^To/))
    await settled()
    expect(server.sent('GET /staff/2/holdings').at(-1)!.query).toMatchObject({ from: '2026-11-23', to: '2026-12-04' })
    // What no longer falls within it is not handed over.
    expect(screen.getByRole('button', { name: /hand over 0/ })).toBeTruthy()
  })
})

describe('a practice area', () => {
  const area = { id: 1, name: 'Admiralty', ruleSetKey: null, staff: { file: 2, docket: 2, papers: 2, money: 2, trust: 2 }, stages: [{ id: 21, name: 'Intake', retired: false, matters: 4 }, { id: 22, name: 'Suit', retired: false, matters: 0 }], team: [{ userId: 2, role: 'lead' }], procedureIds: [], retired: false } // prettier-ignore
  const around = { 'GET /matters/setting': { nextNumber: '', areas: [], ruleSets: [], fees: [], staff: [{ id: 2, name: 'Noor', role: 'lawyer' }, { id: 3, name: 'Billie', role: 'paralegal' }] }, 'GET /procedures': [] } // prettier-ignore
  it('keeps its stages in their order, takes along one that was typed and not added, and takes out none that is in use', async () => {
    const server = new Server({ ...around, 'PUT /areas/1': faults(['stages', 'Two stages have the same name']) })
    const { emitted } = await show(AreaSheet, { area })
    expect(screen.queryByRole('button', { name: 'Take out Intake' })).toBeNull()
    await press('Suit earlier')
    await put('New stage', 'Appeal')
    await fireEvent.click(screen.getByRole('checkbox', { name: 'Billie' }))
    await press('Save')
    const sent = server.sent('PUT /areas/1')[0]!.body
    expect(sent['stages']).toEqual([{ id: 22, name: 'Suit', retired: false }, { id: 21, name: 'Intake', retired: false }, { name: 'Appeal', retired: false }]) // prettier-ignore
    expect(sent['team']).toEqual([{ userId: 2, role: 'lead' }, { userId: 3, role: 'paralegal' }]) // prettier-ignore
    expect([screen.getByText(/same name/).textContent, emitted('saved')]).toEqual(['Two stages have the same name', undefined])
  })
})

describe('a step of a procedure', () => {
  const step = { key: 'a1', text: 'Send the letter', assignTo: { kind: 'role', role: 'lead' }, priority: 'normal', estimateMinutes: 90, remindDays: null, waitsFor: [], due: { count: 3, unit: 'business', direction: 'after', anchor: { kind: 'start' } } } // prettier-ignore
  const other = { ...step, key: 'b2', text: 'File the proof' }
  const props = { step, steps: [step, other], staff: [{ id: 2, name: 'Noor' }], roles: ['lead', 'paralegal'] }
  it('says at its field what cannot be read, and turns nothing into a number that nobody typed', async () => {
    const { emitted } = await show(StepSheet, props)
    expect(field(/^Estimate/).value).toBe('1.5')
    await put('What is to be done', ' ')
    await put('Days', '-2')
    await put(/^Estimate/, '1h')
    await put(/^Remind/, '1.5')
    await press('Keep the step')
    expect(['What is to be done', 'Days', /^Estimate/, /^Remind/].map(wrong)).toEqual([true, true, true, true])
    expect(emitted('save')).toBeUndefined()
  })
  it('goes to a person, and is counted from a date on the docket or from another step', async () => {
    const { emitted } = await show(StepSheet, props)
    await fireEvent.update(field('Who'), 'person 2')
    await fireEvent.update(field('Counted from'), 'done b2')
    await put('Days', '0')
    await put(/^Remind/, '1')
    await fireEvent.click(screen.getByRole('checkbox', { name: 'File the proof' }))
    await press('Keep the step')
    expect(emitted('save')![0]).toEqual([{ ...step, assignTo: { kind: 'person', userId: 2 }, remindDays: 1, waitsFor: ['b2'], due: { ...step.due, count: 0, anchor: { kind: 'done', step: 'b2' } } }]) // prettier-ignore
    await fireEvent.update(field('Counted from'), 'docket')
    await settled()
    await put('Which date', ' hearing ')
    await press('Keep the step')
    expect((emitted('save')![1] as { due: { anchor: object } }[])[0]!.due.anchor).toEqual({ kind: 'docket', name: 'hearing' })
  })
})
