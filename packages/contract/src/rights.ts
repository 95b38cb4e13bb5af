export const roles = ['administrator', 'lawyer', 'paralegal', 'docket clerk', 'bookkeeper', 'outside lawyer'] as const
export type Role = (typeof roles)[number]

/** What a role may do at all; which matters it may do it on is decided per row. */
export const rights = [
  'people.see',
  'people.change',
  'matters.see',
  'matters.open',
  'docket.see',
  'docket.change',
  'tasks.change',
  'papers.see',
  'papers.change',
  'time.record',
  'costs.record',
  'bills.see',
  'bills.review',
  'bills.issue',
  'trust.see',
  'trust.post',
  'books.see',
  'books.post',
  'firm.set-up',
] as const
export type Right = (typeof rights)[number]

const file: Right[] = ['people.see', 'matters.see', 'docket.see', 'tasks.change', 'papers.see', 'papers.change']

export const rightsOfRole: Record<Role, readonly Right[]> = {
  administrator: [...file, 'people.change', 'matters.open', 'docket.change', 'time.record', 'firm.set-up'],
  lawyer: [
    ...file,
    'people.change',
    'matters.open',
    'docket.change',
    'time.record',
    'costs.record',
    'bills.see',
    'bills.review',
    'trust.see',
  ],
  paralegal: [...file, 'people.change', 'matters.open', 'docket.change', 'time.record', 'costs.record'],
  'docket clerk': [...file, 'docket.change', 'time.record'],
  bookkeeper: [
    'people.see',
    'people.change',
    'matters.see',
    'tasks.change',
    'papers.see',
    'costs.record',
    'bills.see',
    'bills.review',
    'bills.issue',
    'trust.see',
    'trust.post',
    'books.see',
    'books.post',
  ],
  'outside lawyer': ['matters.see', 'docket.see', 'tasks.change', 'papers.see', 'time.record'],
}

/** Who may call a route: anyone, anyone signed in, or whoever has the right. */
export type Rule = 'public' | 'signed in' | Right
