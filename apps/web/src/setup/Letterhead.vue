<script setup lang="ts">
import { computed } from 'vue'
import { api } from '../api'
import { useNotes } from '../shell/notes'
import Btn from '../ui/Btn.vue'
import { useKeptForm } from '../ui/kept'
import State from '../ui/State.vue'
import TextField from '../ui/TextField.vue'
import { useForm } from '../ui/form'
import { useLoad } from '../use'
import BillLook from './BillLook.vue'
import SetUpPage from './SetUpPage.vue'

const notes = useNotes()
const { form, problem, reload, save: keep } = useKeptForm(() => api.setUp.letterhead())
const { data: firm } = useLoad(() => api.firm.get())
const sample = computed(() => `/api/firm/letterhead/sample?${new URLSearchParams({ ...form.value }).toString()}`)
const { state, fault, send } = useForm(() => api.setUp.changeLetterhead(form.value!))
async function save() {
  if (await keep(send)) notes.say('Letterhead kept')
}
</script>

<template>
  <SetUpPage hint="What letters and bills begin and end with.">
    <template #acts
      ><Btn :href="sample" target="_blank" rel="noopener">Sample as PDF</Btn
      ><Btn main :busy="state.busy" key-name="Ctrl Enter" @click="save">Save</Btn></template
    >
    <State :loading="!form" :problem="problem" @again="reload()">
      <div v-if="form" class="grid stacks max-w-[1000px] items-start gap-[18px] lg:grid-cols-2">
        <form class="sheet space-y-3 px-4 py-3.5" aria-label="Letterhead" @submit.prevent="save" @keydown.ctrl.enter="save">
          <p v-if="state.said" role="alert" class="text-rust">{{ state.said }}</p>
          <TextField v-model="form.line" label="Line under the name" optional :fault="fault('line')" hint="Such as Attorneys at law." />
          <TextField v-model="form.email" label="E-mail" optional :fault="fault('email')" />
          <TextField v-model="form.web" label="Web address" optional :fault="fault('web')" />
          <TextField
            v-model="form.foot"
            label="At the foot of every page"
            optional
            :lines="2"
            :fault="fault('foot')"
            hint="Such as where to send payments. Name, address and phone stand under Firm and numbers."
          />
        </form>
        <section class="sheet px-6 py-5" aria-label="How it looks">
          <p class="font-serif text-lg">{{ firm?.name }}</p>
          <div class="text-sm whitespace-pre-line text-ink-2">
            <p v-if="form.line">{{ form.line }}</p>
            <p>{{ firm?.address }}</p>
            <p>{{ firm?.phone }}</p>
            <p>{{ [form.email, form.web].filter(Boolean).join(' · ') }}</p>
          </div>
          <div class="my-10 space-y-2.5" aria-hidden="true">
            <div v-for="w in ['92%', '97%', '88%', '60%']" :key="w" class="h-[7px] rounded-full bg-mist" :style="{ width: w }"></div>
          </div>
          <p class="text-center text-sm text-ink-2">{{ form.foot }}</p>
          <p class="text-center text-sm text-ink-2">Page 1 of 1</p>
        </section>
        <BillLook />
        <p class="text-ink-2 lg:col-span-2">Bills that were issued keep the letterhead of their day.</p>
      </div>
    </State>
  </SetUpPage>
</template>
