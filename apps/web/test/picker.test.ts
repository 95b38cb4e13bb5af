import { screen, waitFor } from '@testing-library/vue'
import { expect, it } from 'vitest'
import { defineComponent, h, ref } from 'vue'
import Picker, { type Choice } from '../src/ui/Picker.vue'
import { settled, show } from './stage'

type Props = InstanceType<typeof Picker>['$props']
const standing = (props: () => Props) => defineComponent({ setup: () => () => h(Picker, props()) })

it('offers only what fits what was typed, however late the answer comes', async () => {
  const all: Choice[] = [
    { id: 1, text: 'Kestrel Point Marina' },
    { id: 2, text: 'Gannet Ferry', hint: '26-0001' },
  ]
  const answers: (() => void)[] = []
  const search = (q: string) =>
    q ? new Promise<Choice[]>((done) => answers.push(() => done(all.filter((c) => c.text.includes(q))))) : Promise.resolve(all)
  const chosen = ref<Choice | null>(null)
  const { user } = await show(
    standing(() => ({ label: 'Client', search, modelValue: chosen.value, 'onUpdate:modelValue': (c: Choice | null) => (chosen.value = c) })), // prettier-ignore
  )
  await user.type(screen.getByRole('combobox', { name: 'Client' }), 'Gannet Q{Enter}')
  expect(chosen.value).toBeNull()
  await user.clear(screen.getByRole('combobox', { name: 'Client' }))
  await user.type(screen.getByRole('combobox', { name: 'Client' }), 'Gannet')
  expect(screen.getAllByRole('option').map((o) => o.textContent)).toEqual([expect.stringContaining('Gannet Ferry')])
  for (const answer of answers) answer()
  await settled()
  await waitFor(() => expect(screen.getAllByRole('option')).toHaveLength(1))
  await user.keyboard('{Enter}')
  expect(chosen.value).toMatchObject({ id: 2 })
})

const client = (search: (q: string) => Promise<Choice[]>) =>
  standing(() => ({ label: 'Client', search, modelValue: null, make: 'New person or organization' }))

it('says that nothing could be looked up, and has nobody made anew who may be there already', async () => {
  let down = true
  const { user } = await show(client((q) => (down ? Promise.reject(new Error('The server does not answer.')) : Promise.resolve(q ? [{ id: 1, text: 'Gannet Ferry' }] : [])))) // prettier-ignore
  await user.type(screen.getByRole('combobox', { name: 'Client' }), 'Gann')
  await settled()
  expect(screen.getByRole('status').textContent.trim()).toBe('Nothing can be looked up: The server does not answer.')
  expect(screen.queryByRole('option')).toBeNull()
  down = false
  await user.type(screen.getByRole('combobox', { name: 'Client' }), 'e')
  await settled()
  expect(screen.getAllByRole('option').map((o) => o.textContent.trim())).toEqual(['Gannet Ferry', 'New person or organization “Ganne”'])
  expect(screen.queryByRole('status')).toBeNull()
})

it('says that nothing is by these letters, once that is known', async () => {
  const { user } = await show(standing(() => ({ label: 'Matter', search: () => Promise.resolve([]), modelValue: null })))
  await user.type(screen.getByRole('combobox', { name: 'Matter' }), 'zz')
  await settled()
  expect(screen.getByRole('status').textContent.trim()).toBe('Nothing by these letters. Try fewer of them.')
})
