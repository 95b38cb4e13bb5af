import { screen, waitFor } from '@testing-library/vue'
import { expect, it } from 'vitest'
import { defineComponent, h, ref } from 'vue'
import Picker, { type Choice } from '../src/ui/Picker.vue'
import { settled, show } from './stage'

it('offers only what fits what was typed, however late the answer comes', async () => {
  const all: Choice[] = [
    { id: 1, text: 'Kestrel Point Marina' },
    { id: 2, text: 'Gannet Ferry', hint: '26-0001' },
  ]
  const answers: (() => void)[] = []
  const search = (q: string) =>
    q ? new Promise<Choice[]>((done) => answers.push(() => done(all.filter((c) => c.text.includes(q))))) : Promise.resolve(all)
  const chosen = ref<Choice | null>(null)
  const page = defineComponent({
    setup: () => () =>
      h(Picker, { label: 'Client', search, modelValue: chosen.value, 'onUpdate:modelValue': (c: Choice | null) => (chosen.value = c) }),
  })
  const { user } = await show(page)
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
