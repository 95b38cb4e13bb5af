<script setup lang="ts">
import { computed } from 'vue'
import type { api, Answer } from '../api'
import { counted } from '@heron/core/words'
import { momentText, showMoney } from '../ui/show'

const props = defineProps<{ check: Answer<typeof api.trust.check> }>()
// An account that never held anything says nothing.
const shown = computed(() => props.check.accounts.filter((a) => a.bank || a.liability || a.ledgers || a.ledgerDays))
type Account = (typeof props.check.accounts)[number]
const sides = (a: Account) => [
  { name: 'Bank book', value: a.bank, off: a.bank !== a.liability },
  { name: 'Owed to clients', value: a.liability, off: a.liability !== a.bank || a.liability !== a.ledgers },
  { name: 'Sum of client ledgers', value: a.ledgers, off: a.ledgers !== a.liability },
]
</script>

<template>
  <section class="mb-4" aria-label="Standing check">
    <div v-for="a in shown" :key="a.bankAccountId" class="mb-2" :data-account="a.name">
      <p class="mb-1 text-ink-2">{{ a.name }}</p>
      <div class="grid stacks grid-cols-[1fr_46px_1fr_46px_1fr] items-stretch">
        <template v-for="(s, i) in sides(a)" :key="s.name">
          <span v-if="i" class="grid place-items-center font-serif text-3xl font-semibold" :class="s.off ? 'text-rust' : 'text-lagoon'">{{
            s.off ? '≠' : '='
          }}</span>
          <div class="sheet flex items-baseline gap-3 px-4 py-2">
            <span class="text-ink-2">{{ s.name }}</span><b
              class="ml-auto font-serif text-2xl font-semibold"
              :class="s.off && 'text-rust'"
              >{{ showMoney(s.value) }}</b
            >
            <span v-if="s.off && i" class="text-sm text-rust">differs by {{ showMoney(s.value - a.bank) }}</span>
          </div>
        </template>
      </div>
    </div>
    <p class="text-sm" :class="check.ok ? 'text-ink-2' : 'text-rust'">
      <template v-if="check.ok">Three separate records agree and every journal balances.</template
      ><template v-else
        >The records do not agree<template v-if="check.unbalancedJournals"
          >; {{ counted(check.unbalancedJournals, 'journal') }} out of balance</template
        ><template v-if="check.wrongSums">; kept sums are not those of their entries in {{ counted(check.wrongSums, 'place') }}</template
        >.</template
      >
      <template v-if="check.at"> Last checked {{ momentText(check.at) }}.</template>
      <template v-if="check.wholeAt"> Every entry was last read {{ momentText(check.wholeAt) }}.</template>
    </p>
  </section>
</template>
