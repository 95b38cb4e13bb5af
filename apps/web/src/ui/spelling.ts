import { wordsToCheck } from '@heron/core/words'
import { useDebounceFn } from '@vueuse/core'
import { onBeforeUnmount, ref, watch, type Ref } from 'vue'
import { api } from '../api'
import type { Ask, Told } from './spelling.worker'

let worker: Worker | null = null
let turn = 0
const waiting = new Map<number, (told: Told['unknown']) => void>()
function ask(words: string[]): Promise<Told['unknown']> {
  if (typeof Worker === 'undefined' || !words.length) return Promise.resolve([])
  if (!worker) {
    worker = new Worker(new URL('./spelling.worker.ts', import.meta.url), { type: 'module' })
    worker.onmessage = ({ data }: MessageEvent<Told>) => {
      waiting.get(data.turn)?.(data.unknown)
      waiting.delete(data.turn)
    }
  }
  const mine = ++turn
  return new Promise((tell) => {
    waiting.set(mine, tell)
    worker!.postMessage({ turn: mine, words } satisfies Ask)
  })
}

/** Words of the firm and names around a matter, asked once for each matter. */
const known = new Map<number, Promise<Set<string>>>()
function knownFor(matterId: number): Promise<Set<string>> {
  const has = known.get(matterId)
  if (has) return has
  const asked = api.time
    .spelling(matterId ? { matterId } : {})
    .then((k) => new Set([...k.words, ...k.names].map((w) => w.toLowerCase())))
    .catch(() => (known.delete(matterId), new Set<string>()))
  known.set(matterId, asked)
  return asked
}
/** What was asked is asked anew: words were added or taken out. */
export const forgetKnown = () => known.clear()

/** Words of a text that no dictionary knows, with what they may have meant; looked up a moment after the last letter. */
export function useSpelling(text: Ref<string>, matterId: () => number | undefined) {
  const unknown = ref<Told['unknown']>([])
  let gone = false
  async function look(writing: boolean) {
    if (typeof Worker === 'undefined') return
    const typed = text.value
    // The word that is being written is left alone.
    const settled = writing && /\p{L}/u.test(typed.at(-1) ?? '') ? typed.slice(0, typed.lastIndexOf(' ') + 1) : typed
    const own = await knownFor(matterId() ?? 0)
    const found = await ask(
      wordsToCheck(settled)
        .map((w) => w.word)
        .filter((w) => !own.has(w.toLowerCase())),
    )
    if (!gone && text.value === typed) unknown.value = found
  }
  const later = useDebounceFn(() => look(true), 250)
  watch(text, later)
  watch(matterId, () => look(false))
  onBeforeUnmount(() => (gone = true))
  async function add(word: string) {
    await api.time.addWord({ word })
    forgetKnown()
    await look(false)
  }
  return { unknown, add, look: () => look(false) }
}
