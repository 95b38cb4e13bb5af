import { useEventListener, useLocalStorage } from '@vueuse/core'
import { useRouter } from 'vue-router'
import { commands } from './areas'
import { useSession } from './session'

/** Single-letter keys can be switched off (WCAG 2.1.4) and are dead in fields and over open sheets. */
export const letterKeys = useLocalStorage('heron.letter-keys', true)

const inField = (target: EventTarget | null) =>
  target instanceof HTMLElement && (target.isContentEditable || ['INPUT', 'TEXTAREA', 'SELECT'].includes(target.tagName))

type PageKeys = Record<string, () => void>
let ofPage: PageKeys = {}
/** Keys of the page that is open, by letter in lower case. */
export function usePageKeys(keys: PageKeys) {
  ofPage = keys
}
export const dropPageKeys = () => (ofPage = {})

export function useKeys(acts: { find: () => void; finding: () => boolean; keys: () => void }) {
  const session = useSession()
  const router = useRouter()
  useEventListener(window, 'keydown', (event: KeyboardEvent) => {
    if (!session.me) return
    if ((event.ctrlKey || event.metaKey) && event.key.toLowerCase() === 'k') {
      event.preventDefault()
      acts.find()
      return
    }
    if (event.ctrlKey || event.metaKey || event.altKey || inField(event.target) || document.querySelector('[role="dialog"]')) return
    // What is typed for it is no key of the page, though it is still being fetched.
    if (acts.finding()) return
    if (event.key === '?') return acts.keys()
    if (!letterKeys.value) return
    const key = event.key.toLowerCase()
    const own = ofPage[key]
    const command = commands.find((c) => c.key?.toLowerCase() === key && (!c.right || session.may(c.right)))
    if (own) own()
    else if (key === 't') document.getElementById('waterline-timer')?.click()
    else if (command) void router.push(command.to)
    else return
    event.preventDefault()
  })
}
