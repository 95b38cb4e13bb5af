import type { Day } from '@heron/core/calendar'
import { screen, within } from '@testing-library/vue'
import { describe, expect, it } from 'vitest'
import OpenProcedure from '../src/matters/OpenProcedure.vue'
import Background from '../src/setup/Background.vue'
import Letterhead from '../src/setup/Letterhead.vue'
import ReminderRules from '../src/setup/ReminderRules.vue'
import Walls from '../src/setup/Walls.vue'
import { agreed, stepRows } from '../src/tasks/steps'
import { faults, lastNote, later, Server, settled, show } from './stage'

const step = (key: string, dueOn: Day | null, assigneeId = 2) => ({
  key,
  text: `Step ${key}`,
  dueOn,
  how: 'on the day it starts',
  provisional: false,
  assigneeId,
  waitsFor: [],
})

describe('steps of a procedure before it starts', () => {
  it('are planned anew, and what a person left out, dated or gave away by hand stays', () => {
    const rows = stepRows([step('a', '2026-11-23'), step('b', '2026-11-24'), step('c', '2026-11-25')], [])
    rows[0]!.keep = false
    rows[1]!.dueOn = '2026-12-15'
    rows[2]!.assigneeId = 7
    const anew = stepRows([step('a', '2026-11-30'), step('b', '2026-12-01'), step('c', '2026-12-02', 3)], rows)
    expect(anew.map((s) => [s.keep, s.dueOn, s.assigneeId])).toEqual([
      [false, '2026-11-30', 2],
      [true, '2026-12-15', 2],
      [true, '2026-12-02', 7],
    ])
    expect(agreed(anew)).toEqual([
      { key: 'b', dueOn: '2026-12-15', assigneeId: 2, byHand: true },
      { key: 'c', dueOn: '2026-12-02', assigneeId: 7, byHand: false },
    ])
  })
  it('wait for a lead, follow the day and the team, and an answer that comes late does not take their place', async () => {
    const slow = later<unknown>()
    let n = 0
    const server = new Server({
      'POST /procedures/4/preview': () => {
        n += 1
        return n === 1 ? slow.promise : { version: 3, steps: [step('x', '2026-12-07')] }
      },
    })
    const props = {
      modelValue: 4,
      procedures: [{ id: 4, name: 'Opening', steps: 1 }],
      start: '2026-11-23',
      leadId: 0,
      team: [],
      staff: [{ value: 2, text: 'Noor' }],
      fault: () => '',
    }
    const on = await show(OpenProcedure, props)
    expect(server.asked).toEqual([])
    expect(screen.getByText(/once the lead is chosen/)).toBeTruthy()
    await on.rerender({ ...props, leadId: 2 })
    await settled()
    await on.rerender({ ...props, leadId: 2, start: '2026-12-07' })
    await settled()
    slow.come({ version: 2, steps: [step('late', '2026-11-23')] })
    await settled()
    expect(screen.getByText('1 task will be made. Change a date', { exact: false })).toBeTruthy()
    expect(screen.queryByText(/Step late/)).toBeNull()
    expect(server.asked.map((a) => a.body['start'])).toEqual(['2026-11-23', '2026-12-07'])
  })
})

describe('the set-up', () => {
  it('keeps the letterhead with a key of its own, and asks before what was typed is left', async () => {
    const server = new Server({
      'GET /firm/letterhead': { line: '', email: '', web: '', foot: '' },
      'GET /firm/bill-look': { group: 'none', summary: false, trust: false, slip: false },
      'GET /firm': { name: 'Calloway Fenn LLP', address: '12 Customs Landing', phone: '' },
      'PUT /firm/letterhead': faults(['email', 'This is not an e-mail address']),
    })
    const on = await show(Letterhead)
    await on.user.type(screen.getByLabelText(/^Line under the name/), 'Attorneys at law')
    expect(within(screen.getByRole('region', { name: 'How it looks' })).getByText('Attorneys at law')).toBeTruthy()
    await on.user.click(screen.getByRole('button', { name: /^Save/ }))
    await settled()
    expect(screen.getByText('This is not an e-mail address')).toBeTruthy()
    server.on('PUT /firm/letterhead', { ok: true })
    server.on('GET /firm/letterhead', { line: 'Attorneys at law', email: '', web: '', foot: '' })
    await on.user.click(screen.getByRole('button', { name: /^Save/ }))
    await settled()
    expect(lastNote()?.text).toBe('Letterhead kept')
    const keys = server.sent('PUT /firm/letterhead').map((a) => a.key)
    expect(keys[0] && keys[1] && keys[0] !== keys[1]).toBe(true)
  })
  it('keeps what is typed while it is being saved, and knows that it is not saved', async () => {
    const slow = later<unknown>()
    const server = new Server({
      'GET /firm/letterhead': { line: '', email: '', web: '', foot: '' },
      'GET /firm/bill-look': { group: 'none', summary: false, trust: false, slip: false },
      'GET /firm': { name: 'Calloway Fenn LLP', address: '', phone: '' },
      'PUT /firm/letterhead': () => slow.promise,
    })
    const on = await show(Letterhead)
    const line = screen.getByLabelText<HTMLInputElement>(/^Line under the name/)
    await on.user.type(line, 'Attorneys')
    await on.user.click(screen.getByRole('button', { name: /^Save/ }))
    await on.user.type(line, ' at law')
    server.on('GET /firm/letterhead', { line: 'Attorneys', email: '', web: '', foot: '' })
    slow.come({ ok: true })
    await settled()
    expect(line.value).toBe('Attorneys at law')
    server.on('PUT /firm/letterhead', { ok: true })
    await on.user.click(screen.getByRole('button', { name: /^Save/ }))
    await settled()
    expect(server.sent('PUT /firm/letterhead').map((a) => a.body['line'])).toEqual(['Attorneys', 'Attorneys at law'])
  })
  it('says at its field what no day of reminders is', async () => {
    const server = new Server({
      'GET /firm/reminders': { usual: [10, 5], strict: [1], lettersFrom: '06:00' },
      'PUT /firm/reminders': faults(['strict.0', 'Give numbers of court days, such as 10, 5, 1, 0']),
    })
    const on = await show(ReminderRules)
    const strict = screen.getByLabelText(/^Court days before a strict date/)
    await on.user.clear(strict)
    await on.user.type(strict, 'soon')
    await on.user.click(screen.getByRole('button', { name: /^Save/ }))
    await settled()
    expect(screen.getByText(/^Give numbers of court days/)).toBeTruthy()
    expect(server.sent('PUT /firm/reminders')[0]!.body).toEqual({ usual: [10, 5], strict: [-1], lettersFrom: '06:00' })
  })
  it('shows walls and how many are out of sight', async () => {
    const wall = {
      matterId: 4,
      number: '26-0004',
      matter: 'Lease',
      lead: 'Noor',
      userId: 3,
      name: 'Sable',
      active: true,
      reason: '',
      since: null,
    }
    new Server({ 'GET /walls': { rows: [wall], hidden: 2 }, 'GET /staff': [] })
    await show(Walls)
    expect(screen.getByRole('row', { name: /Sable Lease 26-0004/ })).toBeTruthy()
    expect(screen.getByText('2 more walls on matters that are not open to you.')).toBeTruthy()
  })
  it('tries again what failed in the background', async () => {
    const job = {
      id: 9,
      what: 'letter',
      state: 'failed',
      attempts: 11,
      createdAt: '2026-11-23T10:00:00Z',
      runAfter: null,
      error: 'Mailbox full',
      who: 'Noor',
      to: 'Ms. Larkin',
      subject: null,
    }
    const server = new Server({ 'GET /jobs/stuck': [job], 'PUT /jobs/9': { ok: true } })
    const on = await show(Background)
    expect(screen.getByText('failed after 11 tries')).toBeTruthy()
    server.on('GET /jobs/stuck', [])
    await on.user.click(screen.getByRole('button', { name: /^Acts on/ }))
    await on.user.click(screen.getByRole('menuitem', { name: 'Try again' }))
    await settled()
    expect(server.sent('PUT /jobs/9')[0]!.body).toEqual({ what: 'try again' })
    expect(screen.getByText('Nothing has failed and nothing waits.')).toBeTruthy()
  })
})
