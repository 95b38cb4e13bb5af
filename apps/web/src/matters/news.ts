import { ref, watch } from 'vue'
import { api, asks } from '../api'
import { useShown } from '../shown'
import { useSession } from '../shell/session'
import { momentText } from '../ui/show'

/**
 * What others did on a matter while its page stood open: said in a line, and loaded when the person asks for it, so that nothing
 * moves under what is being read or typed.
 */
export function useNews(matterId: number) {
  const session = useSession()
  const news = ref('')
  let after = 0
  // What the page itself loads anew is known from then on.
  const { data: known } = useShown(() => asks.matters.news.queryOptions({ input: { id: matterId, after: 0 } }))
  watch(known, (n) => {
    after = n?.last ?? 0
    news.value = ''
  })
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
  function again() {
    news.value = ''
    session.changed()
  }
  return { news, again }
}
