import { fireEvent, screen } from '@testing-library/vue'
import { beforeEach, describe, expect, it } from 'vitest'
import EnquirySheet from '../src/people/EnquirySheet.vue'
import { faults, field, press, put, Server, settled, setting, show, signIn, wrong } from './stage'

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
