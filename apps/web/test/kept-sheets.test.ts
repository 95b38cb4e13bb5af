import { fireEvent, screen } from '@testing-library/vue'
import { beforeEach, describe, expect, it } from 'vitest'
import RulesSheet from '../src/books/RulesSheet.vue'
import ReminderRule from '../src/billing/ReminderRule.vue'
import GoalsSheet from '../src/reports/GoalsSheet.vue'
import ScheduleSheet from '../src/reports/ScheduleSheet.vue'
import { somethingUnsaved } from '../src/ui/unsaved'
import { faults, field, lastNote, press, put, Server, settled, show, signIn, wrong } from './stage'

beforeEach(() => signIn({ rights: ['books.see', 'books.post', 'bills.see', 'bills.issue', 'bills.review'] }))

describe('rules for lines of the bank', () => {
  const rule = {
    id: 4,
    words: 'monthly charge',
    way: 'out',
    amount: 25_00,
    accountId: 61,
    account: '6100 Bank charges',
    memo: 'Bank charge',
  }
  it('begin with the words of a line, and one that is opened is changed, not added', async () => {
    const server = new Server({ 'GET /bank/rules': [rule], 'GET /books/trial-balance': { rows: [], asOf: '2026-11-23' }, 'POST /bank/rules': faults(['accountId', 'Choose an account']) }) // prettier-ignore
    await show(RulesSheet, { words: 'wire fee', way: 'in' })
    expect([field('Words of the bank').value, field('Money').value]).toEqual(['wire fee', 'in'])
    await press('Add the rule')
    expect(server.sent('POST /bank/rules')[0]!.body).toEqual({
      id: null,
      words: 'wire fee',
      way: 'in',
      amount: null,
      accountId: 0,
      memo: '',
    })
    expect(screen.getByText('Choose an account')).toBeTruthy()
    await fireEvent.click(screen.getByText('monthly charge'))
    await settled()
    expect([field(/^Only this amount/).value, field('What it is').value]).toEqual(['25.00', 'Bank charge'])
    server.on('POST /bank/rules', { id: 4 })
    await put(/^Only this amount/, '')
    await press('Save the rule')
    expect(server.sent('POST /bank/rules')[1]!.body).toEqual({ id: 4, words: 'monthly charge', way: 'out', amount: null, accountId: 61, memo: 'Bank charge' }) // prettier-ignore
    // The form stands empty for the next one.
    expect([field('Words of the bank').value, screen.queryByRole('button', { name: 'Save the rule' })]).toEqual(['', null])
  })
})

describe('goals and weeks', () => {
  const goal = {
    userId: 2,
    name: 'Noor Haddad-Lind',
    from: '2026-01-01',
    basis: 'collected',
    weekly: null,
    monthly: 30_000_00,
    costRate: 90_00,
  }
  it('take a goal into the form, and set another from a day on', async () => {
    const server = new Server({
      'GET /oversight/goals': { weekEnds: 5, people: [{ id: 2, name: 'Noor Haddad-Lind' }], rows: [goal] },
      'PUT /oversight/goals': faults(['weekly', 'Give a goal, or what an hour costs']),
      'PUT /oversight/week-end': {},
    })
    await show(GoalsSheet)
    expect([field('From').value, somethingUnsaved()]).toEqual(['Sun 1 Nov 2026', false])
    await fireEvent.click(screen.getAllByText('Noor Haddad-Lind').at(-1)!)
    await settled()
    expect([field(/^Goal of a month/).value, field('What counts').value, field(/^What an hour costs/).value]).toEqual(['30,000.00', 'collected', '90.00']) // prettier-ignore
    await put(/^Goal of a week/, '7,500')
    await put(/^Goal of a month/, '')
    await press('Set the goal')
    expect(server.sent('PUT /oversight/goals')[0]!.body).toEqual({ userId: 2, from: '2026-01-01', basis: 'collected', weekly: 7_500_00, monthly: null, costRate: 90_00 }) // prettier-ignore
    expect([wrong(/^Goal of a week/), somethingUnsaved()]).toEqual([true, true])
    await fireEvent.update(field('The firm’s week ends on'), '7')
    await press('Set')
    expect([server.sent('PUT /oversight/week-end')[0]!.body, lastNote()?.text]).toEqual([{ weekEnds: 7 }, 'Weeks end on Sunday'])
  })
})

describe('a report that goes out', () => {
  it('keeps how it is looked at, and its day where the rhythm is another', async () => {
    const server = new Server({ 'GET /oversight/readers': [{ id: 2, name: 'Noor Haddad-Lind' }], 'POST /oversight/schedules': faults(['name', 'There is one of that name']) }) // prettier-ignore
    await show(ScheduleSheet, { what: 'unbilled', asked: { group: 'client' } })
    await fireEvent.update(field('On'), '4')
    await fireEvent.update(field('Every'), 'month')
    await settled()
    expect(field('On').value).toBe('1')
    await fireEvent.update(field('On'), '31')
    await press('Let it go out')
    expect(server.sent('POST /oversight/schedules')[0]!.body).toMatchObject({ what: 'unbilled', every: 'month', onDay: 31, format: 'xlsx', to: [2], asked: { group: 'client' } }) // prettier-ignore
    expect(wrong('Name')).toBe(true)
  })
})

describe('reminders of bills', () => {
  it('show what is kept before it can be changed, and refuse days at their field', async () => {
    const server = new Server({ 'GET /overdue/rule': { days: '7, 21, 45', by: null, stopped: false }, 'PUT /overdue/rule': faults(['days', 'Give one to three days']) }) // prettier-ignore
    await show(ReminderRule)
    expect(field(/^Days after/).value).toBe('7, 21, 45')
    await put(/^Days after/, '45, 7')
    await fireEvent.click(field(/Send them by themselves/))
    await press('Save')
    expect([server.sent('PUT /overdue/rule')[0]!.body, wrong(/^Days after/)]).toEqual([{ days: '45, 7', automatic: true }, true])
  })
})
