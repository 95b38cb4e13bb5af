import { api, asks } from '../api'
import type { useNotes } from '../shell/notes'

/** Where checks that are to be printed stand: those of trust accounts, and those that the firm writes to vendors. */
export const printing = {
  trust: {
    toPrint: (bankAccountId: number) => asks.checks.toPrint.queryOptions({ input: { bankAccountId } }),
    byHand: api.checks.byHand,
    jobs: () => asks.checks.jobs.queryOptions(),
    makeJob: api.checks.makeJob,
    outcomes: api.checks.outcomes,
    pdf: (id: number) => `/api/print-jobs/${id}/pdf`,
    right: 'trust.post',
    place: 'under Checks',
  },
  operating: {
    toPrint: () => asks.vendors.toPrint.queryOptions(),
    byHand: api.vendors.byHand,
    jobs: () => asks.vendors.jobs.queryOptions(),
    makeJob: api.vendors.makeJob,
    outcomes: api.vendors.outcomes,
    pdf: (id: number) => `/api/vendors/print-jobs/${id}/pdf`,
    right: 'books.post',
    place: 'under Payables, Payments,',
  },
} as const
export type CheckBook = keyof typeof printing

/** What was posted stands in a print job already: its PDF is one key away, and the job asks how each check came out. */
export const sayPrinting = (notes: ReturnType<typeof useNotes>, book: CheckBook, job: number, what: string) =>
  notes.say(`${what}; ${printing[book].place} a print job asks how each check came out`, {
    label: 'Open the PDF',
    act: () => Promise.resolve(window.open(printing[book].pdf(job), '_blank', 'noopener')),
  })
