import type { Right } from '@heron/contract'

/** The areas of the work in the order in which it is done; each is shown only to those who may use it. */
export const areas: { name: string; to: string; right?: Right; without?: Right }[] = [
  { name: 'Today', to: '/today' },
  { name: 'Matters', to: '/matters', right: 'matters.see' },
  { name: 'People', to: '/people', right: 'people.see' },
  { name: 'Docket', to: '/docket', right: 'docket.see' },
  { name: 'Papers', to: '/papers', right: 'papers.see' },
  { name: 'Time', to: '/time', right: 'time.record' },
  // Those who record no time reach costs by themselves.
  { name: 'Time', to: '/time/all', right: 'bills.see', without: 'time.record' },
  { name: 'Bills', to: '/bills', right: 'bills.see' },
  { name: 'Trust', to: '/trust', right: 'trust.see' },
  { name: 'Books', to: '/books', right: 'books.see' },
  { name: 'Reports', to: '/reports', right: 'bills.see' },
]

/** Acts that find-or-do offers by their words, with the key that does the same. */
export interface Command {
  title: string
  words: string
  to: string
  key?: string
  right?: Right
}
export const commands: Command[] = [
  { title: 'Open a matter', words: 'new matter open', to: '/matters/new', key: 'N', right: 'matters.open' },
  { title: 'Tasks', words: 'to do list overdue given out board by person', to: '/tasks', right: 'tasks.change' },
  { title: 'Board by person', words: 'tasks assign reassign give out', to: '/tasks?view=board', right: 'tasks.change' },
  { title: 'Record time', words: 'time record hours', to: '/time?record=1', key: 'R', right: 'time.record' },
  { title: 'Day sheet', words: 'time rows of a day', to: '/time/day', right: 'time.record' },
  { title: 'Week of time', words: 'grid matters days hours', to: '/time/week', right: 'time.record' },
  { title: 'Phrases', words: 'wordings short codes time', to: '/time/phrases', right: 'time.record' },
  { title: 'All time', words: 'hours list sums timekeepers export', to: '/time/all', right: 'bills.see' },
  {
    title: 'Reconcile a bank account',
    words: 'bank statement reconciliation match ofx camt csv close month',
    to: '/books?show=bank',
    right: 'books.see',
  },
  { title: 'Post time drafts', words: 'post drafts time', to: '/time', right: 'time.record' },
  { title: 'Record a cost', words: 'expense copies mileage filing fee disbursement', to: '/time/costs?record=1', right: 'costs.record' },
  { title: 'Costs that recur', words: 'recurring monthly expense', to: '/time/costs?show=recurring', right: 'costs.record' },
  { title: 'Import costs', words: 'csv copier card read file', to: '/people/import?what=costs', right: 'costs.record' },
  { title: 'Work out dates', words: 'docket trigger deadlines', to: '/matters?then=dates', right: 'docket.change' },
  { title: 'Docket of the firm', words: 'agenda week month calendar dates deadlines', to: '/docket', right: 'docket.see' },
  { title: 'Find a free hour', words: 'appointment meeting invite schedule', to: '/docket/free-hours', right: 'docket.see' },
  { title: 'Docket reports', words: 'print pdf xlsx span who is on which matter closed days', to: '/docket/reports', right: 'docket.see' },
  { title: 'Figures of cases', words: 'days to trial motion ruling median', to: '/docket/figures', right: 'docket.see' },
  { title: 'Court rules', words: 'rule sets holidays firm practice', to: '/docket/rules', right: 'docket.see' },
  { title: 'File an e-mail', words: 'eml mail attachment message', to: '/papers/mail', right: 'papers.change' },
  { title: 'Words in papers', words: 'search full text documents find', to: '/papers', right: 'papers.see' },
  { title: 'Drafts to read', words: 'review approve papers', to: '/papers/to-read', right: 'papers.see' },
  { title: 'Templates', words: 'docx merge conditions letters', to: '/papers/templates', right: 'papers.see' },
  { title: 'Template fields', words: 'merge formats list', to: '/papers/fields', right: 'papers.see' },
  { title: 'Check for conflicts', words: 'conflict names search', to: '/people/conflicts', right: 'matters.open' },
  { title: 'New enquiry', words: 'enquiry call intake prospective', to: '/people/enquiries?new=1', right: 'people.change' },
  { title: 'Enquiries', words: 'prospective clients calls', to: '/people/enquiries', right: 'people.see' },
  { title: 'Import contacts or matters', words: 'csv vcard import read file', to: '/people/import', right: 'people.change' },
  { title: 'New contact', words: 'person organization people make', to: '/people?new=1', right: 'people.change' },
  { title: 'New pre-bill', words: 'bill unbilled pre-bill', to: '/bills?show=unbilled', right: 'bills.review' },
  { title: 'Review pre-bills', words: 'approve bills pre-bill', to: '/bills', right: 'bills.review' },
  { title: 'Payment received', words: 'check transfer card money in bills pay', to: '/bills?receive=1', right: 'bills.issue' },
  { title: 'Credits of payers', words: 'left over overpaid refund', to: '/bills?show=credits', right: 'bills.see' },
  { title: 'New deposit sheet', words: 'receipt deposit trust sheet', to: '/trust/sheets/new', key: 'D', right: 'trust.post' },
  { title: 'Pay out of trust', words: 'check payment trust', to: '/trust?pay=1', right: 'trust.post' },
  { title: 'Client ledgers', words: 'trust listing balances', to: '/trust', right: 'trust.see' },
  { title: 'Trial balance', words: 'books accounts', to: '/books', right: 'books.see' },
  { title: 'Income by timekeeper', words: 'collected fees income statement', to: '/books?show=income', right: 'books.see' },
  { title: 'Set up the firm', words: 'settings numbering holidays week', to: '/set-up', right: 'firm.set-up' },
  { title: 'People and rates', words: 'set-up staff roles password', to: '/set-up/people', right: 'firm.set-up' },
  { title: 'Leave and departure', words: 'hand over absence vacation leaver', to: '/set-up/leave', right: 'firm.set-up' },
  { title: 'Areas and stages', words: 'set-up practice', to: '/set-up/areas', right: 'firm.set-up' },
  { title: 'Fields', words: 'set-up own fields', to: '/set-up/fields', right: 'firm.set-up' },
  { title: 'Time and phrases', words: 'set-up fields funding sources wordings', to: '/set-up/time', right: 'firm.set-up' },
  { title: 'Folders of papers', words: 'set-up standard', to: '/set-up/folders', right: 'firm.set-up' },
  { title: 'Procedures', words: 'set-up steps editor', to: '/set-up/procedures', right: 'firm.set-up' },
  { title: 'Walls', words: 'screen ethical wall set-up shut out', to: '/set-up/walls', right: 'firm.set-up' },
  { title: 'Log of the firm', words: 'audit who did what history', to: '/set-up/log', right: 'firm.set-up' },
  { title: 'Rights by role', words: 'access permissions set-up', to: '/set-up/rights', right: 'firm.set-up' },
  { title: 'Letterhead', words: 'set-up letters bills foot', to: '/set-up/letterhead', right: 'firm.set-up' },
  { title: 'Letters', words: 'mail server smtp sender e-mail set-up', to: '/set-up/letters', right: 'firm.set-up' },
  { title: 'Reminders of the firm', words: 'notification rules set-up leads', to: '/set-up/reminders', right: 'firm.set-up' },
  { title: 'Accounts', words: 'set-up banks chart check numbers clearing', to: '/set-up/accounts', right: 'firm.set-up' },
  { title: 'In the background', words: 'letters mail jobs failed waiting try again', to: '/set-up/background', right: 'firm.set-up' },
  { title: 'Backups', words: 'restore back up', to: '/set-up/backups', right: 'firm.set-up' },
  { title: 'Receivables by age', words: 'aging owed', to: '/reports', right: 'bills.see' },
]
