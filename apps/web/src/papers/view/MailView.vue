<script setup lang="ts">
import { ref } from 'vue'
import { api } from '../../api'
import Btn from '../../ui/Btn.vue'
import State from '../../ui/State.vue'
import { useLoad } from '../../use'
import { sizeText } from '../show'

/** An e-mail as it was: heads, its text made safe by the server, its parts. Nothing is loaded from outside. */
const props = defineProps<{ id: number }>()
const { data: mail, problem, loading, reload } = useLoad(() => api.papers.mail({ id: props.id }), [() => props.id])
const heads = ref(false)
const who = (p: { name: string; address: string }) => (p.name ? `${p.name} <${p.address}>` : p.address)
</script>

<template>
  <State :loading="loading && !mail" :problem="problem" @again="reload()">
    <article v-if="mail" class="h-full overflow-auto px-5 py-4" tabindex="0" :aria-label="mail.subject || 'E-mail'">
      <h3 class="text-lg">{{ mail.subject || 'No subject' }}</h3>
      <p v-if="mail.unread" class="my-2 rounded-control bg-bill-wash px-3 py-2 text-bill-ink">{{ mail.unread }}</p>
      <dl class="my-2 grid grid-cols-[60px_1fr] gap-x-2 text-ink-2">
        <dt>From</dt>
        <dd class="break-words text-ink">{{ mail.from ? who(mail.from) : 'not said' }}</dd>
        <template v-if="mail.to.length"
          ><dt>To</dt>
          <dd class="break-words">{{ mail.to.map(who).join(', ') }}</dd></template
        >
        <template v-if="mail.cc.length"
          ><dt>Copy</dt>
          <dd class="break-words">{{ mail.cc.map(who).join(', ') }}</dd></template
        >
        <dt>Date</dt>
        <dd>{{ mail.dateText || 'not said' }}</dd>
      </dl>
      <ul v-if="mail.parts.length" class="mb-3 flex flex-wrap gap-2" aria-label="Attachments">
        <li v-for="p in mail.parts" :key="p.index">
          <a
            :href="`/api/papers/${id}/mail/${p.index}`"
            target="_blank"
            rel="noopener"
            class="inline-block rounded-control border border-line px-2 py-1 hover:bg-page"
            >{{ p.name }} <span class="text-ink-3">{{ sizeText(p.size) }}</span></a
          >
        </li>
      </ul>
      <p v-if="mail.blocked" class="mb-2 text-sm text-ink-3">Pictures that would be loaded from outside are left out.</p>
      <!-- eslint-disable-next-line vue/no-v-html -->
      <div v-if="mail.html" class="note-text border-t border-line-2 pt-3 break-words" v-html="mail.html"></div>
      <pre v-else class="border-t border-line-2 pt-3 font-sans break-words whitespace-pre-wrap">{{ mail.text }}</pre>
      <Btn small class="mt-4" :aria-expanded="heads" @click="heads = !heads">{{ heads ? 'Hide the heads' : 'Show all heads' }}</Btn>
      <dl v-if="heads" class="mt-2 text-sm">
        <div v-for="(h, i) in mail.headers" :key="i" class="border-t border-line-2 py-1 break-words">
          <dt class="inline font-semibold">{{ h.name }}:</dt>
          <dd class="inline">{{ h.value }}</dd>
        </div>
      </dl>
    </article>
  </State>
</template>
