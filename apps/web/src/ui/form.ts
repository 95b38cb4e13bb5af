import { useEventListener } from '@vueuse/core'
import { nextTick, ref, watch } from 'vue'
import { askedBy } from '../api'
import { forgetWith, inFront, useAct } from '../use'
import type { Judge } from './judging'

/** The schemas of the contract are fetched when the first form is filled in; until then the server alone judges. */
let schemas: Promise<typeof import('./judging')> | null = null
const readSchemas = () =>
  (schemas ??= import('./judging').catch((error: unknown) => {
    schemas = null
    throw error
  }))

/**
 * A form: one call that its fields make. `send` makes the call as an act; meanwhile what the call would send is judged by the
 * contract's own schema, so that a fault stands at its field as soon as the field is left, and goes when it is mended. A field
 * that nobody has filled in is not complained of before the form is sent. What the server refused of a field stays until that field
 * is changed. `call` must do nothing but put together what is sent: it is also run without sending.
 */
export function useForm<C extends () => Promise<unknown>>(call: C, shows?: (path: string) => boolean) {
  const { state, act, fault: refused } = useAct(shows)
  const live = ref<Record<string, string>>({})
  // Nothing that is drawn changes before the field has handed on what was entered: drawn anew amid it, the field would lose it.
  let judge: Judge | null = null
  let front: ParentNode | null = null
  let strict = false
  /** A field was left before the schemas were here. */
  let leftEarly = false
  /** What is told just now is of an earlier time that the sheet stood open. */
  let first = true

  function forget() {
    judge = null
    strict = false
    leftEarly = false
    front = null
  }
  function begin() {
    forget()
    live.value = {}
  }
  forgetWith(begin)

  /** Before the first change it is noted what the form would have sent. */
  async function note() {
    const now = inFront()
    if (front === now) return
    forget()
    front = now
    const asked = askedBy(call)
    // What it sends cannot be put together yet: it is noted with the next change.
    if (!asked) return void (front = null)
    const { judgeOf } = await readSchemas()
    if (front !== now || judge) return
    judge = judgeOf(asked)
    first = true
    if (leftEarly) await look(true)
  }
  /** Judges what stands there. A fault not told yet is told where its field was filled in and left, or once the form was refused. */
  async function look(left: boolean) {
    await nextTick()
    leftEarly ||= left && !judge
    const asked = judge && askedBy(call)
    if (!judge || !asked) return
    const before = first ? {} : live.value
    first = false
    const found = judge.look(asked)
    const told: Record<string, string> = {}
    for (const [path, words] of Object.entries(found.faults)) if (strict || before[path] || (left && found.filled(path))) told[path] = words
    if (JSON.stringify(told) !== JSON.stringify(live.value)) live.value = told
    if (!state.fields.length) return
    state.fields = state.fields.filter((f) => found.asSent(f.path))
    if (!state.fields.length) state.message = state.beside
  }
  // In the capture phase, which comes before the field hands on what was entered.
  for (const kind of ['input', 'change'] as const)
    useEventListener(window, kind, () => void note().catch(() => undefined), { capture: true })
  // Whoever leaves a field by pressing on something gets there first: words that come between would move it from under the pointer.
  let pressed = false
  let leftByPress = false
  useEventListener(window, 'pointerdown', () => void (pressed = true), { capture: true })
  for (const kind of ['pointerup', 'pointercancel'] as const)
    useEventListener(
      window,
      kind,
      () => {
        pressed = false
        if (leftByPress) window.setTimeout(() => void look(true), 0)
        leftByPress = false
      },
      { capture: true },
    )
  for (const kind of ['change', 'focusout'] as const)
    useEventListener(window, kind, () => void (pressed ? (leftByPress = true) : look(true)))
  const faulty = () => Object.keys(live.value).length + state.fields.length > 0
  watch(
    () => (faulty() ? JSON.stringify(askedBy(call)?.input) : ''),
    () => faulty() && look(false),
  )

  async function send(): Promise<Awaited<ReturnType<C>> | null> {
    const asked = askedBy(call)
    live.value = {}
    // Kept before it is answered: what is refused is told by what was sent now, not by what was sent before.
    if (asked) judge?.sent(asked)
    const answer = (await act(call)) as Awaited<ReturnType<C>> | null
    if (state.message && state.fields.length && asked) {
      strict = true
      const { judgeOf } = await readSchemas().catch(() => ({ judgeOf: null }))
      if (judgeOf) {
        front = inFront()
        judge ??= judgeOf(asked)
        judge.sent(asked)
      }
    } else if (!state.message) begin()
    return answer
  }
  const fault = (path: string) => refused(path) || live.value[path] || ''
  return { state, act, send, fault }
}
