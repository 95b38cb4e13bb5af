import { fireEvent, screen, waitFor } from '@testing-library/vue'
import { beforeEach, describe, expect, it } from 'vitest'
import Import from '../src/people/Import.vue'
import { faults, lastNote, press, Server, settled, show, signIn, standAt, wrong } from './stage'

beforeEach(() => signIn({ rights: ['people.see', 'people.change', 'matters.open', 'costs.record'] }))
const run = { id: 4, what: 'contacts', fileName: 'people.csv', encoding: 'UTF-8', columns: ['Name', 'Mail', 'Town'], sample: [['Odile Marsh', 'odile@marsh.example', 'Alder']], mapping: { name: 'Name' } as Record<string, string>, fields: [{ key: 'name', label: 'Name', needed: true }, { key: 'email', label: 'E-mail', needed: false }], state: 'read', total: 3, good: 0, faults: [] as object[], moreFaults: 0, jobId: null as number | null } // prettier-ignore
const job = (state: string, progress = 100, error: string | null = null) => ({ id: 9, state, progress, error })
const open = async (server: Record<string, unknown>, at = '/people/import?run=4') => {
  const on = new Server({ 'GET /imports/4': run, ...server })
  await standAt('/people/import', at, Import)
  const page = await show(Import)
  await settled()
  return { ...page, server: on }
}
const columnOf = (name: string) => screen.getByLabelText<HTMLSelectElement>(name)
const button = (name: RegExp) => screen.getByRole<HTMLButtonElement>('button', { name })

describe('a table that is imported', () => {
  it('is read from a file, and shows of each column what stands in it', async () => {
    const { server, router } = await open({ 'POST /imports': run }, '/people/import')
    const file = new File(['Name\nOdile'], 'people.csv', { type: 'text/csv' })
    const input = document.querySelector<HTMLInputElement>('input[type=file]')!
    Object.defineProperty(input, 'files', { value: [file] })
    await fireEvent.change(input)
    await press('Read the file')
    await settled()
    expect(server.sent('POST /imports')).toHaveLength(1)
    expect(router.currentRoute.value.query).toMatchObject({ run: '4' })
    expect(columnOf('Name (needed)').value).toBe('Name')
    await fireEvent.update(columnOf('E-mail'), 'Mail')
    expect(screen.getByText('odile@marsh.example')).toBeTruthy()
  })

  it('is tried by the columns that were chosen, whatever fails is told, and nothing can be loaded', async () => {
    const tried = { ...run, state: 'tried', good: 2, mapping: { name: 'Name', email: 'Mail' }, faults: [{ row: 3, column: 'Mail', text: 'This is not an e-mail address' }] } // prettier-ignore
    const { server } = await open({ 'POST /imports/4/tried': { jobId: 9 }, 'GET /jobs/9': job('done') })
    await fireEvent.update(columnOf('E-mail'), 'Mail')
    server.on('GET /imports/4', tried)
    await press('Try every row')
    await settled()
    expect(server.sent('POST /imports/4/tried')[0]!.body).toEqual({ mapping: { name: 'Name', email: 'Mail' } })
    expect(screen.getByText('This is not an e-mail address')).toBeTruthy()
    expect(screen.getByRole('region', { name: 'What would happen' }).textContent?.replaceAll(/\s+/g, ' ')).toContain('2 rows right, 1 row fails.') // prettier-ignore
    expect(button(/^Load/).disabled).toBe(true)
  })

  it('that was tried well is loaded as it was tried: matched otherwise since, it is tried again first', async () => {
    const tried = { ...run, state: 'tried', good: 3 }
    const { server } = await open({ 'GET /imports/4': tried, 'POST /imports/4/loaded': { jobId: 9 }, 'GET /jobs/9': job('done') })
    expect(button(/^Load/).disabled).toBe(false)
    await fireEvent.update(columnOf('E-mail'), 'Town')
    expect(button(/^Load/).disabled).toBe(true)
    await fireEvent.update(columnOf('E-mail'), '')
    expect(button(/^Load/).disabled).toBe(false)
    server.on('GET /imports/4', { ...tried, state: 'loaded' })
    await press(/^Load 3 rows/)
    await settled()
    expect(lastNote()?.text).toBe('3 contacts loaded')
    expect(screen.getByText('All 3 rows are on record.')).toBeTruthy()
  })

  it('a column that is needed and not matched is told at its field', async () => {
    const { server } = await open({ 'POST /imports/4/tried': faults(['mapping.name', 'Say in which column the name stands']) })
    await fireEvent.update(columnOf('Name (needed)'), '')
    await press('Try every row')
    await settled()
    expect([wrong('Name (needed)'), server.sent('POST /imports/4/tried').length]).toEqual([true, 1])
  })

  it('that is left while it is tried is followed again, with its columns held still', async () => {
    let state = 'running'
    const { server } = await open({ 'GET /imports/4': { ...run, jobId: 9 }, 'GET /jobs/9': () => job(state, 40) })
    await waitFor(() => expect(screen.getByRole<HTMLProgressElement>('progressbar').value).toBe(40))
    expect(columnOf('E-mail').closest('fieldset')!.disabled).toBe(true)
    server.on('GET /imports/4', { ...run, jobId: 9, state: 'tried', good: 3 })
    state = 'done'
    await waitFor(() => expect(button(/^Load/).disabled).toBe(false), { timeout: 3000 })
    expect(columnOf('E-mail').closest('fieldset')!.disabled).toBe(false)
  })

  it('what could not be done in the background says why', async () => {
    await open({ 'POST /imports/4/tried': { jobId: 9 }, 'GET /jobs/9': job('failed', 10, 'The file is gone. Read it again.') })
    await press('Try every row')
    await settled()
    expect(screen.getByRole('alert').textContent).toContain('The file is gone. Read it again.')
  })
})
