import { useDebounceFn } from '@vueuse/core'
import { onScopeDispose, ref, watch, type Ref } from 'vue'

/**
 * What is asked of the server a moment after something was entered, such as what an entry would come to. `shown` is the latest answer;
 * `now` the answer to what stands there at this moment, and nothing until it has come.
 */
export function useQuote<A, T>(entered: () => A, ask: (entered: A) => Promise<T | null> | null) {
  const shown = ref(null) as Ref<T | null>
  let of = ''
  const standing = () => JSON.stringify(entered())
  let gone = false
  onScopeDispose(() => (gone = true))
  const look = useDebounceFn(async () => {
    if (gone) return
    const asked = standing()
    const found = (await ask(entered())?.catch(() => null)) ?? null
    // More was entered while the answer was on its way.
    if (asked !== standing()) return
    shown.value = found
    of = asked
  }, 200)
  watch(standing, look, { immediate: true })
  return { shown, now: () => (of === standing() ? shown.value : null) }
}
