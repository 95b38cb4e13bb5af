<script setup lang="ts">
import { ref, watch } from 'vue'
import { api } from '../api'
import { useSession } from '../shell/session'
import ChoiceField from '../ui/ChoiceField.vue'
import DayField from '../ui/DayField.vue'
import Pager from '../ui/Pager.vue'
import { momentText } from '../ui/show'
import State from '../ui/State.vue'
import { useLoad } from '../use'
import LogText from './LogText.vue'

const props = defineProps<{ matterId: number }>()
const session = useSession()
const page = ref(1)
const kind = ref('')
const userId = ref(0)
const from = ref<string | null>(null)
const to = ref<string | null>(null)
const { data, problem, loading, reload } = useLoad(
  () =>
    api.matters.log({
      id: props.matterId,
      kind: kind.value,
      userId: userId.value || undefined,
      from: from.value ?? undefined,
      to: to.value ?? undefined,
      page: page.value,
      size: 50,
    }),
  [page, kind, userId, from, to, () => session.tick],
)
watch([kind, userId, from, to], () => (page.value = 1))
</script>

<template>
  <div class="flex flex-wrap items-end gap-3 px-4 py-3">
    <h2 class="mr-auto self-center">Log</h2>
    <div class="w-40">
      <ChoiceField
        v-model="kind"
        label="Kind"
        :options="[{ value: '', text: 'All' }, ...(data?.kinds ?? []).map((k) => ({ value: k, text: k }))]"
      />
    </div>
    <div class="w-48">
      <ChoiceField
        v-model="userId"
        label="Who"
        :options="[{ value: 0, text: 'Anyone' }, ...(data?.people ?? []).map((p) => ({ value: p.userId, text: p.name }))]"
      />
    </div>
    <div class="w-36"><DayField v-model="from" label="From" optional /></div>
    <div class="w-36"><DayField v-model="to" label="To" optional /></div>
  </div>
  <State :loading="loading && !data" :problem="problem" :empty="!data?.rows.length" @again="reload()">
    <template #empty>Nothing of that kind.</template>
    <table class="list-table">
      <thead>
        <tr>
          <th>When</th>
          <th>Who</th>
          <th>What</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="l in data?.rows" :key="l.id">
          <td class="align-top whitespace-nowrap text-ink-2">{{ momentText(l.at) }}</td>
          <td class="align-top whitespace-nowrap">{{ l.who }}</td>
          <td>
            <LogText :text="l.text" :changes="l.changes" />
          </td>
        </tr>
      </tbody>
    </table>
    <Pager v-model="page" :total="data?.total ?? 0" :size="50" what="entries" />
  </State>
</template>
