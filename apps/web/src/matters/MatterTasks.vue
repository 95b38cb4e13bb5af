<script setup lang="ts">
import { ref } from 'vue'
import type { api, Answer } from '../api'
import { useSession } from '../shell/session'
import StartProcedure from '../tasks/StartProcedure.vue'
import TaskList from '../tasks/TaskList.vue'
import Btn from '../ui/Btn.vue'

defineProps<{ matter: Answer<typeof api.matters.get> }>()
const session = useSession()
const starting = ref(false)
</script>

<template>
  <TaskList title="To do" :matter-id="matter.id" :matter-name="matter.name" />
  <div v-if="session.may('tasks.change')" class="border-t border-line-2 px-3.5 pt-3">
    <Btn @click="starting = true">Start a procedure</Btn>
  </div>
  <StartProcedure v-if="starting" :matter-id="matter.id" :area-id="matter.areaId" @close="starting = false" />
</template>
