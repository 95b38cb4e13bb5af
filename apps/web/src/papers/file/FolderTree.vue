<script setup lang="ts">
import { Folder, FolderOpen, Trash2 } from '@lucide/vue'
import { useMediaQuery } from '@vueuse/core'
import { computed, ref } from 'vue'
import ChoiceField from '../../ui/ChoiceField.vue'

/** Folders of a matter with how many papers lie in each. Papers that are dragged onto one move there. */
const here = defineModel<string>({ required: true })
const props = defineProps<{ folders: readonly { path: string; count: number; standard: boolean }[]; all: number; bin: number }>()
defineEmits<{ drop: [folder: string, event: DragEvent] }>()
const over = ref('')
/** Where there is no room beside the papers, the folders fold into a list to choose from. */
const narrow = useMediaQuery('(max-width: 899px)')
const choices = computed(() => [
  { value: '', text: `All papers (${props.all})` },
  ...props.folders.map((f) => ({ value: f.path, text: f.count ? `${f.path} (${f.count})` : f.path })),
  ...(props.bin ? [{ value: '/bin', text: `Bin (${props.bin})` }] : []),
])
const depth = (path: string) => path.split('/').length - 1
const name = (path: string) => path.split('/').at(-1)!
const line = 'flex w-full items-center gap-2 rounded-control px-2 py-[5px] text-left hover:bg-mist'
</script>

<template>
  <ChoiceField v-if="narrow" v-model="here" label="Folder" bare :options="choices" />
  <nav v-else aria-label="Folders">
    <button
      type="button"
      :class="[line, here === '' && 'bg-mist font-semibold']"
      :aria-current="here === '' || undefined"
      @click="here = ''"
    >
      All papers <span class="ml-auto text-ink-2">{{ all }}</span>
    </button>
    <button
      v-for="f in folders"
      :key="f.path"
      type="button"
      :class="[line, here === f.path && 'bg-mist font-semibold', over === f.path && 'bg-lagoon-wash outline-2 outline-lagoon']"
      :aria-current="here === f.path || undefined"
      :aria-label="`${f.path}, ${f.count}`"
      @click="here = f.path"
      @dragover.prevent="over = f.path"
      @dragleave="over = ''"
      @drop.prevent.stop="((over = ''), $emit('drop', f.path, $event))"
    >
      <span :style="{ width: `${depth(f.path) * 14}px` }" class="flex-none"></span>
      <component :is="here === f.path ? FolderOpen : Folder" :size="15" class="flex-none text-ink-2" aria-hidden="true" />
      <span class="min-w-0 truncate">{{ name(f.path) }}</span>
      <span class="ml-auto text-ink-2">{{ f.count || '' }}</span>
    </button>
    <button
      v-if="bin"
      type="button"
      :class="[line, here === '/bin' && 'bg-mist font-semibold']"
      :aria-current="here === '/bin' || undefined"
      @click="here = '/bin'"
    >
      <Trash2 :size="15" class="text-ink-2" aria-hidden="true" /> Bin <span class="ml-auto text-ink-2">{{ bin }}</span>
    </button>
  </nav>
</template>
