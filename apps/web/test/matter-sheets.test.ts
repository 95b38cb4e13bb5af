import { fireEvent, screen, waitFor, within } from '@testing-library/vue'
import { beforeAll, beforeEach, describe, expect, it } from 'vitest'
import ArrangementSheet from '../src/billing/ArrangementSheet.vue'
import Team from '../src/matters/Team.vue'
import ContactSheet from '../src/people/ContactSheet.vue'
import { faults, field, lastNote, press, put, refusal, Server, settled, setting, show, signIn, wrong } from './stage'

beforeAll(() => import('../src/ui/judging'))
beforeEach(() => signIn({ rights: ['matters.see', 'matters.open', 'bills.see', 'bills.review', 'people.see', 'people.change'] }))
const choose = (name: string, value: string) => fireEvent.update(screen.getByLabelText(name, { selector: 'select' }), value)
const dialog = () => screen.queryByRole('dialog')

describe('how a matter is paid for', () => {
  const kept = { billing: 'hourly', history: [], portions: [], stages: [{ id: 4, name: 'Discovery' }], contingent: null, retainer: null }
  const none = { entries: 0, amount: 0 }
  const effect = (entries: number) => ({ nowCovered: { entries, amount: entries * 285_00 }, nowCharged: none, stays: none })
  const open = (server: Record<string, unknown>, own: object = kept) => {
    const on = new Server({ 'GET /matters/setting': setting, ...server })
    return show(ArrangementSheet, { matter: { id: 5 }, kept: own }).then((page) => ({ ...page, server: on }))
  }

  it('another arrangement shows first what it does to unbilled work; what changed meanwhile is shown anew and then saved', async () => {
    const { server, emitted } = await open({
      'GET /matters/5/arrangement/effect': effect(2),
      'PUT /matters/5/arrangement': refusal('changed-meanwhile', 'Unbilled work of this matter changed since this was shown.'),
    })
    await choose('Arrangement', 'flat')
    await settled()
    const told = () => screen.getByRole('region', { name: 'What it does to unbilled work' }).textContent?.replaceAll(/\s+/g, ' ')
    expect(told()).toContain('The fee will cover 2 entries worth $570.00')
    await put('Portion', 'Flat fee')
    await put('Flat fee', '4,000')
    server.on('GET /matters/5/arrangement/effect', effect(3))
    await press('Save')
    await settled()
    expect(told()).toContain('3 entries worth $855.00')
    expect(screen.getByRole('alert').textContent).toContain('changed since this was shown')
    server.on('PUT /matters/5/arrangement', { ok: true })
    await press('Save')
    const [first, second] = server.sent('PUT /matters/5/arrangement').map((a) => a.body)
    expect([first!['seen'], second!['seen']]).toEqual([effect(2), effect(3)])
    expect(second).toMatchObject({ billing: 'flat', from: '2026-11-23', flatFee: [{ label: 'Flat fee', amount: 4_000_00, due: 'opening', stageId: null }], retainer: null, contingent: null }) // prettier-ignore
    expect(lastNote()).toMatchObject({ text: 'Arrangement changed; what is billed stays as it is' })
    expect(emitted('close')).toHaveLength(1)
  })

  it('cannot be saved as another one before it is known what it does, and says why where that cannot be worked out', async () => {
    await open({ 'GET /matters/5/arrangement/effect': refusal('too-early', 'The matter was opened on 4 Nov.') })
    await choose('Arrangement', 'no charge')
    await settled()
    expect(screen.getByText('The matter was opened on 4 Nov.')).toBeTruthy()
    expect((screen.getByRole('button', { name: /^Save/ }) as HTMLButtonElement).disabled).toBe(true)
  })

  it('keeps the portions that are not billed with their ids, and a retainer that is refused at its field', async () => {
    const portion = { id: 7, label: 'Filing', amount: 1_500_00, due: 'reached', stageId: 4, stage: 'Discovery', earnedOn: null, added: false, billId: null, bill: null } // prettier-ignore
    const { server, user } = await open(
      { 'PUT /matters/5/arrangement': { ok: true } },
      { ...kept, billing: 'mixed', portions: [portion, { ...portion, id: 8, label: 'Opening', billId: 3 }] },
    )
    await put(/^Hold in trust at least/, '5,000')
    await put(/^Fill it up to/, '4,000')
    await user.click(field(/^Fill it up to/))
    await user.tab()
    await waitFor(() => expect(wrong(/^Fill it up to/)).toBe(true))
    await put(/^Fill it up to/, '10,000')
    await waitFor(() => expect(wrong(/^Fill it up to/)).toBe(false))
    await press('Save')
    expect(server.sent('PUT /matters/5/arrangement')[0]!.body).toMatchObject({ billing: 'mixed', flatFee: [{ id: 7, label: 'Filing', amount: 1_500_00, due: 'reached', stageId: 4 }], retainer: { floor: 5_000_00, fillTo: 10_000_00 }, seen: null }) // prettier-ignore
  })
})

describe('the team of a matter', () => {
  const all = { file: 2, docket: 2, papers: 2, money: 2, trust: 2 }
  const place = (userId: number, name: string, role: string) => ({ userId, name, initials: '', role, keeps: role === 'lead', rate: null as number | null, since: '2026-11-02', active: true, grants: all }) // prettier-ignore
  const matter = { id: 5, leadId: 3, lead: 'Tomas Okafor-Reyes', team: [place(3, 'Tomas Okafor-Reyes', 'lead'), { ...place(2, 'Noor Haddad-Lind', 'lawyer'), rate: 310_00 }], screens: [], staff: { ...all, trust: 0 }, own: { file: 2, keeps: true, follows: false } } // prettier-ignore
  const more = { ...setting, staff: [...setting.staff, { id: 4, name: 'Billie Sandoval', title: 'Paralegal', role: 'paralegal' }] }
  const open = async (server: Record<string, unknown> = {}) => {
    const on = new Server({ 'GET /matters/setting': more, ...server })
    return { ...(await show(Team, { matter })), server: on }
  }

  it('opens a place as it stands, and leaving it unchanged asks nothing', async () => {
    const { user } = await open()
    await press('Change Noor Haddad-Lind')
    await settled()
    expect([field(/^Own rate/).value, field(/^Sees and changes/).checked]).toEqual(['310.00', false])
    await user.keyboard('{Escape}')
    await settled()
    expect(dialog()).toBeNull()
  })

  it('adds somebody with the role that is usual for them, and what they may see', async () => {
    const { server } = await open({ 'PUT /matters/5/team': { ok: true } })
    await press('Add someone')
    await settled()
    await choose('Who', '4')
    await settled()
    expect(field('Role on this matter').value).toBe('paralegal')
    await fireEvent.click(field(/^Sees and changes/))
    await fireEvent.click(screen.getByLabelText('Trust: nothing'))
    await put(/^Own rate/, '95')
    await press('Save')
    expect(server.sent('PUT /matters/5/team')[0]!.body).toMatchObject({ userId: 4, role: 'paralegal', rate: 95_00, keeps: false, grants: { ...all, trust: 0 } }) // prettier-ignore
    expect(lastNote()).toMatchObject({ text: 'On the team, and told by e-mail' })
  })

  it('says whose place a new lead takes, and refuses at the field', async () => {
    const { server } = await open({ 'PUT /matters/5/team': faults(['role', 'Only a lawyer can lead']) })
    await press('Add someone')
    await settled()
    await choose('Who', '4')
    await settled()
    await choose('Role on this matter', 'lead')
    expect(screen.getByText(/Takes the place of Tomas Okafor-Reyes/)).toBeTruthy()
    await press('Save')
    expect([wrong('Role on this matter'), server.sent('PUT /matters/5/team').length]).toEqual([true, 1])
  })

  it('offers nobody who leads it for a screen, and changes what all others see', async () => {
    const { server, user } = await open({ 'POST /matters/5/screens': { ok: true }, 'PUT /matters/5/access': { ok: true } })
    await press('Screen someone')
    await settled()
    const who = within(dialog()!).getByLabelText('Who')
    expect([...who.querySelectorAll('option')].map((o) => o.textContent)).toEqual([
      'Choose a person',
      'Noor Haddad-Lind',
      'Billie Sandoval',
    ])
    await fireEvent.update(who, '4')
    await put(/^Why/, 'Worked for the other side')
    await press('Screen')
    expect(server.asked.at(-1)!.body).toMatchObject({ userId: 4, reason: 'Worked for the other side' })
    await press('Change access')
    await settled()
    expect(field('Trust: nothing').checked).toBe(true)
    await user.click(field('Papers: see'))
    await user.click(field('Docket: nothing'))
    expect([field('Papers: see').checked, field('Docket: nothing').checked]).toEqual([true, true])
    await press('Save')
    expect(server.asked.at(-1)!.body).toMatchObject({ staff: { ...all, papers: 1, docket: 0, trust: 0 } })
  })
})

describe('a contact', () => {
  const contact = { id: 9, version: 3, name: 'Odile Marsh', kind: 'person', greeting: '', pronouns: '', language: '', birthDate: null, taxNumber: '', kinds: ['witness'], reaches: [{ id: 1, what: 'e-mail', label: 'work', value: 'odile@marsh.example' }], aliases: [], fields: {}, notes: '', isPrivate: false } // prettier-ignore
  const around = { 'GET /contact-kinds': ['client', 'witness'], 'GET /field-groups': [] }

  it('keeps several ways to reach it and names it had; a fault of one stands beside that one', async () => {
    const server = new Server({ ...around, 'PUT /contacts/9': faults(['reaches.1.value', 'This is not an e-mail address']) })
    const { user, emitted } = await show(ContactSheet, { contact })
    await choose('What to add', 'e-mail')
    await user.click(screen.getAllByRole('button', { name: 'Add' })[0]!)
    await put('e-mail 2', 'odile at home')
    await press('Add a name')
    await put('Other name 1', 'Odile Fenwick')
    await press('Save')
    expect([wrong('e-mail 1'), wrong('e-mail 2')]).toEqual([false, true])
    server.on('PUT /contacts/9', { ok: true })
    await put('e-mail 2', 'odile@home.example')
    await waitFor(() => expect(wrong('e-mail 2')).toBe(false))
    await press('Save')
    expect(server.sent('PUT /contacts/9').at(-1)!.body).toMatchObject({ version: 3, reaches: [{ value: 'odile@marsh.example' }, { what: 'e-mail', value: 'odile@home.example' }], aliases: [{ kind: 'former name', name: 'Odile Fenwick' }] }) // prettier-ignore
    expect(emitted('close')).toHaveLength(1)
  })

  it('an address is judged as soon as it is left', async () => {
    new Server(around)
    const { user } = await show(ContactSheet, { contact })
    await user.clear(field('e-mail 1'))
    await user.type(field('e-mail 1'), 'odile')
    await user.tab()
    await waitFor(() => expect(wrong('e-mail 1')).toBe(true))
  })
})
