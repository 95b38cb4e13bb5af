import { screen, waitFor } from '@testing-library/vue'
import { expect, it } from 'vitest'
import { defineComponent, h, ref } from 'vue'
import EntryForm from '../src/docket/EntryForm.vue'
import PaperChoice from '../src/notes/PaperChoice.vue'
import { type Asked, drawn, entry, Server, setting, settled, show } from './stage'

const first = Array.from({ length: 100 }, (_, i) => ({ id: 1000 + i, name: `Letter ${i}.docx` }))
const old = [{ id: 7, name: 'Engagement letter.pdf' }, { id: 8, name: 'Deed of 1998.pdf' }] // prettier-ignore
/** A matter of 250 papers: the first hundred without words, and what words find. */
const of = (total = 250) =>
  new Server({
    'GET /papers': ({ query }: Asked) => {
      const q = query['q'] ?? ''
      const rows = q ? [...first, ...old].filter((p) => p.name.toLowerCase().includes(q.toLowerCase())).slice(0, 12) : first
      return { rows, total: q ? rows.length : total }
    },
    'GET /papers/7': old[0],
    'GET /matters/setting': setting,
    'GET /my-hours': { from: '09:00', to: '17:00', zone: '', firmZone: 'America/New_York' },
  })
async function choice(start: number | null) {
  const value = ref<number | null>(start)
  const page = defineComponent({
    setup: () => () =>
      h(PaperChoice, { matterId: 5, modelValue: value.value, 'onUpdate:modelValue': (v: number | null) => (value.value = v) }),
  })
  return { ...(await show(page)), value }
}

it('of many papers any is found by its name, and what was chosen before is named, however old', async () => {
  of()
  const { user, value } = await choice(7)
  await settled()
  const field = () => screen.getByRole<HTMLInputElement>('combobox', { name: /With a paper/ })
  expect(field().value).toBe('Engagement letter.pdf')
  await user.clear(field())
  await user.type(field(), 'deed')
  await drawn()
  await user.click(await screen.findByRole('option', { name: /Deed of 1998/ }))
  await waitFor(() => expect([value.value, field().value]).toEqual([8, 'Deed of 1998.pdf']))
})
it('of few papers there is a list', async () => {
  of(100)
  const { user, value } = await choice(null)
  await user.selectOptions(screen.getByLabelText('With a paper'), 'Letter 3.docx')
  expect(value.value).toBe(1003)
})
it('a date keeps its old papers by name, and takes another of many', async () => {
  const server = of()
  server.on('PUT /docket/5', { ok: true })
  const { user } = await show(EntryForm, { matterId: 7, row: entry({ papers: [old[0]!] }) })
  await settled()
  expect(screen.getByRole('list', { name: 'Papers: chosen' }).textContent).toContain('Engagement letter.pdf')
  await user.type(screen.getByRole('combobox', { name: /^Papers/ }), 'deed')
  await settled()
  await user.click(screen.getByRole('option', { name: /Deed of 1998/ }))
  await settled()
  expect(screen.getByRole('list', { name: 'Papers: chosen' }).textContent).toContain('Deed of 1998.pdf')
  await user.click(screen.getByRole('button', { name: 'Save' }))
  await settled()
  expect(server.sent('PUT /docket/5')[0]!.body).toMatchObject({ paperIds: [7, 8] })
})
