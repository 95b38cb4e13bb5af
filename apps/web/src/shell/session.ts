import type { Me, Right } from '@heron/contract'
import { defineStore } from 'pinia'
import { computed, ref } from 'vue'
import { api, useToken, type Answer } from '../api'
import { dropDrafts } from '../ui/unsaved'

export const useSession = defineStore('session', () => {
  const me = ref<Me | null>(null)
  const firm = ref('Astute Heron')
  const today = ref('')
  const empty = ref(false)
  const demo = ref<Answer<typeof api.shell.session>['demo']>(null)
  const known = ref(false)
  /** Grows with every write, so that the waterline and lists look again. */
  const tick = ref(0)

  async function look() {
    const found = await api.shell.session()
    firm.value = found.firm
    today.value = found.today
    empty.value = found.empty
    demo.value = found.demo
    set(found.me)
    known.value = true
  }
  function set(who: Me | null) {
    me.value = who
    useToken(who?.csrf ?? '')
  }
  const signIn = async (email: string, password: string) => set(await api.shell.signIn({ email, password }))
  async function signOut(everywhere = false) {
    await (everywhere ? api.shell.signOutEverywhere() : api.shell.signOut())
    dropDrafts()
    set(null)
  }
  const may = computed(() => (right: Right) => me.value?.rights.includes(right) ?? false)
  const changed = () => (tick.value += 1)
  return { me, firm, today, empty, demo, known, tick, look, signIn, signOut, set, may, changed }
})
