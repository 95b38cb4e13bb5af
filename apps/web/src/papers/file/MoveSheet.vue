<script setup lang="ts">
import { ref } from 'vue'
import SideSheet from '../../ui/SideSheet.vue'
import TextField from '../../ui/TextField.vue'
import { plural } from '../../ui/show'

/** Another folder for papers: chosen by a press or the arrow keys, or typed. */
defineProps<{ ids: readonly number[]; folders: readonly { path: string }[] }>()
const emit = defineEmits<{ moved: [folder: string]; close: [] }>()
const to = ref('')
</script>

<template>
  <SideSheet
    light
    :title="`Move ${plural(ids.length, 'paper')}`"
    save="Move"
    :disabled="!to.trim()"
    @save="emit('moved', to.trim())"
    @close="emit('close')"
  >
    <TextField v-model="to" label="Folder" :list="folders.map((f) => f.path)" autofocus />
    <div class="flex flex-col">
      <button
        v-for="f in folders"
        :key="f.path"
        type="button"
        class="rounded-control px-2 py-1 text-left hover:bg-mist"
        :class="to === f.path && 'bg-mist font-semibold'"
        @click="to = f.path"
      >
        {{ f.path }}
      </button>
    </div>
  </SideSheet>
</template>
