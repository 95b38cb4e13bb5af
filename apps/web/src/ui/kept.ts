import { ref, watch, type Ref } from 'vue'
import { useLoad } from '../use'
import { useUnsaved } from './unsaved'

/**
 * A form over what the server keeps. It is there once it was read; an answer that comes late never writes over what was
 * typed, and leaving with something unsaved asks. `save` sends what stands in the form; what is typed meanwhile stays, and stays
 * unsaved.
 */
export function useKeptForm<T extends object>(load: () => Promise<T>) {
  const form = ref(null) as Ref<T | null>
  let asRead = ''
  const changed = () => form.value !== null && JSON.stringify(form.value) !== asRead
  const { data, problem, reload } = useLoad(load)
  watch(data, (d) => {
    if (!d || changed()) return
    asRead = JSON.stringify(d)
    form.value = JSON.parse(asRead) as T
  })
  useUnsaved({ changed })
  /** Runs the sending of the form as it stands; null where there is none yet, or where it was refused. */
  async function save<R>(send: (own: T) => Promise<R | null>): Promise<R | null> {
    if (!form.value) return null
    const sent = JSON.stringify(form.value)
    const done = await send(JSON.parse(sent) as T)
    if (done === null) return null
    asRead = sent
    await reload()
    return done
  }
  return { form, problem, reload, changed, save }
}
