<script setup lang="ts">
import { dayOr } from '../../address'
import { computed } from 'vue'
import ChoiceField from '../../ui/ChoiceField.vue'
import DayField from '../../ui/DayField.vue'
import TextField from '../../ui/TextField.vue'

/** One value of a paper that is asked or changed: for this paper alone, or kept on the record as well. */
const keep = defineModel<string[]>('keep', { required: true })
const props = defineProps<{
  value: { path: string; label: string; type: string; value: string; typed: string; missing: boolean; writes: boolean }
  typed: string | undefined
  fault: string
}>()
const emit = defineEmits<{ change: [text: string | null] }>()
const text = computed(() => props.typed ?? (props.value.missing ? '' : props.value.typed))
/** An empty answer is none; what is to stay blank is said so. */
const set = (t: string | null) => emit('change', t === null || t === '' ? null : t)
const blank = computed(() => props.typed === '')
const kept = computed({
  get: () => keep.value.includes(props.value.path),
  set: (on) => (keep.value = on ? [...keep.value, props.value.path] : keep.value.filter((k) => k !== props.value.path)),
})
</script>

<template>
  <div>
    <template v-if="!blank">
      <DayField
        v-if="value.type === 'day'"
        :model-value="dayOr(text, null)"
        :label="value.label"
        :fault="fault"
        @update:model-value="set"
      />
      <ChoiceField
        v-else-if="value.type === 'yes/no'"
        :model-value="text"
        :label="value.label"
        :fault="fault"
        :options="[
          { value: '', text: 'As on the record' },
          { value: 'yes', text: 'Yes' },
          { value: 'no', text: 'No' },
        ]"
        @update:model-value="set"
      />
      <TextField
        v-else
        :model-value="text"
        :label="value.label"
        :fault="fault"
        :hint="value.type === 'money' ? 'An amount' : value.type === 'number' ? 'A number' : ''"
        v-bind="/address|description|caption/.test(value.path) ? { lines: 3 } : {}"
        @update:model-value="set"
      />
    </template>
    <p v-else class="font-medium">{{ value.label }}: stays blank</p>
    <div class="mt-1 flex flex-wrap items-center gap-x-5 gap-y-1.5 text-sm text-ink-2">
      <label v-if="value.writes && !blank" class="flex min-h-6 items-center gap-1.5"
        ><input v-model="kept" type="checkbox" class="accent-ink" :disabled="!typed" /> Keep it on the record<span class="sr-only"
          >: {{ value.label }}</span
        ></label
      >
      <label class="flex min-h-6 items-center gap-1.5"
        ><input type="checkbox" class="accent-ink" :checked="blank" @change="emit('change', blank ? null : '')" /> Leave it blank<span
          class="sr-only"
          >: {{ value.label }}</span
        ></label
      >
      <button v-if="typed" type="button" class="min-h-6 underline" @click="emit('change', null)">
        As on the record<span class="sr-only">: {{ value.label }}</span>
      </button>
    </div>
  </div>
</template>
