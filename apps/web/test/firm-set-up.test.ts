import { fireEvent, screen, within } from '@testing-library/vue'
import { beforeAll, beforeEach, describe, expect, it } from 'vitest'
import Firm from '../src/setup/Firm.vue'
import First from '../src/setup/First.vue'
import Lists from '../src/setup/Lists.vue'
import {
  type Asked,
  faults,
  field,
  lastNote,
  later,
  press,
  put,
  refusal,
  Server,
  settled,
  setting,
  show,
  signIn,
  standAt,
  wrong,
} from './stage'

beforeAll(() => import('../src/ui/judging'))
beforeEach(() => {
  localStorage.clear()
  signIn({ rights: ['firm.set-up'] })
})
const told = (element: Element | null) => element?.textContent?.trim().replaceAll(/\s+/g, ' ')

describe('the first set-up', () => {
  const open = async (routes: Record<string, unknown> = {}) => {
    const server = new Server({ 'POST /set-up': { ok: true }, ...routes })
    await standAt('/first', '/first', First)
    return { server, ...(await show(First)) }
  }
  const goOn = () => press(/^(Go on|Set up the firm)$/)
  const step = (name: RegExp) => fireEvent.click(within(screen.getByRole('list')).getByRole('button', { name }))
  const sent = (server: Server) => server.sent('POST /set-up').at(-1)!.body as { firm: object; administrator: { initials: string }; people: object[]; areas: { name: string; stages: string[] }[] } // prettier-ignore

  it('sends all that was filled in on its steps, and nothing before the last', async () => {
    const { server } = await open({ 'POST /set-up': refusal('set-up', 'There is a firm already.') })
    await put('Name of the firm', 'Marsh & Alder')
    await put('Address', '4 Quay Street')
    await put('Your name', 'Ines Marsh')
    expect(field('Initials').value).toBe('IM')
    await put('E-mail, to sign in with', 'ines@marsh.example')
    await put('Password, ten characters or more', 'harrow-sound')
    await goOn()
    await press('Add someone')
    await put('Name', 'Bo Alder')
    await put('Rate an hour (optional)', '285')
    await goOn()
    await fireEvent.click(screen.getAllByRole('button', { name: 'Take out' })[1]!)
    await press('Another area')
    const areas = screen.getAllByLabelText('Area')
    await fireEvent.update(areas.at(-1)!, 'Trusts')
    const stages = screen.getAllByLabelText('Stages')
    expect(stages).toHaveLength(4)
    // What is typed stays as it is typed.
    await fireEvent.update(stages.at(-1)!, 'Opening,  Funding ,')
    expect((stages.at(-1) as HTMLInputElement).value).toBe('Opening,  Funding ,')
    await goOn()
    expect(server.asked).toEqual([])
    await goOn()
    expect(sent(server)).toMatchObject({
      firm: { name: 'Marsh & Alder', address: '4 Quay Street' },
      people: [{ name: 'Bo Alder', initials: 'BA', role: 'lawyer', rate: 285_00 }],
    })
    expect(sent(server).areas.map((a) => a.name)).toEqual(['Litigation', 'Business advice', 'Real property', 'Trusts'])
    expect(sent(server).areas[3]!.stages).toEqual(['Opening', 'Funding'])
    expect(screen.getByRole('alert').textContent).toContain('There is a firm already.')
  })

  it('keeps initials that were written by hand', async () => {
    await open()
    await put('Your name', 'Ines Marsh')
    await put('Initials', 'IMA')
    await put('Your name', 'Ines Marsh-Alder')
    expect(field('Initials').value).toBe('IMA')
  })

  it('goes to the step with the first fault, marks each that has one, and says each fault at its field', async () => {
    const { server } = await open({
      'POST /set-up': faults(
        ['people.0.initials', 'Give initials'],
        ['people.0.rate', 'Give the rate'],
        ['areas.0.stages.1', 'Name the stage'],
        ['areas.1.stages', 'At most 20 stages'],
        ['workDays', 'Choose at least one day'],
      ),
    })
    await step(/^2/)
    await press('Add someone')
    await step(/^4/)
    await press('Set up the firm')
    expect(server.sent('POST /set-up')).toHaveLength(1)
    const steps = within(screen.getByRole('list'))
    expect(steps.getAllByRole('button').map(told)).toEqual(['1. The firm and you', '2. Peopleto mend', '3. Practice areasto mend', '4. Accounts and numbersto mend']) // prettier-ignore
    expect([wrong('Initials'), wrong('Rate an hour (optional)')]).toEqual([true, true])
    await step(/^3/)
    expect(screen.getAllByLabelText('Stages').map((s) => s.getAttribute('aria-invalid'))).toEqual(['true', 'true', null, null])
    await step(/^4/)
    expect(screen.getByText('Choose at least one day')).toBeTruthy()
  })

  it('signs the administrator in, once the firm is there', async () => {
    const { server, router } = await open({
      'GET /session': { setUp: true, me: null, today: '2026-11-23', firm: 'Marsh & Alder' },
      'POST /session': { id: 1, name: 'Ines Marsh', initials: 'IM', role: 'administrator', rights: [], csrf: 'c', mayOverride: false },
    })
    await put('E-mail, to sign in with', 'ines@marsh.example')
    await put('Password, ten characters or more', 'harrow-sound')
    await step(/^4/)
    await press('Set up the firm')
    expect(server.sent('POST /session')[0]!.body).toMatchObject({ email: 'ines@marsh.example', password: 'harrow-sound' })
    expect(router.currentRoute.value.path).toBe('/today')
  })
})

describe('settings of the firm', () => {
  const firm = { name: 'Calloway Fenn', address: '12 Customs Landing', phone: '', taxNumber: '', district: 'harrow', districts: ['harrow', 'ostrava'], zone: 'America/New_York', timeUnitMinutes: 6, timeRounding: 'up', billTermsDays: 30, trustNoticeDays: 0, taxBasisPoints: 825, taxSoftBasisPoints: 0, taxHardBasisPoints: 0, paymentOrder: ['interest', 'tax', 'costs', 'fees'], matterPattern: '{yy}-{n:4}', twoPeopleForBills: false, workDays: [1, 2, 3, 4, 5], holidays: [{ day: '2026-12-24', name: 'Year’s end' }] } // prettier-ignore
  const session = { setUp: true, me: null, today: '2026-11-23', firm: 'Calloway Fenn' }
  const open = async (routes: Record<string, unknown> = {}) => {
    const server = new Server({ 'GET /firm': firm, 'PUT /firm': { ok: true }, 'PUT /firm/holidays': { ok: true }, 'GET /session': session, ...routes }) // prettier-ignore
    await standAt('/set-up', '/set-up', Firm)
    return { server, ...(await show(Firm)) }
  }
  const save = () => press(/^Save/)
  const name = () => within(screen.getByRole('region', { name: 'The firm' })).getByLabelText<HTMLInputElement>('Name')

  it('show nothing to type into before they are read, and say why they are not', async () => {
    const slow = later()
    const { server } = await open({ 'GET /firm': () => slow.promise })
    expect(screen.queryByRole('region', { name: 'The firm' })).toBeNull()
    slow.come(refusal('failed', 'The server is being renewed.'))
    await settled()
    expect(screen.getByRole('alert').textContent).toContain('The server is being renewed.')
    server.on('GET /firm', firm)
    await press('Try again')
    expect([name().value, field('Fees, percent').value]).toEqual(['Calloway Fenn', '8.25'])
  })

  it('go out as typed: percentages in hundredths, days as whole numbers, and what cannot be read as what is refused', async () => {
    const { server } = await open({ 'PUT /firm': faults(['taxBasisPoints', 'Give a percentage'], ['billTermsDays', 'Give days'], ['phone', 'At most 40 letters']) }) // prettier-ignore
    await put('Fees, percent', '8,5')
    await put('Own costs, percent', '6.125')
    await put('Bills are due after, days', 'thirty')
    await save()
    expect(server.sent('PUT /firm')[0]!.body).toMatchObject({ taxBasisPoints: '8,5', taxSoftBasisPoints: 613, billTermsDays: -1, trustNoticeDays: 0 }) // prettier-ignore
    expect([wrong('Fees, percent'), wrong('Bills are due after, days'), wrong('Phone (optional)')]).toEqual([true, true, true])
    expect(server.sent('PUT /firm/holidays')).toEqual([])
  })

  it('tell by an example what the pattern of numbers gives, or what is wrong with it', async () => {
    await open()
    expect(screen.getByText(/^For example 26-0142/)).toBeTruthy()
    await put('Pattern of matter numbers', '{yyyy}/{client:5}')
    await settled()
    expect(screen.queryByText(/^For example 26-0142/)).toBeNull()
  })

  it('set what a payment pays first, and the days on which the firm is closed', async () => {
    const { server } = await open()
    await press('Costs earlier')
    await press('Add a day on which the firm is closed')
    const [, day] = screen.getAllByLabelText('Closed on')
    await fireEvent.update(day!, '2026-12-31')
    await fireEvent.blur(day!)
    await fireEvent.update(screen.getAllByLabelText('Name').at(-1)!, 'Stocktaking')
    await save()
    expect(server.sent('PUT /firm')[0]!.body['paymentOrder']).toEqual(['interest', 'costs', 'tax', 'fees'])
    expect(server.sent('PUT /firm/holidays')[0]!.body).toEqual({ holidays: [{ day: '2026-12-24', name: 'Year’s end' }, { day: '2026-12-31', name: 'Stocktaking' }] }) // prettier-ignore
    expect(lastNote()?.text).toBe('Settings kept')
  })

  it('keep what was typed while they were being kept', async () => {
    const slow = later()
    const { server } = await open({ 'PUT /firm': () => slow.promise })
    await fireEvent.update(name(), 'Calloway Fenn LLP')
    await save()
    await fireEvent.update(name(), 'Calloway Fenn and Partners')
    server.on('GET /firm', { ...firm, name: 'Calloway Fenn LLP' })
    slow.come({ ok: true })
    await settled()
    expect(name().value).toBe('Calloway Fenn and Partners')
  })
})

describe('lists of the firm', () => {
  const fee = { id: 4, name: 'Simple will', areaId: 1, portions: [{ label: 'Draft', amount: 400_00 }, { label: 'Signing', amount: 200_00 }], retired: false } // prettier-ignore
  const open = async (routes: Record<string, unknown> = {}) => {
    const server = new Server({
      'GET /fees': [fee],
      'GET /contact-kinds': ['client', 'court'],
      'GET /activities': [{ code: 'A101', name: 'Plan and prepare' }],
      'GET /matters/setting': setting,
      'GET /costs/kinds': [],
      ...routes,
    })
    await standAt('/set-up/lists', '/set-up/lists', Lists)
    return { server, ...(await show(Lists)) }
  }

  it('keep kinds and codes as they are written, a line each', async () => {
    const { server } = await open({ 'PUT /contact-kinds': { ok: true }, 'PUT /activities': faults(['activities.1.name', 'Give a name']) })
    await put('Kinds of contacts, one a line', ' client \n\nexpert\n')
    await press('Save kinds')
    expect([server.sent('PUT /contact-kinds')[0]!.body, lastNote()?.text]).toEqual([{ kinds: ['client', 'expert'] }, 'Kinds kept'])
    await put('Activity codes, one a line: code, then name', 'A101  Plan and  prepare\nA102')
    await press('Save codes')
    expect(server.sent('PUT /activities')[0]!.body).toEqual({ activities: [{ code: 'A101', name: 'Plan and prepare' }, { code: 'A102', name: '' }] }) // prettier-ignore
    expect(screen.getByText('Give a name')).toBeTruthy()
    expect(field('Activity codes, one a line: code, then name').value).toBe('A101  Plan and  prepare\nA102')
  })

  it('say what could not be read, and offer nothing to save over it', async () => {
    const { server } = await open({ 'GET /contact-kinds': refusal('failed', 'Not just now.') })
    const kinds = within(screen.getByRole('region', { name: 'Kinds of contacts' }))
    expect([told(kinds.getByRole('alert')), kinds.queryByRole('button', { name: 'Save kinds' })]).toEqual(['Not just now. Try again', null])
    server.on('GET /contact-kinds', ['client'])
    await fireEvent.click(kinds.getByRole('button', { name: 'Try again' }))
    await settled()
    expect(field('Kinds of contacts, one a line').value).toBe('client')
  })

  it('keep a flat fee with its portions, and a fault of a portion at that portion', async () => {
    const { server, user } = await open({ 'PUT /fees/4': faults(['portions.1.amount', 'Give an amount above zero']) })
    await user.click(screen.getByRole('button', { name: 'Acts on Simple will' }))
    await user.click(screen.getByRole('menuitem', { name: /^Change/ }))
    await settled()
    const sheet = within(screen.getByRole('dialog'))
    const keep = async () => {
      await fireEvent.click(sheet.getByRole('button', { name: /^Save/ }))
      await settled()
    }
    await put('Amount 2', '0')
    await keep()
    expect(wrong('Amount 2')).toBe(true)
    server.on('PUT /fees/4', ({ body }: Asked) => ({ ok: true, body }))
    await put('Amount 2', '250')
    await keep()
    expect(server.sent('PUT /fees/4').at(-1)!.body).toEqual({ name: 'Simple will', areaId: 1, portions: [{ label: 'Draft', amount: 400_00 }, { label: 'Signing', amount: 250_00 }], retired: false }) // prettier-ignore
    expect(lastNote()?.text).toBe('Simple will kept')
  })
})
