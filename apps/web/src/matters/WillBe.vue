<script setup lang="ts">
defineProps<{ number: string; billing: string; billTo: string; lead: string; team: string[]; procedure: string; missing: string[] }>()
</script>

<template>
  <section
    class="sheet px-4 py-3.5 [&_dl>div]:grid [&_dl>div]:grid-cols-[80px_1fr] [&_dl>div]:border-t [&_dl>div]:border-line-2 [&_dl>div]:py-[5px] [&_dt]:text-ink-2"
    aria-label="What will be there"
  >
    <h2 class="mb-1.5">What will be there</h2>
    <dl>
      <div>
        <dt>Number</dt>
        <dd>{{ number }}</dd>
      </div>
      <div>
        <dt>Billing</dt>
        <dd>
          {{ billing
          }}<template v-if="billTo"
            >, to <b>{{ billTo }}</b></template
          >
        </dd>
      </div>
      <div>
        <dt>Team</dt>
        <dd>
          {{ lead }} <span class="text-ink-2">keeps it</span><template v-for="t in team" :key="t">, {{ t }}</template>
        </dd>
      </div>
      <div v-if="procedure">
        <dt>Procedure</dt>
        <dd>{{ procedure }}</dd>
      </div>
      <div v-if="missing.length">
        <dt>Missing</dt>
        <dd class="text-bill-ink">{{ missing.join(', ') }}</dd>
      </div>
    </dl>
  </section>
</template>
