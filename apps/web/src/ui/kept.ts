import { ref, watch, type Ref } from 'vue'
import { useLoad } from '../use'
import { useUnsaved } from './unsaved'

/**
 * A form over what the server keeps. It is there once it was read; an answer that comes late never writes over what was
 * typed, and leaving with something unsaved asks. `saved` takes what stands in the form as kept and reads anew.
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
  async function saved() {
    asRead = JSON.stringify(form.value)
    await reload()
  }
  return { form, problem, reload, changed, saved }
}
