<script setup lang="ts">
import { computed } from 'vue'
import Btn from '../../ui/Btn.vue'
import { sizeText } from '../show'
import { useUploads } from '../uploads'

/** Files on their way to a matter, each with what became of it. */
const props = defineProps<{ matterId: number }>()
const uploads = useUploads()
const mine = computed(() => uploads.list.filter((c) => c.matterId === props.matterId))
const words = {
  waiting: 'waits',
  coming: 'is coming',
  come: 'is being filed',
  filed: 'filed',
  double: 'on file already',
  failed: 'did not come',
}
</script>

<template>
  <section v-if="mine.length" class="border-b border-line-2 bg-page px-4 py-2.5" aria-label="Files on their way">
    <div class="flex items-center gap-2">
      <h3 class="font-semibold">Files on their way</h3>
      <Btn small class="ml-auto" @click="uploads.clear()">Clear those that came</Btn>
    </div>
    <ul class="mt-1 max-h-56 overflow-auto">
      <li v-for="c in mine" :key="c.key" class="flex flex-wrap items-center gap-x-3 gap-y-1 py-1 text-sm">
        <span class="min-w-0 flex-1 truncate font-medium">{{ c.name }}</span>
        <span class="text-ink-2">{{ c.folder }}</span>
        <progress
          v-if="c.state === 'coming'"
          class="h-2 w-28"
          :max="c.file.size || 1"
          :value="c.received"
          :aria-label="`${c.name}, how much has come`"
        ></progress>
        <span :class="c.state === 'failed' || c.state === 'double' ? 'text-rust' : 'text-ink-2'"
          >{{ c.message || words[c.state]
          }}<template v-if="c.state === 'coming'">, {{ sizeText(c.received) }} of {{ sizeText(c.file.size) }}</template></span
        >
        <Btn v-if="c.state === 'failed'" small @click="uploads.again(c)">Try again</Btn>
        <Btn v-if="c.state === 'double'" small @click="uploads.again(c)">File it again</Btn>
        <Btn v-if="c.state !== 'come'" small :aria-label="`Put ${c.name} away`" @click="uploads.drop(c)">Put away</Btn>
      </li>
    </ul>
  </section>
</template>
