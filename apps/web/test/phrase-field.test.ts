import { fireEvent, screen } from '@testing-library/vue'
import { defineComponent, h, ref } from 'vue'
import { beforeEach, describe, expect, it } from 'vitest'
import PhraseField from '../src/time/PhraseField.vue'
import { Server, settled, show, signIn } from './stage'

const phrases = [
  { id: 1, code: 'tc', text: 'Telephone call with [whom] about [what]', own: false },
  { id: 2, code: 'rev', text: 'Review documents produced by [whom]', own: false },
  { id: 3, code: 'revc', text: 'Revise the complaint', own: true },
]
beforeEach(() => {
  signIn({ rights: ['time.record'] })
  new Server({ 'GET /time/fields': { fields: [], funding: [] }, 'GET /field-groups': [], 'GET /phrases': phrases, 'GET /activities': [] })
})
const text = ref('')
const open = async (begun = '') => {
  text.value = begun
  const page = defineComponent(
    () => () =>
      h('div', [
        h(PhraseField, { label: 'What was done', modelValue: text.value, 'onUpdate:modelValue': (t: string) => (text.value = t) }),
        h('button', 'Next'),
      ]),
  )
  const { user } = await show(page)
  await user.click(area())
  return user
}
const area = () => screen.getByLabelText<HTMLTextAreaElement>('What was done')
const offered = () => [...document.querySelectorAll('[aria-label="Phrases, taken with Tab"] b')].map((b) => b.textContent)
const chosen = () => area().value.slice(area().selectionStart, area().selectionEnd)

describe('words of what was done', () => {
  it('take a phrase by its code, and Tab goes from place to place and then on', async () => {
    const user = await open()
    await user.keyboard('tc')
    expect(offered()).toEqual(['tc'])
    await user.tab()
    await settled()
    expect([text.value, chosen(), offered()]).toEqual(['Telephone call with [whom] about [what]', '[whom]', []])
    await user.keyboard('Corvane')
    await user.tab()
    expect(chosen()).toBe('[what]')
    await user.keyboard('the survey')
    expect(text.value).toBe('Telephone call with Corvane about the survey')
    await user.tab()
    expect(document.activeElement?.textContent).toBe('Next')
  })

  it('offer the exact code first, and another is chosen by the arrow keys, round and round', async () => {
    const user = await open()
    await user.keyboard('rev')
    expect(offered()).toEqual(['rev', 'revc'])
    await user.keyboard('{ArrowUp}')
    await user.tab()
    await settled()
    expect(text.value).toBe('Revise the complaint')
    expect(area().selectionStart).toBe(text.value.length)
  })

  it('keep what stands before and after the caret', async () => {
    const user = await open('First. . Last')
    area().setSelectionRange(7, 7)
    await user.keyboard('revc')
    await user.tab()
    await settled()
    expect(text.value).toBe('First. Revise the complaint. Last')
  })

  it('are left as typed by Esc, which closes no more than the offer', async () => {
    const user = await open()
    let closed = 0
    const heard = () => (closed += 1)
    window.addEventListener('keydown', heard)
    await user.keyboard('tc{Escape}')
    window.removeEventListener('keydown', heard)
    expect([offered(), text.value]).toEqual([[], 'tc'])
    expect(closed).toBe(2)
    await user.tab()
    expect(document.activeElement?.textContent).toBe('Next')
  })

  it('offer nothing for a word typed to its end, and nothing once the field is left', async () => {
    const user = await open()
    await user.keyboard('Review documents p')
    expect(offered()).toEqual(['rev'])
    await user.keyboard('ast ')
    expect(offered()).toEqual([])
    await user.keyboard('tc')
    expect(offered()).toEqual(['tc'])
    await fireEvent.blur(area())
    expect(offered()).toEqual([])
  })

  it('take a phrase that is pressed', async () => {
    const user = await open()
    await user.keyboard('rev')
    await fireEvent.mouseDown(screen.getByText('Revise the complaint'))
    await settled()
    expect(text.value).toBe('Revise the complaint')
  })
})
