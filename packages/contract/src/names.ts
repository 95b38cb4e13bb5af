import { entryMarks } from '@heron/core/docket'

/** Lists of what may be chosen, by themselves: the pages use them without the schemas. */
export const receiptKinds = ['check', "cashier's check", 'cash', 'wire', 'card', 'bank debit'] as const
export const folders = ['Correspondence', 'Pleadings', 'Discovery', 'Evidence', 'Engagement', 'Bills', 'Notes'] as const
export const charges = ['billable', 'no charge', 'non-billable'] as const
/** What an entry of time may have beyond matter, day, words and hours; a firm leaves out what it does not use. */
export const timeFields = ['activity', 'task', 'times', 'amount', 'court', 'funding', 'private attorney', 'note'] as const
/** Where an entry stands; `all` is what was not reversed. */
export const timeStates = ['all', 'draft', 'unbilled', 'billed', 'written off', 'reversed'] as const
/** By what the sums of time are told apart. */
export const timeGroups = ['person', 'matter', 'client', 'area', 'activity', 'month', 'charge', 'funding'] as const
/** By what an hour is priced, first that exists. */
export const rateKinds = ['matter', 'client', 'role', 'activity', 'timekeeper'] as const
export const accountKinds = ['asset', 'liability', 'equity', 'income', 'expense'] as const
export const procedureRoles = ['lead', 'lawyer', 'paralegal', 'assistant'] as const
export const reachKinds = ['e-mail', 'phone', 'address'] as const
export const aliasKinds = ['former name', 'nickname', 'trading name', 'also known as'] as const
export const marks = entryMarks
