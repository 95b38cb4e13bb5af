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
  /** Courts' rules, the firm's own dates on top, and days on which a court is closed: they move dates of every matter. */
  'docket.rules',
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
  'trust.approve',
  'books.see',
  'books.post',
  'firm.set-up',
] as const
export type Right = (typeof rights)[number]

/** What each right allows, in words. */
export const rightWords: Record<Right, string> = {
  'people.see': 'See people and companies',
  'people.change': 'Add and change people, take enquiries',
  'matters.see': 'See matters, each as far as it is open to the person',
  'matters.open': 'Open matters, check conflicts, raise screens',
  'docket.see': 'See dates',
  'docket.change': 'Work out, enter and change dates',
  'docket.rules': 'Change court rules and closed days',
  'tasks.change': 'Give, take and finish tasks',
  'papers.see': 'See papers',
  'papers.change': 'Add and make papers',
  'time.record': 'Record time',
  'costs.record': 'Record costs',
  'bills.see': 'See bills, rates and sums',
  'bills.review': 'Edit and approve pre-bills',
  'bills.issue': 'Issue bills and take payments',
  'trust.see': 'See trust accounts',
  'trust.post': 'Post into trust and pay out',
  'trust.approve': 'Agree to what another asks to have corrected or paid in trust',
  'books.see': 'See the books',
  'books.post': 'Enter journals',
  'firm.set-up': 'Set the firm up: people, rates, lists, walls, log',
}

const file: Right[] = ['people.see', 'matters.see', 'docket.see', 'tasks.change', 'papers.see', 'papers.change']

export const rightsOfRole: Record<Role, readonly Right[]> = {
  administrator: [...file, 'people.change', 'matters.open', 'docket.change', 'docket.rules', 'time.record', 'firm.set-up'],
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
    'trust.approve',
  ],
  paralegal: [...file, 'people.change', 'matters.open', 'docket.change', 'time.record', 'costs.record'],
  'docket clerk': [...file, 'docket.change', 'docket.rules', 'time.record'],
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
    'trust.approve',
    'books.see',
    'books.post',
  ],
  'outside lawyer': ['matters.see', 'docket.see', 'tasks.change', 'papers.see', 'time.record'],
}

/** Who may call a route: anyone, anyone signed in, or whoever has the right. */
/** `mail server`: whatever hands letters over, which shows that it is the one by a secret. */
export type Rule = 'public' | 'mail server' | 'signed in' | Right

/** The parts of a matter to which access is given, each to see or to change. */
export const parts = ['file', 'docket', 'papers', 'money', 'trust'] as const
export type Part = (typeof parts)[number]
/** 0 nothing, 1 see, 2 change. */
export type Grants = Record<Part, number>

export const allParts = (level: number): Grants => ({ file: level, docket: level, papers: level, money: level, trust: level })

/** What someone of a role is given when put on a team, unless chosen otherwise. Rights of the role still bound it. */
export const presetOfRole: Record<Role, Grants> = {
  administrator: allParts(2),
  lawyer: allParts(2),
  paralegal: { file: 2, docket: 2, papers: 2, money: 1, trust: 0 },
  'docket clerk': { file: 2, docket: 2, papers: 2, money: 0, trust: 0 },
  bookkeeper: { file: 1, docket: 1, papers: 1, money: 2, trust: 2 },
  'outside lawyer': { file: 1, docket: 1, papers: 1, money: 0, trust: 0 },
}
