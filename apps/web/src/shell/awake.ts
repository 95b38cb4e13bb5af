import { onMounted, onUnmounted } from 'vue'
import { showDay } from '@heron/core/calendar'
import { somethingUnsaved } from '../ui/unsaved'
import { useNotes } from './notes'
import { useSession } from './session'

/** How often a page in sight asks what day it is, and after how long out of sight it looks at everything again. */
const everyMs = 60_000
const longAwayMs = 5 * 60_000

/**
 * A page that stays open is not left behind: past midnight it learns the new day, and what it shows is looked at again when a
 * person comes back to it. Where something is typed and not saved, nothing is loaded over it; that is said instead.
 */
export function useAwake(lost: () => void, reload: () => void = () => window.location.reload()) {
  const session = useSession()
  const notes = useNotes()
  let seen = Date.now()
  let asking = false
  async function look() {
    if (asking || document.visibilityState !== 'visible' || !session.me || session.ended) return
    asking = true
    const [was, who] = [session.today, session.me.id]
    const away = Date.now() - seen
    try {
      const found = await session.lookWho()
      if (!found) return lost()
      // Somebody else signed in from another tab: nothing of the former person stays on this one.
      if (found.id !== who) return reload()
      const unsaved = somethingUnsaved()
      if (session.today !== was)
        notes.say(
          unsaved
            ? `It is ${showDay(session.today)} now. Save what you entered, then reload this page.`
            : `It is ${showDay(session.today)} now`,
        )
      session.looked += 1
      if (!unsaved && (session.today !== was || away > longAwayMs)) session.changed()
    } catch {
      // The server is away; it is asked again in a minute, and any act says so meanwhile.
    } finally {
      seen = Date.now()
      asking = false
    }
  }
  const back = () => Date.now() - seen > everyMs / 2 && void look()
  let timer = 0
  onMounted(() => {
    document.addEventListener('visibilitychange', back)
    window.addEventListener('focus', back)
    timer = window.setInterval(() => void look(), everyMs)
  })
  onUnmounted(() => {
    document.removeEventListener('visibilitychange', back)
    window.removeEventListener('focus', back)
    window.clearInterval(timer)
  })
}
