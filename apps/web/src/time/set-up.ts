import type { timeFields } from '@heron/contract'
import { defineStore } from 'pinia'
import { computed, ref } from 'vue'
import { api, type Answer } from '../api'
import { useSession } from '../shell/session'

type Field = (typeof timeFields)[number]
/** What an entry of time has in this firm, its sources of funding, and wordings; read once and when they change. */
export const useTimeSetUp = defineStore('time set-up', () => {
  const setting = ref<Answer<typeof api.time.fields> | null>(null)
  /** Groups of fields of the firm's own that an entry has. */
  const groups = ref<Answer<typeof api.fields.groups>>([])
  const phrases = ref<Answer<typeof api.time.phrases>>([])
  const activities = ref<Answer<typeof api.time.activities>>([])
  async function read() {
    const [s, g, p, a] = await Promise.all([
      api.time.fields(),
      api.fields.groups({ owner: 'time' }).catch(() => []),
      useSession().may('time.record') ? api.time.phrases().catch(() => []) : [],
      api.time.activities(),
    ])
    setting.value = s
    groups.value = g.filter((x) => x.fields.some((f) => !f.retired))
    phrases.value = p
    activities.value = a
  }
  const ready = () => (setting.value ? Promise.resolve() : read().catch(() => undefined))
  const uses = (field: Field) => setting.value?.fields.includes(field) ?? false
  const funding = computed(() => setting.value?.funding ?? [])
  return { setting, groups, phrases, activities, funding, uses, ready, read }
})
