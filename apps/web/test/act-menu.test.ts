import { screen } from '@testing-library/vue'
import { expect, it } from 'vitest'
import { defineComponent, h, nextTick, ref } from 'vue'
import ActMenu, { type Act } from '../src/ui/ActMenu.vue'
import { show } from './stage'

it('does not move its acts under the hand when what it belongs to is read anew', async () => {
  const done: string[] = []
  const act = (text: string): Act => ({ text, act: () => done.push(text) })
  const acts = ref([act('Credit note'), act('Void the bill')])
  const { user } = await show(defineComponent({ setup: () => () => h(ActMenu, { label: 'More on this bill', acts: acts.value }) }))
  const shown = () => screen.getAllByRole('menuitem').map((x) => x.textContent?.trim())
  await user.click(screen.getByRole('button', { name: 'More on this bill' }))
  expect(shown()).toEqual(['Credit note', 'Void the bill'])

  acts.value = [act('Credit note'), act('Write off what is open'), act('Void the bill')]
  await nextTick()
  expect(shown()).toEqual(['Credit note', 'Void the bill'])
  await user.click(screen.getByRole('menuitem', { name: 'Void the bill' }))
  expect(done).toEqual(['Void the bill'])

  await user.click(screen.getByRole('button', { name: 'More on this bill' }))
  expect(shown()).toEqual(['Credit note', 'Write off what is open', 'Void the bill'])
})
