import { computed, getCurrentInstance, inject, nextTick, onMounted, onUnmounted, provide, reactive, ref, shallowRef, watch } from 'vue'
import type { InjectionKey, Ref, WatchSource } from 'vue'
import { api, ApiProblem, withKey } from './api'
import { saidBy } from './said'
import { useNotes } from './shell/notes'

/** Loads something when the page opens and whenever one of its sources changes; what was there stays while it loads. */
export function useLoad<T>(load: () => Promise<T>, on: WatchSource[] = []) {
  const data = shallowRef<T | null>(null)
  const problem = ref('')
  const loading = ref(true)
  let turn = 0
  let fault: unknown = null
  async function reload() {
    const mine = ++turn
    loading.value = true
    try {
      const got = await load()
      if (mine === turn) {
        data.value = got
        problem.value = ''
      }
    } catch (error) {
      if (mine !== turn) return
      fault = error
      problem.value = error instanceof Error ? error.message : 'This could not be loaded.'
    } finally {
      if (mine === turn) loading.value = false
    }
  }
  onMounted(reload)
  if (on.length) watch(on, reload)
  return saidBy({ data: data as Ref<T | null>, problem, loading, reload }, () => fault)
}

/**
 * What became of an act whose answer was lost: the server is asked by its key. Of an act of several calls only some may have
 * been done, so that is said.
 */
async function outcome<T>(
  key: string,
  error: ApiProblem,
): Promise<{ done: true; answer: T; message: string } | { done: false; message: string }> {
  if (!key) return { done: false, message: `${error.message} Look whether it was done before you press again.` }
  const found = await api.shell.act({ key }).catch(() => null)
  if (!found)
    return {
      done: false,
      message:
        'It is not known whether this was done: the server does not answer. What you entered is kept. Press again when it answers; it is done only once.',
    }
  if (found.done) return { done: true, answer: found.answer as T, message: '' }
  return {
    done: false,
    message: 'The server met a fault, and this was not done. What you entered is kept. Press again; it is done only once.',
  }
}

/**
 * Sends the act of one row among many, by the row's own key. Where its answer was lost the server is asked what became of it: it is
 * neither done twice nor taken for undone. Throws what the server refuses, and what is not known.
 */
export async function sendOnce<T>(row: { key: string }, work: () => Promise<T>): Promise<T> {
  const sent = withKey(row.key, work)
  try {
    const answer = await sent.answer
    row.key = crypto.randomUUID()
    return answer
  } catch (error) {
    if (error instanceof ApiProblem && (error.status === 0 || error.status >= 500)) {
      const found = await outcome<T>(sent.whole ? row.key : '', error)
      if (!found.done) throw new ApiProblem(error.status, error.code, found.message, [])
      row.key = crypto.randomUUID()
      return found.answer
    }
    // What is sent next time is another act, where what was wrong is mended.
    row.key = crypto.randomUUID()
    throw error
  }
}

/** What the acts of a page say is wrong, to be forgotten with the sheet that it was said in. */
const wrongs: InjectionKey<(() => void)[]> = Symbol('what went wrong')
const wrongsOf = new WeakMap<object, (() => void)[]>()
export function forgetWith(forget: () => void) {
  const page = getCurrentInstance()
  if (!page) return
  const known = wrongsOf.get(page)
  if (known) return void known.push(forget)
  const own = [forget]
  wrongsOf.set(page, own)
  provide(wrongs, own)
}
/** A sheet takes along what was said in it: the next one, of another row, begins without it, and so does the page behind it. */
export function useForgetting() {
  const page = inject(wrongs, [])
  onUnmounted(() => page.forEach((forget) => forget()))
}

/** Sets the fields of a sheet that stands in its page each time it opens: nothing that was thrown away comes back, and no day of yesterday. */
export const useOpening = (open: WatchSource<unknown>, begin: () => void) => watch(open, (on) => on && begin(), { flush: 'sync' })

/**
 * Runs acts one at a time, keeps what went wrong, and finds the error of a field. An error that stands at no field of the page
 * is told as a message: nothing that the server says is swallowed. `shows` says what stands at a field, where a page shows its
 * fields in steps.
 */
export function useAct(shows?: (path: string) => boolean) {
  const asked = new Set<string>()
  const atField = shows ?? ((path: string) => asked.has(path))
  const state = reactive({
    busy: false,
    message: '',
    /** Faults that stand at a field of the page. */
    fields: [] as { path: string; message: string }[],
    /** Faults beside them, at nothing that the page shows. */
    beside: '',
    key: '',
    code: '',
    /** What is told in words, since no field tells it. */
    get said(): string {
      return this.fields.length ? this.beside : this.message
    },
  })
  forgetWith(() => {
    if (!state.busy) Object.assign(state, { message: '', fields: [], beside: '', code: '' })
  })
  async function act<T>(work: () => Promise<T>): Promise<T | null> {
    if (state.busy) return null
    const unread = unreadField()
    if (unread) {
      state.fields = []
      state.code = ''
      state.message = `“${unread.dataset['unread']}” cannot be read as it stands. Mend it, or empty it; nothing is saved until then.`
      unread.focus()
      window.setTimeout(sayUnsaid, 0)
      return null
    }
    state.busy = true
    state.message = ''
    state.code = ''
    state.fields = []
    state.beside = ''
    // The key stays until the act succeeds or is refused for what it says, so that a retry never posts twice.
    state.key ||= crypto.randomUUID()
    let whole = false
    try {
      const sent = withKey(state.key, work)
      whole = sent.whole
      const result = await sent.answer
      state.key = ''
      return result
    } catch (error) {
      if (error instanceof ApiProblem && (error.status === 0 || error.status >= 500)) {
        const found = await outcome<T>(whole ? state.key : '', error)
        if (found.done) state.key = ''
        state.message = found.message
        return found.done ? found.answer : null
      } else if (error instanceof ApiProblem) {
        state.key = ''
        asked.clear()
        state.fields = error.fields
        state.message = error.message
        state.code = error.code
        // The page shows its fields anew, and asks for the errors of those that it has.
        await nextTick()
        const beside = error.fields.filter((f) => !atField(f.path))
        if (beside.length) {
          state.fields = error.fields.filter((f) => atField(f.path))
          state.beside = beside.map((f) => f.message).join('. ')
          if (!state.fields.length) state.message = state.beside
        }
        await nextTick()
        showFault(state.fields.length > 0)
      } else {
        state.message = 'This page met an error of its own. Reload it; nothing was changed.'
        console.error(error)
      }
      return null
    } finally {
      state.busy = false
      window.setTimeout(sayUnsaid, 0)
    }
  }
  /** What went wrong and stands nowhere on the page, once the page has made of it what it does, is said by a note. */
  function sayUnsaid() {
    if (!state.message && !state.fields.length) return
    const there = document.body.textContent ?? ''
    const unsaid = [...state.fields.map((f) => f.message), state.said].filter((words) => !there.includes(words))
    useNotes().say([...new Set(unsaid)].join('. '))
  }
  const fault = (path: string) => {
    asked.add(path)
    return state.fields.find((f) => f.path === path)?.message ?? ''
  }
  return { state, act, fault }
}

/**
 * What is asked anew with each change, such as what an act would do: one after another, and of those that wait the latest alone.
 * `work` is given whether it is still the latest, and says whether it came to an answer; `settled` says that the latest did.
 */
export function useLatest() {
  const wanted = ref(0)
  const answered = ref(0)
  let line: Promise<unknown> = Promise.resolve()
  function run(work: (current: () => boolean) => Promise<boolean>) {
    const mine = ++wanted.value
    const current = () => mine === wanted.value
    line = line
      .then(async () => {
        if (current() && (await work(current)) && current()) answered.value = mine
      })
      .catch(() => undefined)
  }
  return { run, settled: computed(() => answered.value === wanted.value) }
}

/** The sheet in front of the reader, or the page. */
export function inFront(): ParentNode {
  const sheets = document.querySelectorAll<HTMLElement>('[role="dialog"]')
  return sheets[sheets.length - 1] ?? document.querySelector('main') ?? document
}

/**
 * Brings the first fault before the eyes: the caret goes to its field; words that belong to none are scrolled to, and leave the
 * caret where someone may be typing.
 */
function showFault(atField: boolean): void {
  const field = atField ? inFront().querySelector<HTMLElement>('[aria-invalid="true"]') : null
  if (field) field.focus()
  else inFront().querySelector<HTMLElement>('[role="alert"]')?.scrollIntoView?.({ block: 'nearest' })
}

/** A field in front of the reader whose text could not be read: saving would turn it into nothing. */
function unreadField(): HTMLElement | null {
  return inFront().querySelector<HTMLElement>('[data-unread]')
}

/** What was typed as a number: the number, null for nothing, and else the text itself, which the server refuses at its field. */
export function typedNumber(text: string | number): number | null {
  const t = String(text).trim()
  if (!t) return null
  return Number.isFinite(Number(t)) ? Number(t) : (t as unknown as number)
}

/** What was typed as hours, in minutes; as `typedNumber` where it is none. */
export function typedMinutes(text: string): number | null {
  const typed = typedNumber(text)
  return typeof typed === 'number' ? Math.round(typed * 60) : typed
}

/** What was typed as a percentage, in ten-thousandths; as `typedNumber` where it is none. */
export function typedBasisPoints(text: string): number | null {
  const typed = typedNumber(text)
  return typeof typed === 'number' ? Math.round(typed * 100) : typed
}

/** Puts the caret into the first field of a page that is there to be filled in. */
export function useFirstField() {
  onMounted(() => document.querySelector<HTMLElement>('main [data-autofocus]')?.focus())
}
