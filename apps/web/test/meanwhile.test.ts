import { fireEvent, screen, within } from '@testing-library/vue'
import { describe, expect, it } from 'vitest'
import { reactive } from 'vue'
import DisputeSheet from '../src/billing/DisputeSheet.vue'
import CostSheet from '../src/costs/ChangeCost.vue'
import TaskSheet from '../src/tasks/TaskSheet.vue'
import { somethingUnsaved } from '../src/ui/unsaved'
import { useMeanwhile } from '../src/ui/meanwhile'
import { faults, refusal, Server, setting, settled, show, signIn } from './stage'

const task = (more: object = {}) => ({
  id: 9, text: 'Call the surveyor', details: '', matterId: null, matter: null, assigneeId: 2, assignee: 'Noor Haddad-Lind', initials: 'NH', assignedById: 2, assignedBy: 'Noor Haddad-Lind',
  dueOn: '2026-11-25', dueTime: null, remindOn: null, estimateMinutes: 30, priority: 'normal', done: false, doneAt: null, doneBy: null, bucket: 'soon', waits: null, step: null, procedure: null,
  items: 1, itemsDone: 0, comments: 0, onlyNamed: true, reminds: false, named: [], checklist: [{ id: 1, text: 'Ask for plans', done: false }], talk: [], papers: [], mayChange: true, ...more,
}) // prettier-ignore
const field = (name: string | RegExp) => screen.getByLabelText(name) as HTMLInputElement
const press = (name: string | RegExp) => screen.getByRole('button', { name })

describe('a form whose record somebody else changes', () => {
  it('takes over what only they changed, keeps what only was typed here, and asks about what both changed', async () => {
    const form = reactive({ name: 'Gannet', court: 'Harrow', side: 'claimant', ids: [1, 2], private: false })
    const told = { name: 'Name', court: 'Court', side: 'Side', ids: ['People', (v: number[]) => v.map((n) => `P${n}`).join(' and ')], private: 'Private' } as const // prettier-ignore
    const meanwhile = useMeanwhile(form, told as never)
    Object.assign(form, { name: 'Gannet Ferry', ids: [1], side: 'defendant' })
    const now = { name: 'Gannet v. Corvane', court: 'Tern', side: 'defendant', ids: [1, 2, 3], private: true }
    const acting = { code: 'changed-meanwhile', message: 'Jun changed it.' }
    let sent = 0
    const save = () => meanwhile.save(acting, () => Promise.resolve(++sent > 1 ? 'kept' : null), () => Promise.resolve(now)) // prettier-ignore
    expect(await save()).toBeNull()
    expect({ ...form }).toEqual({ name: 'Gannet Ferry', court: 'Tern', side: 'defendant', ids: [1], private: true })
    expect([meanwhile.state.taken, acting.message, meanwhile.state.said]).toEqual([['Court', 'Private'], '', 'Jun changed it.'])
    expect(meanwhile.state.clashes.map((c) => [c.label, c.mine, c.theirs])).toEqual([
      ['Name', 'Gannet Ferry', 'Gannet v. Corvane'],
      ['People', 'P1', 'P1 and P2 and P3'],
    ])
    // Until all is decided nothing goes out.
    expect([await save(), sent]).toEqual([null, 1])
    meanwhile.settle('name', 'theirs')
    meanwhile.settle('ids', 'mine')
    expect([form.name, form.ids, meanwhile.changed.value]).toEqual(['Gannet v. Corvane', [1], true])
    expect(await save()).toBe('kept')
  })

  it('is a task, sent with what was read; both versions stand side by side and the choice is what is kept', async () => {
    signIn({ rights: ['tasks.change'] })
    const server = new Server({ 'GET /tasks/9': task(), 'GET /matters': { rows: [], total: 0 }, 'GET /matters/setting': setting, 'PUT /tasks/9': refusal('changed-meanwhile', 'Somebody else changed this task while you wrote.') }) // prettier-ignore
    const on = await show(TaskSheet, { id: 9 })
    await on.user.type(field('What is to be done'), ' again')
    const theirs = { text: 'Write to the surveyor', checklist: [{ id: 1, text: 'Ask for plans', done: true }] }
    server.on('GET /tasks/9', task(theirs))
    await on.user.click(press(/^Save/))
    await settled()
    const both = screen.getByRole('group', { name: 'Changed meanwhile' })
    expect(server.sent('PUT /tasks/9')[0]!.body['seen']).toMatchObject({ text: 'Call the surveyor', estimateMinutes: 30, items: [{ id: 1, done: false }] }) // prettier-ignore
    expect([both.textContent?.includes('Theirs stands in the form now: Checklist'), document.activeElement]).toEqual([true, both])
    // Saved before it is decided: nothing is sent, and the question comes before the eyes again.
    await on.user.click(press(/^Save/))
    expect(server.sent('PUT /tasks/9')).toHaveLength(1)
    const words = within(screen.getByRole('group', { name: 'What is to be done' }))
    expect(words.getByText('Call the surveyor again')).toBeTruthy()
    await on.user.click(words.getByRole('button', { name: 'Keep yours' }))
    server.on('PUT /tasks/9', { ok: true })
    await on.user.click(press(/^Save/))
    await settled()
    expect(server.sent('PUT /tasks/9')[1]!.body).toMatchObject({ text: 'Call the surveyor again', items: [{ id: 1, done: true }], seen: theirs.checklist && { text: 'Write to the surveyor' } }) // prettier-ignore
    expect(on.emitted('close')).toHaveLength(1)
  })

  it('says at the field that an estimate is no number, and loses nothing', async () => {
    signIn({ rights: ['tasks.change'] })
    const server = new Server({ 'GET /tasks/9': task(), 'GET /matters': { rows: [], total: 0 }, 'GET /matters/setting': setting, 'PUT /tasks/9': faults(['estimateMinutes', 'Give minutes']) }) // prettier-ignore
    const on = await show(TaskSheet, { id: 9 })
    await fireEvent.update(field(/^Estimate/), 'two')
    await on.user.click(press(/^Save/))
    await settled()
    expect(server.sent('PUT /tasks/9')[0]!.body['estimateMinutes']).toBe('two')
    expect(field(/^Estimate/).getAttribute('aria-invalid')).toBe('true')
  })
})

describe('leaving a sheet', () => {
  const cost = { id: 3, matterId: 7, matter: 'Gannet', text: 'Courier', amount: 40_00, billable: true, paidFrom: 'operating', receiptId: null, receipt: null } // prettier-ignore
  it('asks whichever field was changed, and no longer once it stands as it did', async () => {
    new Server({ 'GET /matters': { rows: [], total: 0 }, 'GET /papers': { rows: [], total: 0 } })
    const on = await show(CostSheet, { cost, how: 'correct' })
    expect(somethingUnsaved()).toBe(false)
    await on.user.click(screen.getByRole('checkbox'))
    expect(somethingUnsaved()).toBe(true)
    await on.user.click(press(/^Leave/))
    expect([screen.getByRole('alert').textContent, on.emitted('close')]).toEqual([expect.stringContaining('not saved'), undefined])
    await on.user.click(screen.getByRole('checkbox'))
    expect(somethingUnsaved()).toBe(false)
    await on.user.click(press(/^Leave$/))
    expect(on.emitted('close')).toHaveLength(1)
  })
  it('still asks after a save that was refused', async () => {
    const server = new Server({ 'PUT /bills/4/dispute': faults(['reason', 'Say what is disputed']) })
    const on = await show(DisputeSheet, { billId: 4, number: 'B-1004', disputed: null })
    await on.user.type(field('What is disputed'), 'x')
    await on.user.click(press(/^Mark/))
    await settled()
    expect([server.asked.length, somethingUnsaved()]).toEqual([1, true])
  })
})
