import { ref, watch } from 'vue'
import { api } from '../api'
import { useSession } from '../shell/session'
import { momentText } from '../ui/show'
import { useLoad } from '../use'

/**
 * What others did on a matter while its page stood open: said in a line, and loaded when the person asks for it, so that nothing
 * moves under what is being read or typed.
 */
export function useNews(matterId: number) {
  const session = useSession()
  const news = ref('')
  let after = 0
  // What the page itself loads anew is known from then on.
  useLoad(async () => {
    after = (await api.matters.news({ id: matterId, after: 0 })).last
    news.value = ''
  }, [() => session.tick])
  async function look() {
    if (!after) return
    const from = after
    const found = await api.matters.news({ id: matterId, after: from }).catch(() => null)
    const first = found?.others[0]
    if (!first || from !== after) return
    const more = found.others.length - 1
    news.value = `${first.who}, ${momentText(first.at)}: ${first.text}${more ? `, and ${more} more` : ''}`
  }
  watch(() => session.looked, look)
  watch(
    () => session.others,
    (told) => told.matters.includes(matterId) && look(),
  )
  return { news, again: () => session.changed() }
}
