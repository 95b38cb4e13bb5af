import { screen, within } from '@testing-library/vue'
import { describe, expect, it } from 'vitest'
import { computed, defineComponent, h, ref } from 'vue'
import { readLeads, showLeads } from '../src/docket/leads'
import RepeatsField from '../src/docket/RepeatsField.vue'
import DayField from '../src/ui/DayField.vue'
import TimeField from '../src/ui/TimeField.vue'
import ManyField from '../src/ui/ManyField.vue'
import Picker, { type Choice } from '../src/ui/Picker.vue'
import SideSheet from '../src/ui/SideSheet.vue'
import { later, Server, settled, show } from './stage'

/** A field with its value, as a form holds it. */
async function field<T>(component: Parameters<typeof h>[0], start: T, props: Record<string, unknown> = {}) {
  const value = ref<T>(start)
  const told: unknown[] = []
  const form = defineComponent({
    setup: () => () =>
      h(component as never, {
        ...props,
        modelValue: value.value,
        'onUpdate:modelValue': (v: T) => (value.value = v),
        onSum: (words: string) => told.push(words),
      }),
  })
  const shown = await show(form)
  return { ...shown, value: computed(() => value.value), told }
}
const type = async (
  on: { user: { clear: (e: Element) => Promise<void>; type: (e: Element, t: string) => Promise<void>; tab: () => Promise<void> } },
  text: string,
) => {
  const input = screen.getByRole<HTMLInputElement>('textbox')
  await on.user.clear(input)
  await on.user.type(input, text)
  await on.user.tab()
  await settled()
  return input
}

describe('a date field', () => {
  it.each([
    ['25 nov', '2026-11-25'],
    ['11/25', '2026-11-25'],
    ['Wed 25 Nov 2026', '2026-11-25'],
    ['2026-11-25', '2026-11-25'],
    ['today', '2026-11-23'],
    // Nearest to today, 23 November 2026.
    ['3 Jan', '2027-01-03'],
  ])('takes %s', async (typed, day) => {
    const on = await field<string | null>(DayField, null, { label: 'On' })
    await type(on, typed)
    expect(on.value.value).toBe(day)
  })
  it('works sums out where it stands, and keeps their words', async () => {
    const on = await field<string | null>(DayField, null, { label: 'On' })
    const input = await type(on, '+90')
    expect([on.value.value, input.value]).toEqual(['2027-02-21', 'Sun 21 Feb 2027'])
    expect(on.told.at(-1)).toContain('90 calendar days after')
  })
  it('asks the court’s calendar for court days, and names the court', async () => {
    const server = new Server({
      'GET /day-sum': { day: '2027-03-22', text: '6 court days before Tue 30 Mar 2027, by the days of U.S. federal civil' },
    })
    const on = await field<string | null>(DayField, null, { label: 'On', ruleSetKey: 'us-federal-civil' })
    await type(on, '30 Mar 2027 - 6 court days')
    expect(server.sent('GET /day-sum')[0]!.query).toEqual({
      text: '30 Mar 2027 - 6 court days',
      from: '2027-03-30',
      ruleSetKey: 'us-federal-civil',
    })
    expect([on.value.value, on.told.at(-1)]).toEqual(['2027-03-22', expect.stringContaining('by the days of U.S. federal civil')])
  })
  it('lets an answer go that comes after something else was typed', async () => {
    const slow = later<unknown>()
    new Server({ 'GET /day-sum': () => slow.promise })
    const on = await field<string | null>(DayField, null, { label: 'On' })
    await type(on, '+5 court days')
    await type(on, '1 Dec')
    slow.come({ day: '2026-12-01', text: '5 court days after' })
    await settled()
    expect([on.value.value, screen.getByRole<HTMLInputElement>('textbox').value]).toEqual(['2026-12-01', 'Tue 1 Dec 2026'])
    expect(on.told.at(-1)).toBe('')
  })
  it('says what it takes when it cannot read what was typed, and leaves it there', async () => {
    const on = await field<string | null>(DayField, '2026-11-25', { label: 'On' })
    const input = await type(on, '31 Feb')
    expect([on.value.value, input.value, input.getAttribute('aria-invalid')]).toEqual([null, '31 Feb', 'true'])
    expect(screen.getByText(/Give a date like 25 Nov/)).toBeTruthy()
  })
})

describe('sums in a field that holds a day', () => {
  it('start at that day, or at the one it moves; and at today where there is none', async () => {
    const held = await field<string | null>(DayField, '2026-12-28', { label: 'On' })
    await type(held, '+14')
    expect(held.value.value).toBe('2027-01-11')
  })
  it('keep their words, also with a day of their own', async () => {
    const on = await field<string | null>(DayField, null, { label: 'On', from: '2026-12-28' })
    await type(on, '28 Dec 2026 + 14')
    expect([on.value.value, on.told.at(-1)]).toEqual(['2027-01-11', '14 calendar days after Mon 28 Dec 2026'])
  })
})

describe('an hour', () => {
  it.each([
    ['2pm', '14:00'],
    ['2:00 pm', '14:00'],
    ['9.15 a.m.', '09:15'],
    ['14:30', '14:30'],
    ['noon', '12:00'],
  ])('%s is %s', async (typed, time) => {
    const at = await field<string>(TimeField, '', { label: 'At' })
    await type(at, typed)
    expect(at.value.value).toBe(time)
  })
  it('that cannot be read is said so, and stands in the way of saving', async () => {
    const at = await field<string>(TimeField, '09:00', { label: 'At' })
    const input = await type(at, '25 o’clock')
    expect([input.getAttribute('data-unread'), input.value]).toEqual(['At', '25 o’clock'])
  })
})

describe('a search that takes one of a list', () => {
  const list: Choice[] = [
    { id: 1, text: 'Complaint served', hint: '2 deadlines' },
    { id: 2, text: 'Complaint filed' },
  ]
  it('shows the list at an arrow key, and takes what is pressed', async () => {
    const on = await field<Choice | null>(Picker, null, { label: 'What happened', listed: true, search: () => Promise.resolve(list) })
    screen.getByRole('combobox').focus()
    await on.user.keyboard('{ArrowDown}')
    await settled()
    expect(screen.getAllByRole('option').map((o) => o.textContent.trim().replace(/\s+/g, ' '))).toEqual([
      'Complaint served · 2 deadlines',
      'Complaint filed',
    ])
    await on.user.click(screen.getByRole('option', { name: 'Complaint filed' }))
    expect(on.value.value?.id).toBe(2)
  })
  it('shows what fits the latest letters, however late earlier answers come', async () => {
    const replies: Record<string, ReturnType<typeof later<Choice[]>>> = {}
    const search = (q: string) => (replies[q] = later<Choice[]>()).promise
    const on = await field<Choice | null>(Picker, null, { label: 'Matter', search })
    await on.user.type(screen.getByRole('combobox'), 'ga')
    replies['ga']!.come([{ id: 9, text: 'Gannet Ferry' }])
    replies['g']!.come(list)
    await settled()
    expect(screen.getAllByRole('option').map((o) => o.textContent.trim())).toEqual(['Gannet Ferry'])
  })
  it('takes several, each once, and lets one go again', async () => {
    const on = await field<number[]>(ManyField, [], { label: 'Who', options: list })
    const take = async (name: string) => {
      await on.user.clear(screen.getByRole('combobox'))
      await on.user.type(screen.getByRole('combobox'), name)
      await settled()
      await on.user.click(screen.getByRole('option', { name: new RegExp(name) }))
      await settled()
    }
    await take('filed')
    await take('served')
    expect(on.value.value).toEqual([2, 1])
    await on.user.clear(screen.getByRole('combobox'))
    await on.user.type(screen.getByRole('combobox'), 'filed')
    await settled()
    expect(screen.queryByRole('option')).toBeNull()
    await on.user.click(screen.getByRole('button', { name: 'Take Complaint filed out' }))
    expect(on.value.value).toEqual([1])
  })
})

describe('how a date recurs', () => {
  const shown = () => screen.getByRole('status').textContent
  it('is written by the standard and shown in words with its first days', async () => {
    const on = await field<string | null>(RepeatsField, null, { first: '2026-11-30' })
    expect(on.value.value).toBeNull()
    await on.user.selectOptions(screen.getByLabelText('Recurs'), 'By weeks')
    await on.user.click(screen.getByLabelText('Thu'))
    await on.user.click(screen.getByLabelText('Mon'))
    expect([on.value.value, shown()]).toEqual([
      'FREQ=WEEKLY;BYDAY=MO,TH',
      'every week on Monday and Thursday: Mon 30 Nov, Thu 3 Dec, Mon 7 Dec and so on',
    ])
    await on.user.selectOptions(screen.getByLabelText('Until'), 'a number of times')
    await on.user.type(screen.getByLabelText('How many times'), '2')
    expect([on.value.value, shown()]).toEqual([
      'FREQ=WEEKLY;BYDAY=MO,TH;COUNT=2',
      'every week on Monday and Thursday, 2 times: Mon 30 Nov, Thu 3 Dec',
    ])
  })
  it('on the last day of the month stays there', async () => {
    const on = await field<string | null>(RepeatsField, null, { first: '2026-11-30' })
    await on.user.selectOptions(screen.getByLabelText('Recurs'), 'By months')
    expect(shown()).toContain('Mon 30 Nov, Wed 30 Dec, Sat 30 Jan 2027')
    await on.user.click(screen.getByLabelText('On the last day of the month'))
    expect(shown()).toContain('Mon 30 Nov, Thu 31 Dec, Sun 31 Jan 2027')
  })
})

describe('court days before a date', () => {
  it('are read as people write them; what is no number is left for the server to refuse', () => {
    expect([readLeads('10, 5; 1 0'), readLeads(''), readLeads('5, soon'), showLeads([10, 5])]).toEqual([
      [10, 5, 1, 0],
      [],
      [5, -1],
      '10, 5',
    ])
  })
})

describe('a side sheet', () => {
  const props = { title: 'New date', save: 'Docket it', changed: false }
  it('saves by Ctrl Enter, goes on by Enter, and leaves by Esc', async () => {
    const on = await show(SideSheet, { ...props })
    await on.user.keyboard('{Control>}{Enter}{/Control}')
    await on.user.keyboard('{Escape}')
    expect([on.emitted('save').length, on.emitted('close').length]).toEqual([1, 1])
  })
  it('asks once before what was entered is thrown away', async () => {
    const on = await show(SideSheet, { ...props, changed: true })
    await on.user.keyboard('{Escape}')
    expect(on.emitted('close')).toBeUndefined()
    await on.user.click(within(screen.getByRole('alert')).getByRole('button', { name: 'Leave without saving' }))
    expect(on.emitted('close').length).toBe(1)
  })
  it('saves nothing while it is busy or may not', async () => {
    const on = await show(SideSheet, { ...props, busy: true })
    await on.user.keyboard('{Control>}{Enter}{/Control}')
    await on.rerender({ ...props, busy: false, disabled: true })
    await on.user.keyboard('{Control>}{Enter}{/Control}')
    expect(on.emitted('save')).toBeUndefined()
  })
})
