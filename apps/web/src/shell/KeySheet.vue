<script setup lang="ts">
import { questionForms } from '@heron/core/oversight'
import SideSheet from '../ui/SideSheet.vue'
import WeightMark from '../ui/WeightMark.vue'
import { commands } from './areas'
import { letterKeys } from './keys'
import { useSession } from './session'

defineEmits<{ close: [] }>()
const session = useSession()
const rows: [string, string][] = [
  ['Ctrl K', 'Find or do'],
  ['?', 'This sheet'],
  ['T', 'Timer'],
  ['Ctrl Enter', 'Save or do the main act'],
  ['Esc', 'Leave a sheet'],
  ['X', 'Mark the chosen task done'],
  ['H, J', 'Hold back a line, go to the next pre-bill'],
]
const weights = [
  ['strict', 'the court cannot enlarge it beyond what the rule allows'],
  ['rule', 'set by a rule'],
  ['court order', 'set by the court'],
  ['firm practice', 'the firm’s own advance date'],
  ['appointment', 'a meeting'],
] as const
</script>

<template>
  <SideSheet title="Keys and marks" @close="$emit('close')">
    <label class="flex items-center gap-2"
      ><input v-model="letterKeys" type="checkbox" data-autofocus /> Single letters act as keys outside of fields</label
    >
    <dl>
      <div v-for="[key, what] in rows" :key="key" class="flex gap-3 border-t border-line-2 py-1.5">
        <dt class="w-28">
          <kbd class="kbd">{{ key }}</kbd>
        </dt>
        <dd>{{ what }}</dd>
      </div>
      <template v-for="c in commands" :key="c.title">
        <div v-if="c.key && (!c.right || session.may(c.right))" class="flex gap-3 border-t border-line-2 py-1.5">
          <dt class="w-28">
            <kbd class="kbd">{{ c.key }}</kbd>
          </dt>
          <dd>{{ c.title }}</dd>
        </div>
      </template>
    </dl>
    <template v-if="session.may('bills.see')">
      <h3 class="pt-2">Figures by words, in Find or do</h3>
      <dl>
        <div v-for="f in questionForms" :key="f.form" class="border-t border-line-2 py-1.5">
          <dt>
            <b>{{ f.form }}</b>
          </dt>
          <dd class="text-ink-2">{{ f.says }}: {{ f.example }}</dd>
        </div>
      </dl>
    </template>
    <h3 class="pt-2">Margin rules of the docket</h3>
    <div v-for="[w, what] in weights" :key="w" class="flex h-9 items-stretch gap-3">
      <WeightMark :weight="w" /><span class="self-center"
        ><b>{{ w }}</b> <span class="text-ink-2">{{ what }}</span></span
      >
    </div>
  </SideSheet>
</template>
