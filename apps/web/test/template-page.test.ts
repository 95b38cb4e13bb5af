import { fireEvent, screen, within } from '@testing-library/vue'
import { beforeAll, beforeEach, describe, expect, it } from 'vitest'
import TemplatePage from '../src/papers/templates/TemplatePage.vue'
import { type Asked, faults, field, lastNote, press, put, refusal, Server, settled, setting, show, signIn, standAt, wrong } from './stage'

beforeAll(() => import('../src/ui/judging'))
beforeEach(() => signIn({ rights: ['papers.see', 'firm.set-up'] }))
const told = (element: Element | null) => element?.textContent?.trim().replaceAll(/\s+/g, ' ')
const template = (more: object = {}) => ({ id: 2, name: 'Engagement letter', description: 'For new clients', shelf: 'Letters', folder: 'Correspondence', areaId: null, area: null, tags: ['client', 'start'], language: 'en', namePattern: '{template}', needsPerson: false, peopleIds: [], version: 3, faults: 0, questions: 0, retired: false, rowVersion: 8, faultList: [], uses: ['client.name', 'today'], wordFields: [{ name: 'Client_Address', tied: null }, { name: 'Court', tied: 'court.name' }], questionList: [], versions: [{ number: 3, why: 'New address', madeBy: 'Ferdi', madeAt: '2026-10-01T14:00:00Z', current: true, faults: 0 }], ...more }) // prettier-ignore
const open = async (routes: Record<string, unknown> = {}) => {
  const server = new Server({
    'GET /templates/2': template(),
    'GET /matters/setting': setting,
    'GET /template-fields': { fields: [{ path: 'client.name', type: 'text', within: null }] },
    ...routes,
  })
  await standAt('/papers/templates/:id', '/papers/templates/2', TemplatePage)
  return { server, ...(await show(TemplatePage)) }
}
const about = () => within(screen.getByRole('region', { name: 'About it' }))
const save = async () => {
  await fireEvent.click(about().getByRole('button', { name: 'Save' }))
  await settled()
}

describe('a template', () => {
  it('is changed with the version that was read, its tags each for itself', async () => {
    const { server } = await open({ 'PUT /templates/2': { ok: true } })
    expect(about().getByRole<HTMLButtonElement>('button', { name: 'Save' }).disabled).toBe(true)
    await put('Tags, with commas (optional)', 'client, , opening')
    await save()
    expect(server.sent('PUT /templates/2')[0]!.body).toMatchObject({
      name: 'Engagement letter',
      tags: ['client', 'opening'],
      rowVersion: 8,
    })
    expect(lastNote()?.text).toBe('Saved')
  })

  it('puts what a colleague changed beside what was typed, and takes over what only they changed', async () => {
    const theirs = template({ name: 'Letter of engagement', folder: 'Letters', rowVersion: 9 })
    const { server } = await open({
      'PUT /templates/2': ({ body }: Asked) => (body['rowVersion'] === 9 ? { ok: true } : refusal('changed-meanwhile', 'Someone changed this template meanwhile.')), // prettier-ignore
    })
    await put('Name', 'Engagement letter, long')
    server.on('GET /templates/2', theirs)
    await save()
    expect(server.sent('PUT /templates/2')).toHaveLength(1)
    expect([about().getByRole<HTMLInputElement>('textbox', { name: 'Name' }).value, field('Papers go into').value]).toEqual([
      'Engagement letter, long',
      'Letters',
    ])
    const clash = within(screen.getByRole('group', { name: 'Changed meanwhile' }))
    expect(told(clash.getByRole('group', { name: 'Name' }))).toContain('TheirsLetter of engagement YoursEngagement letter, long')
    await fireEvent.click(clash.getByRole('button', { name: 'Keep yours' }))
    await save()
    expect(server.sent('PUT /templates/2')[1]!.body).toMatchObject({ name: 'Engagement letter, long', folder: 'Letters', rowVersion: 9 })
  })

  it('is not written over by a version of its fields or questions that was kept beside it', async () => {
    const { server } = await open({ 'PUT /templates/2/ties': { ok: true }, 'PUT /templates/2': { ok: true } })
    await put('Description (optional)', 'For new clients, by letter')
    server.on('GET /templates/2', template({ version: 4, rowVersion: 9, shelf: 'Clients' }))
    await put('Field for Client_Address', 'client.address')
    await press('Tie them')
    expect(server.sent('PUT /templates/2/ties')[0]!.body).toEqual({ after: 3, ties: { Client_Address: 'client.address', Court: 'court.name' } }) // prettier-ignore
    expect(field('Description (optional)').value).toBe('For new clients, by letter')
    await save()
    // What it was changed from is told; the server says whether somebody was faster.
    expect(server.sent('PUT /templates/2')[0]!.body).toMatchObject({ rowVersion: 8, description: 'For new clients, by letter' })
  })

  it('says what the check found, and where', async () => {
    await open({ 'GET /templates/2': template({ faults: 1, faultList: [{ text: 'There is no field client.nmae', words: '{client.nmae}', part: 'footer', paragraph: 2 }] }) }) // prettier-ignore
    const check = told(screen.getByRole('region', { name: 'Check' }))
    expect(check).toContain('The check found 1 fault')
    expect(check).toContain('There is no field client.nmaefooter, paragraph 2: “{client.nmae}”')
  })

  it('is read and not changed by whoever does not set the firm up', async () => {
    signIn({ rights: ['papers.see'] })
    await open()
    for (const name of ['Save', 'Tie them', 'New version', 'Add a question']) expect(screen.queryByRole('button', { name })).toBeNull()
    expect(field('Name').closest('fieldset')!.disabled).toBe(true)
  })
})

describe('merge fields of its document', () => {
  it('keep what was typed when somebody made a new version, and go after that one then', async () => {
    const { server } = await open({ 'PUT /templates/2/ties': ({ body }: Asked) => (body['after'] === 4 ? { ok: true } : refusal('changed-meanwhile', 'Someone changed this template meanwhile.')) }) // prettier-ignore
    await put('Field for Client_Address', 'client.address')
    server.on('GET /templates/2', template({ version: 4, wordFields: [{ name: 'Client_Address', tied: null }, { name: 'Court', tied: 'court.short' }, { name: 'Judge', tied: 'court.judge' }] })) // prettier-ignore
    await press('Tie them')
    const fields = screen.getByRole('region', { name: 'Merge fields' })
    expect(within(fields).getByRole('alert').textContent).toContain('Someone changed this template meanwhile.')
    expect([field('Field for Client_Address').value, field('Field for Court').value, field('Field for Judge').value]).toEqual(['client.address', 'court.short', 'court.judge']) // prettier-ignore
    await press('Tie them')
    expect(server.sent('PUT /templates/2/ties')[1]!.body).toMatchObject({ after: 4, ties: { Client_Address: 'client.address', Judge: 'court.judge' } }) // prettier-ignore
  })
  it('say of each which field there is none of', async () => {
    await open({ 'PUT /templates/2/ties': faults(['ties.Court', 'There is no field court.nmae']) })
    await put('Field for Court', 'court.nmae')
    await press('Tie them')
    expect(wrong('Field for Court')).toBe(true)
  })
})
