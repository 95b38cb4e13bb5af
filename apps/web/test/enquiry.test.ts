import { fireEvent, screen } from '@testing-library/vue'
import { beforeEach, describe, expect, it } from 'vitest'
import Enquiry from '../src/people/Enquiry.vue'
import EnquirySheet from '../src/people/EnquirySheet.vue'
import { faults, field, lastNote, press, put, refusal, Server, settled, setting, show, signIn, standAt, wrong } from './stage'

beforeEach(() => signIn({ rights: ['people.see', 'people.change'] }))
const around = {
  'GET /matters/setting': setting,
  'GET /contacts': { rows: [{ id: 9, kind: 'organization', name: 'Gannet Ferry', email: '', phone: '', kinds: [], matters: 1, isPrivate: false }], total: 1 }, // prettier-ignore
  'GET /contacts/near': [],
}
const against = async (name: string) => {
  await fireEvent.update(screen.getByLabelText('Against'), name)
  await press('Add')
}

describe('an enquiry', () => {
  it('of somebody who is not on record keeps what was typed while their name is typed anew', async () => {
    const server = new Server({ ...around, 'POST /enquiries': faults(['name', 'Say who is asking'], ['phone', 'At most 40 characters']) })
    const { user, emitted } = await show(EnquirySheet)
    await user.type(screen.getByRole('combobox', { name: 'Who is asking' }), 'Tern Fishing')
    await settled()
    await user.click(screen.getByRole('option', { name: /New person or organization/ }))
    await put(/^E-mail/, 'tern@post.example')
    await put(/^Phone/, '555 0101')
    // Emptied, the name is still a field, and what stands beside it stays.
    await put('Who is asking', '')
    expect(field(/^E-mail/).value).toBe('tern@post.example')
    await press('Take enquiry')
    expect([wrong('Who is asking'), wrong(/^Phone/), emitted('close')]).toEqual([true, true, undefined])
    server.on('POST /enquiries', { id: 4 })
    await put('Who is asking', 'Tern Fishers')
    for (const name of ['Kestrel Point', 'Kestrel Point ', 'Pellan']) await against(name)
    await press('Take enquiry')
    expect(server.sent('POST /enquiries').at(-1)!.body).toMatchObject({ contactId: null, name: 'Tern Fishers', email: 'tern@post.example', phone: '555 0101', adverse: ['Kestrel Point', 'Pellan'] }) // prettier-ignore
    expect(emitted('close')).toHaveLength(1)
  })
  it('goes back to people on record, of whom nothing typed before is sent', async () => {
    const server = new Server({ ...around, 'POST /enquiries': { id: 4 } })
    const { user } = await show(EnquirySheet)
    await user.type(screen.getByRole('combobox', { name: 'Who is asking' }), 'Gannet')
    await settled()
    await user.click(screen.getByRole('option', { name: /New person or organization/ }))
    await press('Choose from people on record')
    await user.type(screen.getByRole('combobox', { name: 'Who is asking' }), 'Gannet')
    await settled()
    await user.click(screen.getByRole('option', { name: /Gannet Ferry/ }))
    await press('Take enquiry')
    expect(server.sent('POST /enquiries')[0]!.body).toMatchObject({ contactId: 9, name: '' })
  })
})

describe('the page of an enquiry', () => {
  const kept = { id: 4, contactId: 9, name: 'Perrin Ashdown', email: '', phone: '', about: 'A boundary', adverse: ['Kite Hill Farm'], source: 'Walk-in', areaId: null, area: null, nextStep: '', nextOn: null, consultOn: null, consultAt: null, consultMinutes: null, consultFee: null, state: 'open', reason: '', matterId: null, matter: null, conflictCheckId: null as number | null, hitsOpen: null as number | null, ownerId: 2, owner: 'Noor Haddad-Lind', at: '2026-11-20T10:00:00Z' } // prettier-ignore
  const open = async (server: Record<string, unknown>) => {
    signIn({ rights: ['people.see', 'people.change', 'matters.open'] })
    const on = new Server({ ...around, ...server })
    await standAt('/people/enquiries/:id', '/people/enquiries/4', Enquiry)
    await show(Enquiry)
    await settled()
    return on
  }
  const conflicts = () => screen.getByRole('region', { name: 'Conflicts' }).textContent?.replaceAll(/\s+/g, ' ')

  it('says what was not checked yet, and what somebody else found without showing it', async () => {
    const server = await open({ 'GET /enquiries/4': kept })
    expect(conflicts()).toContain('Not checked yet: Perrin Ashdown; Kite Hill Farm.')
    server.on('GET /enquiries/4', { ...kept, conflictCheckId: 63, hitsOpen: 2 })
    server.on('GET /conflict-checks/63', refusal('not-found', 'There is no such conflict check, or it is not open to you.'))
    server.on('POST /enquiries/4/conflicts', { id: 64 })
    await press('Check the names')
    await settled()
    expect(conflicts()).toContain('2 hits to decide. What was found is open to whoever checked')
    expect(screen.getByRole('button', { name: 'Check again' })).toBeTruthy()
  })

  it('is declined with a reason, which can be taken back at once', async () => {
    const server = await open({ 'GET /enquiries/4': kept, 'POST /enquiries/4/declined': faults(['reason', 'Say why it is declined']) })
    await press('Decline')
    const sheet = screen.getByRole('dialog')
    await fireEvent.click(sheet.querySelector('[data-main-act] button')!)
    await settled()
    expect(wrong(/^Why/)).toBe(true)
    server.on('POST /enquiries/4/declined', { ok: true })
    await put(/^Why/, 'No agreement on fees')
    await fireEvent.click(sheet.querySelector('[data-main-act] button')!)
    await settled()
    expect(screen.queryByRole('dialog')).toBeNull()
    server.on('POST /enquiries/4/open-again', { ok: true })
    await lastNote()!.undo!.act()
    expect(server.sent('POST /enquiries/4/open-again')).toHaveLength(1)
  })
})
