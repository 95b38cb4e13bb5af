import type { Day } from '@heron/core/calendar'
export interface CostForm {
  kindId: number
  hard: boolean
  units: string
  amount: number | null
  day: Day | null
  payee: string
  text: string
  billable: boolean
}
export const emptyCost = (day: Day): CostForm => ({
  kindId: 0,
  hard: false,
  units: '',
  amount: null,
  day,
  payee: '',
  text: '',
  billable: true,
})
export const paidFromWords = { operating: 'operating account', trust: 'trust', owed: 'owed', before: 'before moving in' } as const
