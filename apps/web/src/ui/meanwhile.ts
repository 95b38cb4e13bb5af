import { computed, reactive } from 'vue'
import { showValue } from './value'

/** A field that two people changed at the same time, each to something else. */
export interface Clash {
  key: string
  label: string
  mine: string
  theirs: string
}
/** What a field is called, and how what stands in it is told where that is no text. */
type Told<V> = string | [label: string, show: (value: V) => string]

const copy = <T>(value: T): T => JSON.parse(JSON.stringify(value)) as T
const same = (a: unknown, b: unknown) => JSON.stringify(a) === JSON.stringify(b)

/**
 * A form over what is kept, while others may change the same. What only they changed is taken over; a field that both changed is
 * put beside theirs, and whoever fills the form in chooses. `told` names the fields.
 */
export function useMeanwhile<F extends object>(form: F, told: { readonly [K in keyof F]: Told<F[K]> }) {
  const state = reactive({ said: '', asked: 0, taken: [] as string[], clashes: [] as Clash[], base: copy(form) as unknown })
  const theirs = new Map<string, unknown>()
  const keys = Object.keys(told) as (keyof F & string)[]
  const labelOf = (key: keyof F & string) => (typeof told[key] === 'string' ? told[key] : told[key][0])
  const words = (key: keyof F & string, value: F[keyof F & string]) =>
    (typeof told[key] === 'string' ? showValue(value) : told[key][1](value)) || 'nothing'

  /** What stands in the form is as it was read. */
  function begin() {
    state.base = copy(form)
    state.taken = []
    state.clashes = []
  }
  /** Puts what is kept by now beside the form; afterwards the form goes on from there. */
  function meet(kept: F) {
    state.taken = []
    state.clashes = []
    theirs.clear()
    for (const key of keys) {
      const [was, mine, is] = [(state.base as F)[key], form[key], kept[key]]
      if (same(was, is) || same(mine, is)) continue
      if (same(was, mine)) {
        form[key] = copy(is)
        state.taken.push(labelOf(key))
      } else {
        theirs.set(key, copy(is))
        state.clashes.push({ key, label: labelOf(key), mine: words(key, mine), theirs: words(key, is) })
      }
    }
    state.base = copy(kept)
  }
  /** One field is decided: theirs comes into the form, or what was typed stays. */
  function settle(key: string, take: 'mine' | 'theirs') {
    if (take === 'theirs') form[key as keyof F] = theirs.get(key) as F[keyof F]
    state.clashes = state.clashes.filter((c) => c.key !== key)
  }
  /**
   * Sends what stands in the form, once all that clashed is decided. Where somebody else was faster, what they made of it is read and
   * put beside the form.
   */
  async function save<R>(
    acting: { code: string; message: string },
    send: () => Promise<R | null>,
    read: () => Promise<F>,
  ): Promise<R | null> {
    if (state.clashes.length) {
      state.asked += 1
      return null
    }
    for (let tries = 1; ; tries += 1) {
      const done = await send()
      if (done !== null || acting.code !== 'changed-meanwhile' || tries === 3) return done
      const theirsNow = await read().catch(() => null)
      if (!theirsNow) return null
      meet(theirsNow)
      // Nothing that stands in the form is another: it is sent again as it is.
      if (!state.taken.length && !state.clashes.length) continue
      state.said = acting.message
      acting.message = ''
      return null
    }
  }
  return { state, begin, settle, save, changed: computed(() => !same(form, state.base)) }
}
export type Meanwhile = Pick<ReturnType<typeof useMeanwhile>, 'state' | 'settle'>
