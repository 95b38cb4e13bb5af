import type { FiguresIn } from '@heron/contract'
import { onUnmounted, ref } from 'vue'
import { type Answer, api, ApiProblem } from '../api'
import { useShown } from '../shown'
import { waitFor } from '../wait'

/**
 * Figures of a span: at once where they can be, else added up in the background. `adding` is how far that is, null where nothing is
 * under way; `added` names the work that did it, for files of the same figures.
 */
export function useFigures<T>(
  ask: { now: () => Promise<T>; asked: () => FiguresIn | null; take: (a: Answer<typeof api.oversight.added>) => T | null },
  /** What the figures are asked by. */
  by: () => unknown,
) {
  const adding = ref<number | null>(null)
  const added = ref<number | null>(null)
  let turn = 0
  onUnmounted(() => (turn += 1))
  async function inBackground(mine: number, asked: FiguresIn): Promise<T> {
    adding.value = 0
    try {
      const { jobId } = await api.oversight.addUp(asked)
      const done = await waitFor(
        () => api.papers.job({ id: jobId }),
        (percent) => mine === turn && (adding.value = percent),
        () => mine !== turn,
      )
      if (done !== true) throw new Error(done)
      const found = await api.oversight.added({ id: jobId }).catch((error: unknown) => {
        throw error instanceof ApiProblem && error.status === 404
          ? new Error('Figures of another span were asked for on another page meanwhile. Try again to add these up.')
          : error
      })
      const got = ask.take(found)
      if (got === null) throw new Error('This could not be added up. Try again.')
      if (mine === turn) added.value = jobId
      return got
    } finally {
      if (mine === turn) adding.value = null
    }
  }
  async function figures(): Promise<T> {
    const mine = ++turn
    adding.value = null
    added.value = null
    const asked = ask.asked()
    try {
      return await ask.now()
    } catch (error) {
      if (asked && error instanceof ApiProblem && error.code === 'long-span' && mine === turn) return inBackground(mine, asked)
      throw error
    }
  }
  // What was added up in the background belongs to the files that are made of it: it is not kept beyond its page.
  const loaded = useShown(() => ({ queryKey: ['figures', by()], queryFn: figures, gcTime: 0 }))
  return { ...loaded, adding, added }
}
