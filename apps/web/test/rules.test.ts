import { shippedRuleSets, type RuleDeadline } from '@heron/core/docket'
import { fireEvent, screen, within } from '@testing-library/vue'
import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import DeadlineSheet from '../src/docket/rules/DeadlineSheet.vue'
import EffectSheet from '../src/docket/rules/EffectSheet.vue'
import FileSheet from '../src/docket/rules/FileSheet.vue'
import RuleSetPage from '../src/docket/rules/RuleSetPage.vue'
import { formOf, readForm } from '../src/docket/rules/form'
import { answer, faults, lastNote, refusal, Server, settled, show, signIn } from './stage'

const federal = shippedRuleSets.find((s) => s.key === 'us-federal-civil')!
/** A court with few events, which the page lists more quickly. */
const few = ['complaint-served', 'judgment-entered', 'trial-set']
const small = {
  ...federal,
  triggers: federal.triggers.filter((t) => few.includes(t.key)),
  deadlines: federal.deadlines.filter((d) => few.includes(d.trigger)),
}
type Shown = Awaited<ReturnType<typeof show>>
const press = async ({ user }: Shown, name: string | RegExp) => {
  await user.click(screen.getByRole('button', { name }))
  await settled()
}

describe('a deadline in its form', () => {
  it.each(shippedRuleSets.map((s) => [s.title, s] as const))('comes out as it went in, for every deadline of %s', (_title, set) => {
    for (const d of set.deadlines) {
      const { key: _key, ...rest } = d
      expect(readForm(formOf(d, false), d.trigger)).toEqual(rest)
    }
  })
  it('comes out as it went in, whatever its counts, facts and spans are', () => {
    const key = fc.constantFrom('answer', 'trial-set', 'reply-brief')
    const leg = fc.record({
      base: fc.oneof(
        fc.constant({ kind: 'trigger' as const }),
        fc.record({ kind: fc.constant('event' as const), key }),
        fc.record({ kind: fc.constant('deadline' as const), key, moment: fc.constantFrom('final' as const, 'before-roll' as const) }),
      ),
      count: fc.nat(400),
      unit: fc.constantFrom('day' as const, 'courtDay' as const, 'clearDay' as const, 'week' as const, 'month' as const, 'year' as const),
      direction: fc.constantFrom('after' as const, 'before' as const),
      roll: fc.constantFrom('default' as const, 'forward' as const, 'back' as const, 'none' as const),
    })
    const made = fc.record({
      legs: fc.array(leg, { minLength: 1, maxLength: 3 }),
      combine: fc.constantFrom('earliest' as const, 'latest' as const),
      serviceExtends: fc.boolean(),
      filing: fc.boolean(),
      fact: fc.option(fc.record({ fact: fc.constant('us-party'), not: fc.boolean() }), { nil: undefined }),
      from: fc.option(fc.constant('2026-12-01'), { nil: undefined }),
      to: fc.option(fc.constant('2027-11-30'), { nil: undefined }),
      until: fc.option(key, { nil: undefined }),
    })
    fc.assert(
      fc.property(made, (m) => {
        const d: RuleDeadline = {
          key: 'x',
          trigger: 'trial-set',
          title: 'A title',
          text: 'What must be done, in full.',
          authority: { cite: 'Rule 1' },
          weight: 'rule',
          legs: m.legs,
          ...(m.legs.length > 1 ? { combine: m.combine } : {}),
          serviceExtends: m.serviceExtends,
          ...(m.filing ? { filing: true } : {}),
          ...(m.fact ? { appliesWhen: m.fact } : {}),
          ...(m.until ? { provisionalUntil: m.until } : {}),
          ...(m.from || m.to ? { inForce: { ...(m.from ? { from: m.from } : {}), ...(m.to ? { to: m.to } : {}) } } : {}),
        }
        const { key: _key, ...rest } = d
        expect(readForm(formOf(d, false), 'trial-set')).toEqual(rest)
      }),
    )
  })
  it('of the firm’s own begins before its event; a number left out is no zero', () => {
    const form = formOf(null, true)
    expect([form.weight, form.cite, form.legs[0]!.direction]).toEqual(['firm practice', 'Firm practice', 'before'])
    form.legs[0]!.count = ' '
    expect(readForm(form, 'trial-set').legs[0]!.count).toBeNaN()
  })
  it('reads back in words while it is written', async () => {
    const on = await show(DeadlineSheet, {
      set: federal,
      trigger: 'trial-set',
      was: null,
      practice: true,
      busy: false,
      message: '',
      faults: [],
    })
    const words = () => screen.getByText('It reads:').parentElement!.textContent
    expect(words()).toContain('7 calendar days before trial set')
    await on.user.clear(screen.getByLabelText('Number'))
    await on.user.type(screen.getByLabelText('Number'), '6')
    await on.user.selectOptions(screen.getByLabelText('Of'), 'court days')
    expect(words()).toContain('6 court days before trial set')
    await press(on, 'Another count')
    await on.user.selectOptions(screen.getByLabelText('Of these holds'), 'the latest')
    expect(words()).toContain('or if later')
    await press(on, 'Take count 2 out')
    expect(screen.queryByLabelText('Of these holds')).toBeNull()
    await on.user.type(screen.getByLabelText('Title'), 'Retain an expert')
    await on.user.keyboard('{Control>}{Enter}{/Control}')
    expect((on.emitted('save')[0] as [RuleDeadline])[0]).toMatchObject({
      trigger: 'trial-set',
      title: 'Retain an expert',
      weight: 'firm practice',
    })
  })
})

describe('a rule set as its file', () => {
  const text = '{"key": "harrow"}'
  const found = {
    key: 'harrow',
    title: 'Harrow appeals',
    court: 'Court of Appeals',
    edition: '2',
    triggers: 3,
    deadlines: 9,
    no: 4,
    against: { added: ['Reply brief'], changed: ['Opening brief'], gone: [] },
  }
  const checked = (more: object = {}) => ({ faults: [], warnings: [], found: null, ...more })
  const begin = async (reply: unknown, props: Record<string, unknown> = {}) => {
    const server = new Server({ 'POST /rules/check': reply, 'PUT /rules': { key: 'harrow', no: 5 } })
    const on = await show(FileSheet, props)
    // Braces mean keys to the test's typist.
    await on.user.click(screen.getByLabelText('Its text'))
    await on.user.paste(text)
    await press(on, /^Check the file/)
    return { server, on }
  }

  it('is refused with every fault and its place, and nothing is kept', async () => {
    const list = [
      { where: 'deadlines[3] (answer) › legs[1]', what: 'The number of days is missing' },
      { where: 'title', what: 'Give a title' },
    ]
    const { server } = await begin(checked({ faults: list }))
    const wrong = screen.getByRole('alert')
    expect(wrong.textContent).toContain('2 things to put right')
    expect(within(wrong).getByText('deadlines[3] (answer) › legs[1]')).toBeTruthy()
    expect(screen.getByRole('button', { name: /^Check the file/ })).toBeTruthy()
    expect(server.sent('PUT /rules')).toHaveLength(0)
  })
  it('is shown against what is in force before it is kept, as the edition that follows', async () => {
    const { server, on } = await begin(checked({ found, warnings: ['1 open matter has the event “old”'] }))
    const shown = screen.getByRole('region', { name: 'What is in the file' }).textContent
    for (const words of ['Harrow appeals', '3 events', '9 deadlines', 'Reply brief', 'Opening brief', '1 open matter has the event'])
      expect(shown).toContain(words)
    await on.user.type(screen.getByLabelText(/^Why/), 'Rules of December')
    await press(on, /^Keep these rules/)
    expect(server.sent('PUT /rules')[0]!.body).toEqual({ file: text, note: 'Rules of December', after: 4 })
    expect(lastNote()?.text).toBe('Harrow appeals kept; no docketed date moved')
  })
  it('is checked anew after it was changed, and follows the edition from which it was begun', async () => {
    const { server, on } = await begin(checked({ found }), { after: 3 })
    await on.user.type(screen.getByLabelText('Its text'), ' ')
    expect(screen.queryByRole('region', { name: 'What is in the file' })).toBeNull()
    await press(on, /^Check the file/)
    server.on('PUT /rules', refusal('changed-meanwhile', 'Someone kept another edition of these rules since you began.'))
    await press(on, /^Keep these rules/)
    expect(server.sent('PUT /rules')[0]!.body['after']).toBe(3)
    expect(screen.getByRole('alert').textContent).toContain('Someone kept another edition')
    expect(on.emitted('saved')).toBeUndefined()
  })
})

describe('the rules of a court', () => {
  const book = (more: object = {}) => ({
    key: 'us-federal-civil',
    own: false,
    edition: '2026-11',
    no: 0,
    file: JSON.stringify(small),
    practice: '[]',
    editions: [],
    holidaySets: [],
    ...more,
  })
  const begin = async (more: object = {}) => {
    const server = new Server({ 'GET /rules/us-federal-civil': book(more) })
    const on = await show({ render: () => '' })
    await on.router.push('/docket/rules/us-federal-civil')
    on.router.currentRoute.value.params['key'] = 'us-federal-civil'
    return { server, on: await show(RuleSetPage) }
  }

  it('are found by event, deadline or citation', async () => {
    const { on } = await begin()
    const events = () => screen.getByRole('list', { name: /^Events of a case/ }).querySelectorAll('button').length
    const all = events()
    await on.user.type(screen.getByLabelText('Find'), '54(d)')
    expect([events() > 0, events() < all]).toEqual([true, true])
    expect(screen.getByRole('region', { name: 'What follows' }).textContent).toContain('54(d)')
  })
  it('that ship are changed by nobody; whoever keeps rules puts own dates on top, told what is wrong with one', async () => {
    const { server, on } = await begin()
    expect(screen.queryByRole('button', { name: /^Change / })).toBeNull()
    expect(screen.queryByRole('button', { name: 'New deadline' })).toBeNull()
    server.on('PUT /rules/us-federal-civil/practice', faults(['deadline', 'text Give at least 20 letters']))
    await press(on, 'A date of our own')
    await on.user.type(screen.getByLabelText('Title'), 'Call the client')
    await press(on, /^Keep it/)
    expect(screen.getByRole('alert').textContent).toContain('Give at least 20 letters')
    server.on('PUT /rules/us-federal-civil/practice', { deadlineKey: 'own-call' })
    await press(on, /^Keep it/)
    expect(screen.queryByRole('dialog')).toBeNull()
    expect(lastNote()?.text).toBe('Call the client kept; no docketed date moved')
  })
  it('of the firm’s own are kept as a whole after the edition that was shown', async () => {
    const { server, on } = await begin({ own: true, no: 6 })
    server.on('PUT /rules', { key: 'us-federal-civil', no: 7 })
    await press(on, /^Complaint served 1/)
    await press(on, /^Change Answer/)
    await on.user.type(screen.getByLabelText('Title'), ' at last')
    await press(on, /^Keep it/)
    const [sent] = server.sent('PUT /rules')
    expect([sent!.body['after'], (sent!.body['file'] as string).includes(' at last')]).toEqual([6, true])
    const kept = JSON.parse(sent!.body['file'] as string) as typeof federal
    expect(kept.deadlines).toHaveLength(small.deadlines.length)
  })
  it('of one key follow one another in time: a day that is tried stands beside the row in force on it', async () => {
    const [answer] = small.deadlines.filter((d) => d.trigger === 'complaint-served')
    const file = JSON.stringify({ ...small, deadlines: [{ ...answer!, title: 'Answer, as it was', inForce: { to: '2025-12-31' } }, { ...answer!, title: 'Answer, as it is', inForce: { from: '2026-01-01' } }] }) // prettier-ignore
    const { server, on } = await begin({ file })
    server.on('POST /rules/try', { faults: [], proposals: [{ key: answer!.key, date: '2026-11-24', trace: [{ text: 'Counted from service', date: null }], notes: [] }] }) // prettier-ignore
    await press(on, /^Complaint served 2/)
    await fireEvent.update(screen.getByLabelText('Try it for (optional)'), '2026-11-03')
    await fireEvent.blur(screen.getByLabelText('Try it for (optional)'))
    await settled()
    const row = (title: string) => screen.getByText(title).closest('.grid')!.textContent.trim().replaceAll(/\s+/g, ' ')
    expect(row('Answer, as it was')).toMatch(/^not in force/)
    expect(row('Answer, as it is')).toMatch(/^Tue 24 Nov .*Counted from service/)
  })
  it('of the firm’s own are taken away only after it was asked, and what is refused is said there', async () => {
    const { server, on } = await begin({ own: true, no: 6 })
    server.on('DELETE /rules/us-federal-civil', refusal('in-use', 'There are 3 matters with these rules; they cannot be taken away.'))
    await press(on, 'Take away')
    expect(server.sent('DELETE /rules/us-federal-civil')).toEqual([])
    await answer(true)
    expect(lastNote()?.text).toContain('There are 3 matters with these rules')
    server.on('DELETE /rules/us-federal-civil', { ok: true })
    await press(on, 'Take away')
    await answer(true)
    expect(lastNote()?.text).toBe('The rules are taken away')
  })
  it('get an event of their own, in its place in the order of a case', async () => {
    const { server, on } = await begin({ own: true, no: 6 })
    server.on('PUT /rules', { key: 'us-federal-civil', no: 7 })
    await press(on, 'New event')
    const last = [...small.triggers].sort((a, b) => a.order - b.order).at(-1)!
    expect((screen.getByLabelText('In the order of a case, after') as HTMLSelectElement).value).toBe(last.key)
    await on.user.type(screen.getByLabelText('What happens'), 'Record filed')
    await fireEvent.update(screen.getByLabelText('In the order of a case, after'), 'complaint-served')
    await fireEvent.click(screen.getByLabelText('Ask how it was served'))
    await press(on, /^Keep it/)
    const kept = JSON.parse(server.sent('PUT /rules')[0]!.body['file'] as string) as typeof federal
    const order = [...kept.triggers].sort((a, b) => a.order - b.order).map((t) => t.title)
    expect(order.indexOf('Record filed')).toBe(order.indexOf(small.triggers.find((t) => t.key === 'complaint-served')!.title) + 1)
    expect(kept.triggers.find((t) => t.title === 'Record filed')).toMatchObject({
      key: 'record-filed',
      asksService: true,
      asksParty: false,
    })
  })
  it('count otherwise as is said of their court, and ways of service get keys of their own', async () => {
    const { server, on } = await begin({ own: true, no: 6, holidaySets: [{ key: 'us-federal', title: 'Federal holidays' }] })
    server.on('PUT /rules', faults(['counting.shortPeriodUnder', 'Give a number of days']))
    await press(on, 'Court and counting')
    await fireEvent.update(screen.getByLabelText('Periods under so many days count court days (optional)'), 'seven')
    await press(on, 'Another way of service')
    await fireEvent.update(screen.getAllByLabelText('Way of service').at(-1)!, 'By drone')
    await fireEvent.update(screen.getAllByLabelText('Days added').at(-1)!, '2')
    await press(on, /^Keep it/)
    const sent = () => JSON.parse(server.sent('PUT /rules').at(-1)!.body['file'] as string) as typeof federal
    expect(sent().counting.shortPeriodUnder).toBe('seven')
    expect(screen.getByRole('alert').textContent).toContain('Give a number of days')
    server.on('PUT /rules', { key: 'us-federal-civil', no: 7 })
    await fireEvent.update(screen.getByLabelText('Periods under so many days count court days (optional)'), '7')
    await press(on, /^Keep it/)
    expect(sent().counting.shortPeriodUnder).toBe(7)
    expect(sent().services.at(-1)).toEqual({ key: 'by-drone', title: 'By drone', count: 2, unit: 'day' })
    expect(sent().services.slice(0, -1)).toEqual(small.services)
  })
  it('are only read by whoever does not keep them', async () => {
    signIn({ rights: ['docket.see'] })
    await begin({ own: true })
    for (const name of ['A date of our own', 'Take away', 'Effect on dockets', 'As text'])
      expect(screen.queryByRole('button', { name })).toBeNull()
    expect(screen.getByRole('link', { name: 'Take home as a file' })).toBeTruthy()
  })
})

describe('what changed rules do to dockets', () => {
  it('is shown by matter, and taken as shown or not at all', async () => {
    const effect = {
      moves: 0,
      adds: 1,
      matters: [
        {
          matterId: 7,
          number: '2026-0012',
          name: 'Gannet Ferry',
          differences: [],
          adds: [
            { key: 'reply', title: 'Reply brief', date: '2027-02-11', weight: 'rule', howCounted: '21 calendar days after brief served' },
          ],
        },
      ],
    }
    const server = new Server({
      'GET /rules/harrow/effect': effect,
      'POST /rules/harrow/effect': refusal('changed-meanwhile', 'Dockets changed meanwhile. Nothing moved.'),
    })
    const on = await show(EffectSheet, { setKey: 'harrow' })
    expect(screen.getByText('Reply brief')).toBeTruthy()
    await press(on, /^Docket 1 date/)
    expect(server.sent('POST /rules/harrow/effect')[0]!.body).toEqual({ moves: 0, adds: 1 })
    expect(screen.getByRole('alert').textContent).toContain('Nothing moved')
    expect(on.emitted('close')).toBeUndefined()
  })
})
