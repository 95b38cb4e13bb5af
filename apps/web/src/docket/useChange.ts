import type { ChainOut, DifferenceOut, DocketActIn } from '@heron/contract'
import { computed, ref } from 'vue'
import { api } from '../api'
import { useNotes } from '../shell/notes'
import { useSession } from '../shell/session'
import { plural } from '../ui/show'
import { useAct } from '../use'

/** Changing what dates are counted from: shown first, taken in one act, undone by one press. */
export function useChange(matterId: () => number) {
  const session = useSession()
  const notes = useNotes()
  const { state, act, fault: own } = useAct()
  /** A fault in the act itself is named within it. */
  const fault = (path: string) => own(`act.${path}`) || own(path)
  const asked = ref<DocketActIn | null>(null)
  const text = ref('')
  const all = ref<DifferenceOut[]>([])
  const take = ref<number[]>([])
  const chains = ref<ChainOut[]>([])
  /** What was chosen of the chains that could run in two ways. */
  const chosen = ref<{ entryId: number; follows: boolean }[]>([])
  /** What a person needs to see: not the dates whose day and standing stay as they are. */
  const shown = computed(() =>
    all.value.filter((d) => d.effect !== 'recounted' || d.tentative !== d.wasTentative || d.provisional !== d.wasProvisional),
  )
  const follow = computed(() => all.value.filter((d) => d.effect === 'moves' || d.effect === 'goes').length)
  const look = computed(() => shown.value.filter((d) => d.effect === 'kept').length)
  const taken = computed(() => take.value.length + all.value.filter((d) => d.effect === 'goes').length)

  /** Asks what an act would do; true where there is something to look at before it is done. */
  async function preview(input: DocketActIn): Promise<boolean | null> {
    if (JSON.stringify(asked.value) !== JSON.stringify(input)) chosen.value = []
    const found = await act(() => api.docket.previewAct({ id: matterId(), act: input, chains: chosen.value }))
    if (!found) return null
    asked.value = input
    chains.value = found.chains
    text.value = found.text
    all.value = found.differences
    take.value = found.differences.filter((d) => ['moves', 'closes', 'comes in', 'drops out'].includes(d.effect)).map((d) => d.entryId)
    return shown.value.length > 0 || chains.value.length > 0
  }
  /** Counts a chain from the day docketed, or from its rule's; what follows is shown anew. */
  async function choose(entryId: number, follows: boolean) {
    if (!asked.value) return
    chosen.value = [...chains.value.map((c) => ({ entryId: c.entryId, follows: c.entryId === entryId ? follows : c.follows }))]
    await preview(asked.value)
  }
  const seen = () =>
    all.value.filter((d) => d.effect !== 'recounted').map((d) => ({ entryId: d.entryId, effect: d.effect, becomes: d.becomes }))

  async function carryOut(more: { why?: string; paperId?: number | null; tell?: boolean } = {}): Promise<boolean> {
    const input = asked.value
    if (!input) return false
    const done = await act(() =>
      api.docket.carryOut({
        id: matterId(),
        act: input,
        chains: chains.value.map(({ entryId, follows }) => ({ entryId, follows })),
        take: take.value,
        seen: seen(),
        ...more,
      }),
    )
    if (!done) return false
    const said = [
      done.moved ? `${plural(done.moved, 'date')} moved` : text.value,
      more.tell ? 'the team is told' : '',
      done.follows ? 'steps of a procedure would follow: look at To do' : '',
    ]
    notes.say(said.filter(Boolean).join('; '), { label: 'Undo', act: () => undo(done.changeId) })
    asked.value = null
    session.changed()
    return true
  }
  async function undo(changeId: number) {
    const back = await act(() => api.docket.undo({ id: changeId }))
    notes.say(back ? 'Undone' : state.message)
    session.changed()
  }
  const leave = () => (asked.value = null)
  return { state, act, fault, asked, text, shown, take, taken, follow, look, all, chains, choose, preview, carryOut, leave, undo }
}
