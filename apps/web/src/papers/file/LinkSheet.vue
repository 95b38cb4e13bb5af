<script setup lang="ts">
import { addDays, type Day } from '@heron/core/calendar'
import { ref } from 'vue'
import { useClipboard } from '@vueuse/core'
import { api } from '../../api'
import { useSession } from '../../shell/session'
import Btn from '../../ui/Btn.vue'
import DayField from '../../ui/DayField.vue'
import SideSheet from '../../ui/SideSheet.vue'
import TextField from '../../ui/TextField.vue'
import { plural } from '../../ui/show'
import { useForm } from '../../ui/form'

/** Shows chosen papers, or a folder, to someone outside by a link that ends. The address is told once, here. */
const props = defineProps<{ matterId: number; ids: readonly number[]; folder: string | null }>()
const emit = defineEmits<{ close: [] }>()
const session = useSession()
const forWhom = ref('')
const email = ref('')
const message = ref('')
const endsOn = ref<Day | null>(addDays(session.today, 30))
const needsCode = ref(false)
const mayUpload = ref(false)
const sending = ref(false)
const made = ref('')
const copied = ref(false)
const { state, fault, send } = useForm(() =>
  api.papers.makeLink({
    id: props.matterId,
    forWhom: forWhom.value,
    email: email.value,
    message: message.value,
    paperIds: [...props.ids],
    folder: props.folder,
    endsOn: endsOn.value ?? '',
    needsCode: needsCode.value,
    mayUpload: mayUpload.value,
    send: sending.value,
  }),
)
async function save() {
  const link = await send()
  if (!link) return
  made.value = `${window.location.origin}/outside/${link.token}`
  session.changed()
}
const { copy: copyText } = useClipboard({ legacy: true })
const copy = () => copyText(made.value).then(() => (copied.value = true))
const box = 'mt-[3px] accent-ink'
</script>

<template>
  <SideSheet
    v-bind="made ? {} : { save: 'Make the link' }"
    :title="folder ? `Show ${folder} to someone outside` : `Show ${plural(ids.length, 'paper')} to someone outside`"
    :busy="state.busy"
    :message="state.said"
    :changed="!made && Boolean(forWhom)"
    @save="save"
    @close="emit('close')"
  >
    <template v-if="made">
      <p>
        The link is made. Its address is shown only now; give it to {{ forWhom
        }}<template v-if="sending">, to whom it was also sent</template>.
      </p>
      <TextField :model-value="made" label="Address of the link" />
      <Btn main data-autofocus @click="copy()">{{ copied ? 'Copied' : 'Copy the address' }}</Btn>
    </template>
    <template v-else>
      <TextField v-model="forWhom" label="For whom" :fault="fault('forWhom')" autofocus />
      <TextField v-model="email" label="E-mail" :optional="!needsCode && !sending" :fault="fault('email')" />
      <DayField v-model="endsOn" label="Until" :fault="fault('endsOn')" />
      <label class="flex gap-2"><input v-model="sending" type="checkbox" :class="box" /> Send the link to this address</label>
      <label class="flex gap-2"
        ><input v-model="needsCode" type="checkbox" :class="box" /> Ask for a code that is sent to this address</label
      >
      <label class="flex gap-2"><input v-model="mayUpload" type="checkbox" :class="box" /> They may send files, too</label>
      <TextField v-model="message" label="Message" optional :lines="3" :fault="fault('message')" />
      <p v-if="folder" class="text-ink-2">All papers that lie in {{ folder }} are shown, also those that come into it later.</p>
    </template>
  </SideSheet>
</template>
