import type { Day } from '@heron/core/calendar'
import type { Me, Right, Told } from '@heron/contract'
import { defineStore } from 'pinia'
import { computed, ref } from 'vue'
import { type Answer, api, useToken } from '../api'
import { answers, forget, lookAgain } from '../shown'
import { dropDrafts } from '../ui/unsaved'

export const useSession = defineStore('session', () => {
  const me = ref<Me | null>(null)
  const firm = ref('Astute Heron')
  const today = ref<Day>('1970-01-01')
  const empty = ref(false)
  const demo = ref<Answer<typeof api.shell.session>['demo']>(null)
  const known = ref(false)
  /** The session ended while something was typed: it is begun again over the page. */
  const ended = ref(false)
  /** Grows with each look of a page that stands open, so that it asks what others did meanwhile. */
  const looked = ref(0)
  /** Who signed in on this page, for signing in again; known to nobody after a reload. */
  const email = ref('')

  async function look() {
    const found = await asked()
    empty.value = found.empty
    demo.value = found.demo
    set(found.me)
    known.value = true
  }
  async function asked() {
    const found = await api.shell.session()
    firm.value = found.firm
    today.value = found.today
    return found
  }
  /** Asks what day it is and who is signed in, for a page that has stood open. Where nobody is, the page keeps who was. */
  async function lookWho(): Promise<Me | null> {
    const found = await asked()
    if (found.me) set(found.me)
    return found.me
  }
  function set(who: Me | null) {
    // Nobody sees what was shown to somebody else.
    if (who?.id !== me.value?.id) answers.clear()
    me.value = who
    useToken(who?.csrf ?? '')
  }
  async function signIn(as: string, password: string) {
    set(await api.shell.signIn({ email: as, password }))
    email.value = as
  }
  async function signOut(everywhere = false) {
    await (everywhere ? api.shell.signOutEverywhere() : api.shell.signOut())
    dropDrafts()
    set(null)
  }
  const may = computed(() => (right: Right) => me.value?.rights.includes(right) ?? false)
  /** What others did since the page loaded what it shows. */
  const others = ref<Told>({ matters: [], areas: [] })
  const both = <T>(a: readonly T[], b: readonly T[]) => [...new Set([...a, ...b])]
  function hear(told: Told) {
    forget()
    others.value = { matters: both(others.value.matters, told.matters), areas: both(others.value.areas, told.areas) }
  }
  const heard = () => void (others.value = { matters: [], areas: [] })
  /** Something was done: what is shown is asked again. */
  function changed() {
    heard()
    lookAgain()
  }
  return {
    me,
    firm,
    today,
    empty,
    demo,
    known,
    looked,
    ended,
    email,
    others,
    hear,
    heard,
    look,
    lookWho,
    signIn,
    signOut,
    set,
    may,
    changed,
  }
})
