<script setup lang="ts">
import { asks } from '../api'
import { recent } from '../shown'
import ChoiceField from '../ui/ChoiceField.vue'
import { useLoad } from '../use'

/** Narrows dates to a person and a practice area; '0' is anyone, or any. */
const userId = defineModel<string>('userId', { required: true })
const areaId = defineModel<string>('areaId', { required: true })
const { data: setting } = useLoad(() => recent(asks.matters.setting.queryOptions()))
const options = (all: string, list: readonly { id: number; name: string }[] = []) => [
  { value: '0', text: all },
  ...list.map((x) => ({ value: String(x.id), text: x.name })),
]
</script>

<template>
  <ChoiceField v-model="userId" label="Person" :options="options('Anyone', setting?.staff)" />
  <ChoiceField v-model="areaId" label="Practice area" :options="options('Any', setting?.areas)" />
</template>
