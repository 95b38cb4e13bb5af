import { computed } from 'vue'
import { asks } from '../../api'
import { recent } from '../../shown'
import { useSession } from '../../shell/session'
import { useLoad } from '../../use'

/** Who works here, with and without oneself. Who may not see a matter's papers is refused by the server, by name. */
export function useStaff() {
  const session = useSession()
  const { data } = useLoad(() => recent(asks.matters.setting.queryOptions()))
  const all = computed(() => data.value?.staff ?? [])
  const others = computed(() => all.value.filter((p) => p.id !== session.me?.id))
  return { all, others }
}
