<script setup lang="ts">
import type { CsvMatchIn } from '@heron/contract'
import { computed, ref, watch } from 'vue'
import { api, type Answer } from '../api'
import { useNotes } from '../shell/notes'
import { useSession } from '../shell/session'
import ChoiceField from '../ui/ChoiceField.vue'
import DataTable from '../ui/DataTable.vue'
import Field from '../ui/Field.vue'
import MoneyField from '../ui/MoneyField.vue'
import { dayText, plural, showMoney } from '../ui/show'
import SideSheet from '../ui/SideSheet.vue'
import type { Column } from '../ui/table/columns'
import TextField from '../ui/TextField.vue'
import { useAct, useLatest } from '../use'

/** A statement is chosen, looked at, and taken; nothing is kept of it before. */
const props = defineProps<{ id: number; name: string }>()
const emit = defineEmits<{ close: [] }>()
const session = useSession()
const notes = useNotes()
const { state, act, fault } = useAct()
const file = ref<File | null>(null)
const found = ref<Answer<typeof api.bank.read> | null>(null)
const columns = ref<CsvMatchIn | null>(null)
const accepted = ref('')
const closing = ref<number | null>(null)
// Whatever was chosen meanwhile is read last, and nothing before it stands in its place.
const { run, settled } = useLatest()
function read(chosen: CsvMatchIn | null) {
  run(async (current) => {
    if (!file.value) return false
    const got = await act(() => api.bank.read({ id: props.id, file: file.value!, columns: chosen ? JSON.stringify(chosen) : '' }))
    if (!got || !current()) return false
    found.value = got
    columns.value ??= got.csv?.match ?? null
    return true
  })
}
function choose(event: Event) {
  file.value = (event.target as HTMLInputElement).files?.[0] ?? null
  found.value = columns.value = null
  accepted.value = ''
  closing.value = null
  read(null)
}
watch(columns, (now, was) => now && was && read(now))
const set = (more: Partial<CsvMatchIn>) => columns.value && (columns.value = { ...columns.value, ...more })
const places = computed(() => (found.value?.csv?.columns ?? []).map((c, i) => ({ value: i, text: c })))
const maybe = computed(() => [{ value: -1, text: 'None' }, ...places.value])
type Place = 'amount' | 'direction' | 'moneyIn' | 'moneyOut' | 'check' | 'reference' | 'balance'
const placeFields: [Place, string][] = [
  ['amount', 'Amount'],
  ['direction', 'Word for in or out'],
  ['moneyIn', 'Money in'],
  ['moneyOut', 'Money out'],
  ['check', 'Number of the check'],
  ['reference', 'Reference'],
  ['balance', 'Balance'],
]
/** Lines that are alike, too, each stand for themselves. */
const sample = computed(() => (found.value?.sample ?? []).map((l, n) => ({ ...l, n })))
type Line = (typeof sample.value)[number]
const lineColumns: Column<Line>[] = [
  { key: 'day', text: 'Date', kind: 'day', quiet: true },
  { key: 'text', text: 'Text', grow: 1, narrow: 'title' },
  { key: 'check', text: 'Check', size: 72 },
  { key: 'amount', text: 'Amount', kind: 'money' },
]
const ready = computed(
  () =>
    found.value !== null &&
    settled.value &&
    found.value.faults.length === 0 &&
    (found.value.fresh > 0 || found.value.lines === 0) &&
    !state.busy,
)
async function take() {
  if (!found.value || !ready.value) return
  const done = await act(() =>
    api.bank.take({
      id: props.id,
      fileId: found.value!.fileId,
      fileName: file.value!.name,
      columns: columns.value,
      accepted: accepted.value.trim(),
      closing: found.value!.closing === null ? closing.value : null,
    }),
  )
  if (!done) return
  notes.say(`${plural(done.fresh, 'new line')}, ${done.matched} matched at once`)
  session.changed()
  emit('close')
}
</script>

<template>
  <SideSheet
    :title="`Statement of ${name}`"
    save="Take it"
    wide
    :busy="state.busy"
    :disabled="!ready"
    :message="state.said"
    @save="take"
    @close="emit('close')"
  >
    <Field v-slot="{ id: field, described, invalid }" label="File" hint="OFX, camt.053 or CSV, as the bank gives it" :fault="fault('file')">
      <input
        :id="field"
        type="file"
        class="control"
        accept=".ofx,.xml,.csv,.txt"
        :aria-describedby="described"
        :aria-invalid="invalid"
        data-autofocus
        @change="choose"
      />
    </Field>
    <template v-if="found">
      <div v-if="found.faults.length" role="alert" class="rounded-control bg-rust-wash px-3 py-2 text-rust">
        <p v-for="f in found.faults" :key="f">{{ f }}</p>
      </div>
      <p v-else role="status">
        <b>{{ found.format }}</b>, {{ plural(found.lines, 'line')
        }}<template v-if="found.from && found.to"> of {{ dayText(found.from) }} to {{ dayText(found.to) }}</template
        >. <b>{{ plural(found.fresh, 'line') }}</b> not read before.
        <template v-if="found.closing !== null">It closes with {{ showMoney(found.closing) }}.</template>
        <template v-else>It states no closing balance.</template>
      </p>
      <p v-for="o in found.oddities" :key="o" class="text-ink-2">{{ o }}</p>
      <section v-if="columns && found.csv" aria-label="Columns" class="grid stacks grid-cols-3 gap-3">
        <ChoiceField label="Date" :model-value="columns.day" :options="places" @update:model-value="set({ day: $event })" />
        <ChoiceField
          label="Order of the date"
          :model-value="columns.order"
          :options="[
            { value: 'mdy', text: 'month, day, year' },
            { value: 'dmy', text: 'day, month, year' },
            { value: 'ymd', text: 'year, month, day' },
          ]"
          @update:model-value="set({ order: $event as CsvMatchIn['order'] })"
        />
        <ChoiceField
          label="Decimals after"
          :model-value="columns.decimal"
          :options="[
            { value: '.', text: 'a point' },
            { value: ',', text: 'a comma' },
          ]"
          @update:model-value="set({ decimal: $event as '.' | ',' })"
        />
        <ChoiceField
          v-for="[key, label] in placeFields"
          :key="key"
          :label="label"
          :model-value="columns[key] ?? -1"
          :options="maybe"
          @update:model-value="set({ [key]: $event < 0 ? null : $event })"
        />
        <ChoiceField
          label="Text"
          :model-value="columns.text[0] ?? -1"
          :options="maybe"
          @update:model-value="set({ text: $event < 0 ? [] : [$event, ...columns.text.slice(1).filter((t) => t !== $event)] })"
        />
        <label v-if="typeof columns.direction !== 'number'" class="col-span-full flex items-center gap-2"
          ><input type="checkbox" class="accent-ink" :checked="columns.turned" @change="set({ turned: !columns.turned })" /> What goes out
          is written without a minus, what comes in with one</label
        >
      </section>
      <section v-if="found.sample.length" class="sheet" aria-label="First lines">
        <DataTable label="First lines" name="statement-sample" plain :rows="sample" :columns="lineColumns" :row-id="(l) => l.n" />
      </section>
      <MoneyField
        v-if="found.closing === null && !found.faults.length"
        v-model="closing"
        label="Closing balance, as the bank states it"
        optional
        :fault="fault('closing')"
      />
      <template v-if="(found.differences.length || state.fields.some((f) => f.path === 'accepted')) && !found.faults.length">
        <p v-for="d in found.differences" :key="d" class="rounded-control bg-bill-wash px-3 py-2 text-bill-ink">{{ d }}</p>
        <TextField v-model="accepted" label="Why it is taken nevertheless" :fault="fault('accepted')" />
      </template>
      <p v-if="!found.faults.length && found.lines > 0 && !found.fresh" class="text-ink-2">Every line of it was read before.</p>
    </template>
  </SideSheet>
</template>
