<script setup lang="ts">
import { onMounted, ref } from 'vue'
import Btn from '../ui/Btn.vue'
import { plural } from '../ui/show'
import TextField from '../ui/TextField.vue'
import ChainChoice from './ChainChoice.vue'
import Differences from './Differences.vue'
import type { useChange } from './useChange'

/** A change of the docket before it takes effect: old and new side by side, and one act that takes it. */
const props = defineProps<{ change: ReturnType<typeof useChange> }>()
const tell = ref(false)
const why = ref('')
const c = props.change
// The keyboard goes on where the change is taken or left.
const heading = ref<HTMLElement | null>(null)
onMounted(() => heading.value?.focus())
</script>

<template>
  <section aria-label="What would change">
    <div class="flex flex-wrap items-center gap-x-3 gap-y-2 px-4 py-3">
      <h2 ref="heading" tabindex="-1">{{ c.text.value }}</h2>
      <span class="text-ink-2"
        >{{ c.follow.value ? `${plural(c.follow.value, 'date')} follow it` : 'no date moves'
        }}<template v-if="c.look.value">, {{ c.look.value }} {{ c.look.value === 1 ? 'needs' : 'need' }} a look</template></span
      >
      <span class="ml-auto flex gap-2">
        <Btn @click="c.leave()">Leave as is</Btn>
        <Btn main :busy="c.state.busy" @click="c.carryOut({ why, tell })">{{
          c.taken.value ? `Docket ${plural(c.taken.value, 'change')}` : 'Change it alone'
        }}</Btn>
      </span>
    </div>
    <p v-if="c.state.message" role="alert" class="mx-4 mb-2 rounded-control bg-rust-wash px-3 py-2 text-rust">{{ c.state.message }}</p>
    <div class="flex flex-wrap items-end gap-4 px-4 pb-3">
      <TextField v-model="why" class="w-80" label="Why" optional />
      <label class="flex items-center gap-2 pb-1.5"><input v-model="tell" type="checkbox" /> Send the team the new list</label>
    </div>
    <ChainChoice :chains="c.chains.value" @choose="c.choose" />
    <Differences v-if="c.shown.value.length" v-model="c.take.value" :list="c.shown.value" />
    <p v-else class="border-t border-line-2 px-4 py-4 text-ink-2">No date on the docket moves.</p>
  </section>
</template>
