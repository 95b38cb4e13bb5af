<script setup lang="ts">
import { computed, reactive } from 'vue'
import Btn from '../ui/Btn.vue'
import ChoiceField from '../ui/ChoiceField.vue'
import SideSheet from '../ui/SideSheet.vue'

/** A list of dates as a file: with titles or full texts, on the paper of the country. */
const props = defineProps<{ address: string; query?: Record<string, string> }>()
const emit = defineEmits<{ close: [] }>()
const form = reactive({ format: 'pdf', texts: 'true', paper: 'LETTER' })
const href = computed(() => `${props.address}?${new URLSearchParams({ ...props.query, ...form }).toString()}`)
</script>

<template>
  <SideSheet title="Report" @close="emit('close')">
    <ChoiceField
      v-model="form.format"
      label="As"
      autofocus
      :options="[
        { value: 'pdf', text: 'PDF, to print or send' },
        { value: 'csv', text: 'CSV, for a spreadsheet' },
      ]"
    />
    <template v-if="form.format === 'pdf'">
      <ChoiceField
        v-model="form.texts"
        label="With"
        :options="[
          { value: 'true', text: 'Full texts and each step of the count' },
          { value: 'false', text: 'Titles and authorities' },
        ]"
      />
      <ChoiceField
        v-model="form.paper"
        label="Paper"
        :options="[
          { value: 'LETTER', text: 'Letter' },
          { value: 'A4', text: 'A4' },
        ]"
      />
    </template>
    <Btn main :href="href" target="_blank" rel="noopener">Open the report</Btn>
  </SideSheet>
</template>
