import { fireEvent, screen, within } from '@testing-library/vue'
import { beforeEach, describe, expect, it } from 'vitest'
import Contact from '../src/people/Contact.vue'
import Merge from '../src/people/Merge.vue'
import { drawn, lastNote, later, press, refusal, Server, settled, show, signIn, standAt } from './stage'

beforeEach(() => {
  localStorage.clear()
  signIn({ rights: ['people.see', 'people.change', 'matters.see'] })
})
const told = (element: Element | null) => element?.textContent?.trim().replaceAll(/\s+/g, ' ')
const contact = (more: object = {}) => ({ id: 4, kind: 'organization', name: 'Gannet Ferry', kinds: ['client', 'insurer'], greeting: '', pronouns: '', language: '', birthDate: null, taxNumber: '', notes: '', isPrivate: false, version: 2, reaches: [{ what: 'e-mail', label: 'bills', value: 'office@gannet.example' }], aliases: [{ kind: 'trades as', name: 'Gannet Lines' }], relations: [], fields: {}, fieldNames: {}, mergedFrom: [{ name: 'Gannet Fery', at: '2026-05-04T14:00:00Z', by: 'Noor' }], parts: [{ matterId: 7, number: '26-0007', name: 'Gannet v. Corvane', part: 'client', openedOn: '2026-02-02', open: true }, { matterId: 7, number: '26-0007', name: 'Gannet v. Corvane', part: 'claimant', openedOn: '2026-02-02', open: true }], enquiries: [], money: null, ...more }) // prettier-ignore
const open = async (more: object = {}, routes: Record<string, unknown> = {}) => {
  const server = new Server({ 'GET /contacts/4': contact(more), 'GET /field-groups': [], 'GET /notes': { rows: [], total: 0 }, ...routes })
  await standAt('/people/:id', '/people/4', Contact)
  return { server, ...(await show(Contact)) }
}

describe('the page of a contact', () => {
  it('tells how to reach it, its other names, what was merged into it and each part it plays', async () => {
    await open()
    const reach = screen.getByRole('region', { name: 'How to reach' })
    expect(told(reach)).toContain('e-mail, bills office@gannet.example trades as Gannet Lines Merged Gannet Fery,')
    expect(within(screen.getByRole('table', { name: 'Matters' })).getAllByRole('row').length).toBe(3)
    expect(screen.queryByRole('region', { name: 'Money' })).toBeNull()
    expect(screen.queryByRole('button', { name: /Terms|Account/ })).toBeNull()
  })

  it('shows money, terms and calls for trust money only where those are open', async () => {
    signIn({ rights: ['people.see', 'bills.see', 'bills.review', 'trust.see'] })
    await open({ money: { owed: 2_154_00, held: null } }, { 'GET /calls': { rows: [], total: 0 } })
    expect(told(screen.getByRole('region', { name: 'Money' }))).toBe('Owed $2,154.00')
    expect(screen.getByRole('button', { name: 'Terms of this client' })).toBeTruthy()
    expect(screen.queryByRole('button', { name: /^(Merge|Change)$/ })).toBeNull()
  })

  it('says why it cannot be shown, and shows it once it can', async () => {
    const { server } = await open({}, { 'GET /contacts/4': refusal('gone', 'This contact was merged into Gannet Holdings.') })
    expect(screen.getByRole('alert').textContent).toContain('merged into Gannet Holdings')
    server.on('GET /contacts/4', contact())
    await press('Try again')
    expect(screen.getByRole('heading', { name: 'Gannet Ferry' })).toBeTruthy()
  })
})

describe('two records of the same', () => {
  const preview = (more: object = {}) => ({ keep: { id: 4, name: 'Gannet Ferry' }, merge: { id: 9, name: 'Gannet Fery' }, moves: [{ what: 'matters', count: 2 }], differs: [{ what: 'Phone', kept: '555-0100', other: '555-0199', goes: 'goes into About' }], trust: null, ...more }) // prettier-ignore
  const trust = (more: object = {}) => ({ trust: { ledgers: 1, held: 5_000_00, may: true, second: false, askedBy: null, askedByYou: false, ...more } }) // prettier-ignore
  const alike = [{ id: 9, name: 'Gannet Fery', score: 0.9, reason: 'spelled alike' }]
  const begin = async (routes: Record<string, unknown> = {}) => {
    const server = new Server({ 'GET /contacts': { rows: [], total: 0 }, 'GET /contacts/near': [],
      'GET /contacts/4/alike': alike, 'GET /contacts/4/merge/9': preview(), ...routes }) // prettier-ignore
    return { server, ...(await show(Merge, { id: 4, name: 'Gannet Ferry' })) }
  }
  const choose = async () => {
    await fireEvent.click(screen.getByRole('button', { name: /^Gannet Fery spelled alike/ }))
    await settled()
  }
  const merge = () => screen.getByRole<HTMLButtonElement>('button', { name: /^Merge the two records/ })

  it('show what moves and what differs before anything is done', async () => {
    const { server, emitted } = await begin({ 'POST /contacts/4/merge': { merged: true } })
    expect(merge().disabled).toBe(true)
    await choose()
    expect(told(screen.getByText('matters').parentElement)).toBe('matters2')
    expect(screen.getByText('goes into About')).toBeTruthy()
    await press(/^Merge the two records/)
    expect([server.sent('POST /contacts/4/merge')[0]!.body, lastNote()?.text]).toEqual([{ otherId: 9 }, 'Gannet Fery is merged into Gannet Ferry']) // prettier-ignore
    expect(emitted('close')).toHaveLength(1)
  })

  it.each([
    [{}, '1 trust ledger with $5,000.00 would come under the name Gannet Ferry.', false],
    [{ held: null }, '1 trust ledger would come under the name Gannet Ferry.', false],
    [{ ledgers: 0 }, 'Trust money of Gannet Ferry could then pay what the other record is billed.', false],
    [{ may: false }, 'Only those who keep the trust accounts may do that.', true],
    [{ second: true }, 'a second person must confirm it before it is done.', false],
    [{ second: true, askedBy: 'Orla' }, 'Orla has asked for this merge; if you confirm it, it is done.', false],
    [{ second: true, askedByYou: true }, 'you have asked for this merge, and a second person must confirm it.', true],
  ])('say what becomes of trust money, and who may go on: %o', async (own, words, barred) => {
    await begin({ 'GET /contacts/4/merge/9': preview(trust(own)) })
    await choose()
    expect([told(screen.getByRole('note')), merge().disabled]).toEqual([expect.stringContaining(words), barred])
  })

  it('wait for a second person where the names differ, and say so', async () => {
    await begin({ 'GET /contacts/4/merge/9': preview(trust({ second: true })), 'POST /contacts/4/merge': { merged: false } })
    await choose()
    await press(/^Merge the two records/)
    expect(lastNote()?.text).toMatch(/^Nothing is merged yet/)
  })

  it('show only what the one that is chosen would bring, however late the other’s answer comes', async () => {
    const slow = later()
    const { user } = await begin({
      'GET /contacts': { rows: [{ id: 12, name: 'Corvane', kind: 'organization', kinds: [], email: '', phone: '' }], total: 1 },
      'GET /contacts/4/merge/9': () => slow.promise,
      'GET /contacts/4/merge/12': preview({ merge: { id: 12, name: 'Corvane' }, moves: [{ what: 'parties', count: 5 }] }),
    })
    await choose()
    const other = screen.getByRole('combobox', { name: 'The other record' })
    await user.clear(other)
    await user.type(other, 'Corv')
    await drawn()
    await user.click(await screen.findByRole('option', { name: /Corvane/ }))
    slow.come(preview())
    await settled()
    await settled()
    expect(screen.queryByText('matters')).toBeNull()
    expect(told(screen.getByText('parties').parentElement)).toBe('parties5')
  })

  it('say why the two cannot be merged', async () => {
    await begin({ 'GET /contacts/4/merge/9': refusal('staff', 'Gannet Fery works here.') })
    await choose()
    expect([screen.getByRole('alert').textContent, merge().disabled]).toEqual(['Gannet Fery works here.', true])
  })
})
