import { reactive, watch } from 'vue'
import { useRoute, useRouter } from 'vue-router'

/**
 * What a page shows, kept in the address, so that it can be sent to a colleague and Back works. What is usual is left away.
 * A change of one of `steps` is a step that Back takes back; anything else replaces the address.
 */
export function useAddress<T extends Record<string, string>>(usual: T, steps: readonly (keyof T)[] = []) {
  const route = useRoute()
  const router = useRouter()
  const path = route.path
  const read = (): T => ({
    ...usual,
    ...Object.fromEntries(Object.keys(usual).flatMap((k) => (typeof route.query[k] === 'string' ? [[k, route.query[k]]] : []))),
  })
  const state = reactive<Record<string, string>>(read()) as T
  const written = () => Object.fromEntries(Object.entries(state).filter(([k, v]) => v !== usual[k]))
  /** Addresses written from here that have not come round yet: what was changed meanwhile is not put back by them. */
  let outstanding: string[] = []
  watch(
    () => route.query,
    (query) => {
      if (route.path !== path) return
      const own = outstanding.indexOf(JSON.stringify(query))
      if (own >= 0) outstanding = outstanding.slice(own + 1)
      else Object.assign(state, read())
    },
  )
  watch(
    () => ({ ...state }),
    (now, was) => {
      const query = written()
      if (JSON.stringify(query) === JSON.stringify(route.query)) return
      outstanding.push(JSON.stringify(query))
      void (steps.some((k) => now[k] !== was[k]) ? router.push({ query }) : router.replace({ query }))
    },
  )
  return state
}
