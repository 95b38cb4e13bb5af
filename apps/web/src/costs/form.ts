export interface CostForm {
  kindId: number
  hard: boolean
  units: string
  amount: number | null
  day: string | null
  payee: string
  text: string
  billable: boolean
}
export const emptyCost = (day: string): CostForm => ({
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
