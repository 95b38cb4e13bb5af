<script setup lang="ts">
import { dayOr } from '../address'
import { computed, ref, watch } from 'vue'
import { api, asks } from '../api'
import { recent } from '../shown'
import { useSession } from '../shell/session'
import ChoiceField from '../ui/ChoiceField.vue'
import DayField from '../ui/DayField.vue'
import MoneyField from '../ui/MoneyField.vue'
import Picker, { type Choice } from '../ui/Picker.vue'
import { searchContacts } from '../ui/search'
import TextField from '../ui/TextField.vue'
import { useLoad } from '../use'

/** The further filters of the list of matters, kept as the query of its address. */
const q = defineModel<Record<string, string>>({ required: true })
const session = useSession()
const { data: setting } = useLoad(() => recent(asks.matters.setting.queryOptions()))
const { data: facets } = useLoad(() => api.matters.facets())
const { data: groups } = useLoad(() => recent(asks.fields.groups.queryOptions({ input: { owner: 'matter' } })))
const set = (key: string, value: string | number | null | undefined) => {
  const next = { ...q.value }
  if (value) next[key] = String(value)
  else delete next[key]
  q.value = next
}
const number = (key: string) => Number(q.value[key] ?? 0)
const stages = computed(() => setting.value?.areas.find((a) => a.id === number('areaId'))?.stages ?? [])
const fields = computed(() => (groups.value ?? []).flatMap((g) => g.fields.filter((f) => !f.retired)))
const party = ref<Choice | null>(null)
watch(
  () => q.value['partyId'],
  async (id) => {
    if (!id) party.value = null
    else if (String(party.value?.id) !== id) {
      const found = await api.people.get({ id: Number(id) }).catch(() => null)
      if (q.value['partyId'] === id) party.value = found && { id: found.id, text: found.name }
    }
  },
  { immediate: true },
)
// An emptied field asks for nobody.
watch(party, (p) => set('partyId', p?.id))
</script>

<template>
  <div class="sheet mb-3 grid stacks grid-cols-2 gap-3 px-4 py-3 md:grid-cols-4" role="group" aria-label="Further filters">
    <ChoiceField
      :model-value="number('stageId')"
      label="Stage"
      :options="[
        { value: 0, text: stages.length ? 'Any stage' : 'Choose an area first' },
        ...stages.map((s) => ({ value: s.id, text: s.name })),
      ]"
      @update:model-value="set('stageId', $event)"
    />
    <ChoiceField
      :model-value="q['court'] ?? ''"
      label="Court"
      :options="[{ value: '', text: 'Any court' }, ...(facets?.courts ?? []).map((c) => ({ value: c, text: c }))]"
      @update:model-value="set('court', $event)"
    />
    <ChoiceField
      :model-value="q['tag'] ?? ''"
      label="Tag"
      :options="[{ value: '', text: 'Any tag' }, ...(facets?.tags ?? []).map((c) => ({ value: c, text: c }))]"
      @update:model-value="set('tag', $event)"
    />
    <ChoiceField
      :model-value="number('userId')"
      label="On the team"
      :options="[{ value: 0, text: 'Anyone' }, ...(setting?.staff ?? []).map((s) => ({ value: s.id, text: s.name }))]"
      @update:model-value="set('userId', $event)"
    />
    <div class="flex items-end gap-1">
      <div class="flex-1"><Picker v-model="party" label="Client or party" :search="searchContacts" /></div>
      <button
        v-if="q['partyId']"
        type="button"
        class="pb-1.5 text-ink-2"
        aria-label="Any party"
        @click="((party = null), set('partyId', null))"
      >
        ×
      </button>
    </div>
    <DayField :model-value="dayOr(q['openedFrom'], null)" label="Opened from" @update:model-value="set('openedFrom', $event)" />
    <DayField :model-value="dayOr(q['openedTo'], null)" label="Opened to" @update:model-value="set('openedTo', $event)" />
    <DayField :model-value="dayOr(q['idleSince'], null)" label="No activity since" @update:model-value="set('idleSince', $event)" />
    <MoneyField
      v-if="session.may('bills.see')"
      :model-value="q['unbilledOver'] ? Number(q['unbilledOver']) : null"
      label="Unbilled over"
      @update:model-value="set('unbilledOver', $event)"
    />
    <MoneyField
      v-if="session.may('trust.see')"
      :model-value="q['heldOver'] ? Number(q['heldOver']) : null"
      label="Held over"
      @update:model-value="set('heldOver', $event)"
    />
    <ChoiceField
      :model-value="q['conflicts'] ?? ''"
      label="Conflict check"
      :options="[
        { value: '', text: 'Any' },
        { value: 'open', text: 'Not cleared' },
      ]"
      @update:model-value="set('conflicts', $event)"
    />
    <template v-if="fields.length">
      <ChoiceField
        :model-value="number('fieldId')"
        label="Field"
        :options="[{ value: 0, text: 'None' }, ...fields.map((f) => ({ value: f.id, text: f.name }))]"
        @update:model-value="set('fieldId', $event)"
      />
      <TextField v-if="number('fieldId')" :model-value="q['fieldIs'] ?? ''" label="has" @update:model-value="set('fieldIs', $event)" />
    </template>
    <label class="flex items-center gap-2 self-end pb-1.5"
      ><input
        type="checkbox"
        class="accent-ink"
        :checked="q['followed'] === 'true'"
        @change="set('followed', ($event.target as HTMLInputElement).checked ? 'true' : null)"
      />
      Followed by me</label
    >
  </div>
</template>
