import type { timeFields } from '@heron/contract'
import { defineStore } from 'pinia'
import { computed, ref } from 'vue'
import { api, type Answer } from '../api'
import { useSession } from '../shell/session'

type Field = (typeof timeFields)[number]
/** What an entry of time has in this firm, its sources of funding, and wordings; read once and when they change. */
export const useTimeSetUp = defineStore('time set-up', () => {
  const setting = ref<Answer<typeof api.time.fields> | null>(null)
  const phrases = ref<Answer<typeof api.time.phrases>>([])
  const activities = ref<Answer<typeof api.time.activities>>([])
  async function read() {
    const [s, p, a] = await Promise.all([
      api.time.fields(),
      useSession().may('time.record') ? api.time.phrases().catch(() => []) : [],
      api.time.activities(),
    ])
    setting.value = s
    phrases.value = p
    activities.value = a
  }
  const ready = () => (setting.value ? Promise.resolve() : read().catch(() => undefined))
  const uses = (field: Field) => setting.value?.fields.includes(field) ?? false
  const funding = computed(() => setting.value?.funding ?? [])
  return { setting, phrases, activities, funding, uses, ready, read }
})
