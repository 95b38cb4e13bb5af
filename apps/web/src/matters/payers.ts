import type { PayerIn } from '@heron/contract'
import type { Choice } from '../ui/Picker.vue'

/** One of several payers as it stands in a form. */
export interface SharedPayer {
  who: Choice
  how: 'part' | 'fixed'
  percent: string
  fixed: number | null
}

export const payersToSend = (payers: readonly SharedPayer[]): PayerIn[] =>
  payers.map((p) => ({
    contactId: p.who.id,
    fixed: p.how === 'fixed' ? p.fixed : null,
    basisPoints: p.how === 'part' ? Math.round(Number(p.percent.replace(',', '.')) * 100) || 0 : null,
  }))
