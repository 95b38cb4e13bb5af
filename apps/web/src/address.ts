import { isDay, type Day } from '@heron/core/calendar'
import { computed, reactive, ref, watch, type Ref, type WritableComputedRef } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { provideFilters } from './ui/views'

/**
 * What a page shows, kept in the address, so that it can be sent to a colleague, Back works and views of its lists can be kept. What is
 * usual is left away. A change of one of `steps` is a step that Back takes back; anything else replaces the address. A part of a page
 * (`part`) leaves alone what the rest of it keeps there. What an address gives for a day and is none gives the usual one; an empty one
 * stands where days may be left open (`openDays`).
 */
export function useAddress<T extends Record<string, string>>(usual: T, steps: readonly (keyof T)[] = [], part = false, openDays = false) {
  const route = useRoute()
  const router = useRouter()
  const path = route.path
  const fits = (k: string, text: unknown) => typeof text === 'string' && (!isDay(usual[k]!) || isDay(text) || (openDays && text === ''))
  const read = (): T => ({
    ...usual,
    ...Object.fromEntries(Object.keys(usual).flatMap((k) => (fits(k, route.query[k]) ? [[k, route.query[k]]] : []))),
  })
  const state = reactive<Record<string, string>>(read()) as T
  const written = () => Object.fromEntries(Object.entries(state).filter(([k, v]) => v !== usual[k]))
  const others = () => (part ? Object.fromEntries(Object.entries(route.query).filter(([k]) => !(k in usual))) : {})
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
      const query = { ...others(), ...written() }
      if (JSON.stringify(query) === JSON.stringify(route.query)) return
      outstanding.push(JSON.stringify(query))
      void (steps.some((k) => now[k] !== was[k]) ? router.push({ query }) : router.replace({ query }))
    },
  )
  // The page of a long list is where someone has got to, and no part of a view.
  provideFilters({
    read: () => Object.fromEntries(Object.entries(written()).filter(([k]) => k !== 'page')),
    choose: (kept) => Object.assign(state, usual, Object.fromEntries(Object.keys(usual).flatMap((k) => (k in kept ? [[k, kept[k]]] : [])))),
  })
  return state
}

/** A day that an address gives; what is none there gives the usual one. */
export const dayOr = <U extends Day | null>(given: unknown, usual: U): Day | U =>
  typeof given === 'string' && isDay(given) ? given : usual

/**
 * The days of a span that an address keeps, as fields. What cannot be read or is missing yet is asked by nothing; Back and a view bring
 * days of their own.
 */
export function useSpan(kept: { from: string; to: string }): { from: Ref<Day | null>; to: Ref<Day | null> } {
  const from = ref<Day | null>(dayOr(kept.from, null))
  const to = ref<Day | null>(dayOr(kept.to, null))
  watch([from, to], ([first, last]) => first && last && Object.assign(kept, { from: first, to: last }))
  watch(
    () => [kept.from, kept.to] as const,
    ([first, last]) => ((from.value = dayOr(first, null)), (to.value = dayOr(last, null))),
  )
  return { from, to }
}

/** A day in a field that may be empty. */
type DayOrNone = { day: Day | null }
export const aDay = (usual: Day | null = null): DayOrNone => ({ day: usual })
type Usual = string | number | boolean | DayOrNone
type Value<U extends Usual> = U extends DayOrNone ? Day | null : U extends number ? number : U extends boolean ? boolean : U
const asText = (value: string | number | boolean | null) => (value === true ? 'yes' : value === false ? 'no' : String(value ?? ''))
function asValue(text: string, usual: Usual): string | number | boolean | null {
  // A day that does not exist is none.
  if (typeof usual === 'object') return dayOr(text, null)
  if (typeof usual === 'boolean') return text === 'yes'
  if (typeof usual !== 'number') return text
  const n = Number(text)
  return text !== '' && Number.isSafeInteger(n) ? n : usual
}

/**
 * The filters of a list that is a part of a page, each as a field of its own, kept in the address. See `useAddress`. Of a list that
 * stands on a page of something else (`alone` is false) they are not.
 */
export function useFiltered<T extends Record<string, Usual>>(usual: T, alone = true): { [K in keyof T]: Ref<Value<T[K]>> } {
  if (!alone) return Object.fromEntries(Object.entries(usual).map(([k, u]) => [k, ref(typeof u === 'object' ? u.day : u)])) as never
  const texts = Object.fromEntries(Object.entries(usual).map(([k, u]) => [k, asText(typeof u === 'object' ? u.day : u)]))
  const state = useAddress(texts, [], true, true)
  const field = (k: string): WritableComputedRef<string | number | boolean | null> =>
    computed({ get: () => asValue(state[k]!, usual[k]!), set: (value) => (state[k] = asText(value)) })
  return Object.fromEntries(Object.keys(usual).map((k) => [k, field(k)])) as never
}

/** Which part of a page is shown (`?show=`). It follows the address, so that the part that comes finds what the one before kept there gone. */
export function useTab<T extends string>(usual: T): WritableComputedRef<T> {
  const route = useRoute()
  const router = useRouter()
  const path = route.path
  const read = () => (typeof route.query['show'] === 'string' ? route.query['show'] : usual) as T
  const shown = ref(read()) as Ref<T>
  watch(
    () => route.query,
    () => route.path === path && (shown.value = read()),
  )
  return computed({ get: () => shown.value, set: (to) => void router.replace({ query: to === usual ? {} : { show: to } }) })
}

/**
 * A sheet that the address asks for (`?record=1`), also by a command while its page stands open already. What asked is taken out of
 * the address, so that it can ask again.
 */
export function useCalled(key: string): Ref<boolean> {
  const route = useRoute()
  const router = useRouter()
  const path = route.path
  const open = ref(false)
  watch(
    () => route.query[key],
    (asked) => {
      if (route.path !== path || asked !== '1') return
      open.value = true
      const { [key]: _asked, ...others } = route.query
      void router.replace({ query: others })
    },
    { immediate: true },
  )
  return open
}
