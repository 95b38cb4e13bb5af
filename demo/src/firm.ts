import { demoPassword, type FirmPlan } from '@heron/server/firm'
import { addYears, type Day } from '@heron/core/calendar'

const $ = (dollars: number) => dollars * 100

/** Calloway Fenn LLP, as of two years before the day of loading. */
export function firmPlan(begin: Day): FirmPlan {
  const rise = addYears(begin, 1)
  const rates = (before: number, now: number) => [
    { from: '2020-01-01', to: dayBefore(rise), rate: $(before) },
    { from: rise, to: null, rate: $(now) },
  ]
  const mail = (name: string) => `${name}@callowayfenn.example`
  return {
    firm: {
      name: 'Calloway Fenn LLP',
      address: '12 Customs Landing\nHarrow Sound, Wexmoor 04417',
      phone: '(555) 014-2200',
      demo: true,
      district: 'wexmoor',
      trustNoticeDays: 0,
      taxBasisPoints: 0,
    },
    password: demoPassword,
    staff: [
      {
        name: 'Ingrid Calloway',
        initials: 'IC',
        email: mail('ingrid'),
        role: 'lawyer',
        title: 'Managing partner',
        goalHours: 5,
        rates: rates(375, 395),
      },
      {
        name: 'Desmond Fenn',
        initials: 'DF',
        email: mail('desmond'),
        role: 'lawyer',
        title: 'Partner, estates',
        goalHours: 6,
        rates: rates(360, 380),
      },
      {
        name: 'Noor Haddad-Lind',
        initials: 'NH',
        email: mail('noor'),
        role: 'lawyer',
        title: 'Litigation',
        goalHours: 7.5,
        rates: rates(265, 285),
      },
      {
        name: 'Tomas Okafor-Reyes',
        initials: 'TO',
        email: mail('tomas'),
        role: 'lawyer',
        title: 'Associate',
        goalHours: 7.5,
        rates: rates(205, 225),
      },
      {
        name: 'Billie Strand',
        initials: 'BS',
        email: mail('billie'),
        role: 'paralegal',
        title: 'Paralegal',
        goalHours: 6,
        rates: rates(130, 140),
      },
      {
        name: 'Jun Aldana',
        initials: 'JA',
        email: mail('jun'),
        role: 'docket clerk',
        title: 'Docket clerk',
        goalHours: 2,
        rates: rates(105, 110),
      },
      {
        name: 'Orla Petrakis',
        initials: 'OP',
        email: mail('orla'),
        role: 'bookkeeper',
        title: 'Bookkeeper',
        goalHours: 0,
        mayOverride: true,
        rates: [],
      },
      {
        name: 'Sable Whitcombe',
        initials: 'SW',
        email: mail('sable'),
        role: 'outside lawyer',
        title: 'Of counsel',
        goalHours: 2,
        rates: rates(300, 310),
      },
      { name: 'Ferdi Kranz', initials: 'FK', email: mail('ferdi'), role: 'administrator', title: 'Administrator', goalHours: 0, rates: [] },
    ],
    accounts: [
      { code: '1010', name: 'Operating bank', kind: 'asset', role: 'operating bank' },
      { code: '1020', name: 'Pooled trust bank', kind: 'asset', role: 'trust bank' },
      { code: '1030', name: 'Separate trust bank, Varga estate', kind: 'asset' },
      { code: '1100', name: 'Accounts receivable', kind: 'asset', role: 'receivable' },
      { code: '1200', name: 'Work in progress', kind: 'asset', role: 'work in progress' },
      { code: '1210', name: 'Unbilled fees (contra)', kind: 'asset', role: 'unbilled fees' },
      { code: '1300', name: 'Client costs advanced', kind: 'asset', role: 'costs advanced' },
      { code: '1310', name: 'Firm money in trust for bank charges', kind: 'asset', role: 'firm money in trust' },
      { code: '2010', name: 'Owed to clients, pooled trust', kind: 'liability', role: 'trust liability' },
      { code: '2020', name: 'Owed to clients, separate trust', kind: 'liability' },
      { code: '2200', name: 'Client credits', kind: 'liability', role: 'client credits' },
      { code: '2300', name: 'Tax payable', kind: 'liability', role: 'tax payable' },
      { code: '3010', name: 'Partners’ equity', kind: 'equity', role: 'equity' },
      { code: '3900', name: 'Opening clearing', kind: 'equity', role: 'opening clearing' },
      { code: '4010', name: 'Fees', kind: 'income', role: 'fees' },
      { code: '4100', name: 'Costs recovered', kind: 'income', role: 'costs recovered' },
      { code: '5010', name: 'Salaries', kind: 'expense' },
      { code: '5020', name: 'Rent', kind: 'expense' },
      { code: '5030', name: 'Insurance', kind: 'expense' },
      { code: '5040', name: 'Research and subscriptions', kind: 'expense' },
      { code: '5900', name: 'Bank charges', kind: 'expense', role: 'bank charges' },
    ],
    banks: [
      { name: 'Operating', kind: 'operating', bank: 'Wexmoor Savings', ending: '2208', gl: '1010', nextCheck: 5001 },
      {
        name: 'Pooled client trust',
        kind: 'pooled',
        bank: 'Wexmoor Savings',
        ending: '4471',
        gl: '1020',
        liability: '2010',
        nextCheck: 2001,
      },
      {
        name: 'Separate trust, Varga estate',
        kind: 'separate',
        bank: 'Harrow Mutual',
        ending: '9016',
        gl: '1030',
        liability: '2020',
        nextCheck: 101,
      },
    ],
    areas: [
      { name: 'Maritime', ruleSet: 'us-federal-civil', stages: ['Intake', 'Pleadings', 'Discovery', 'Motions', 'Trial', 'After judgment'] },
      {
        name: 'Boatyards and small business',
        ruleSet: 'wexmoor-superior',
        stages: ['Intake', 'Advice', 'Pleadings', 'Discovery', 'Trial', 'Settled'],
      },
      { name: 'Trade marks', ruleSet: null, stages: ['Search', 'Application', 'Opposition', 'Registered'] },
      { name: 'Estates', ruleSet: 'wexmoor-probate', stages: ['Opening', 'Inventory', 'Claims', 'Accounts', 'Distribution'] },
      { name: 'Wages', ruleSet: 'us-federal-civil', stages: ['Intake', 'Demand', 'Pleadings', 'Discovery', 'Settlement'] },
      { name: 'Benefits clinic', ruleSet: null, stages: ['Intake', 'Application', 'Appeal', 'Closed out'] },
      { name: 'Aquaculture', ruleSet: 'wexmoor-superior', stages: ['Permits', 'Advice', 'Pleadings', 'Hearing'] },
    ],
    activities: [
      { code: 'A101', name: 'Plan and prepare' },
      { code: 'A102', name: 'Research' },
      { code: 'A103', name: 'Draft and revise' },
      { code: 'A104', name: 'Review and analyze' },
      { code: 'A105', name: 'Confer within the firm' },
      { code: 'A106', name: 'Confer with client' },
      { code: 'A107', name: 'Confer with other counsel' },
      { code: 'A109', name: 'Appear and attend' },
    ],
    clearing: { check: 5, "cashier's check": 1, cash: 0, wire: 0, card: 2 },
    procedures: [
      {
        name: 'Opening a court matter',
        description: 'From the first call to a served complaint or answer',
        area: null,
        steps: [
          { text: 'Send engagement letter for signature', to: 'paralegal', count: 0, unit: 'business', priority: 'high' },
          { text: 'Ask for the deposit into trust', to: 'paralegal', after: 1, count: 1, unit: 'business' },
          { text: 'Send the notice to keep evidence', to: 'lead', count: 2, unit: 'business', priority: 'high' },
          { text: 'Collect documents from the client', to: 'paralegal', after: 1, count: 7, unit: 'calendar' },
          { text: 'Review intake answers', to: 'lead', after: 4, count: 2, unit: 'business' },
          { text: 'Work out dates from the first paper', to: 'starter', count: 1, unit: 'business', priority: 'high' },
          { text: 'Budget and first report to the client', to: 'lead', after: 5, count: 5, unit: 'business' },
        ],
      },
      {
        name: 'Opposition to a mark',
        description: 'Watching, opposing and settling a conflicting application',
        area: 'Trade marks',
        steps: [
          { text: 'Order full search', to: 'paralegal', count: 0, unit: 'business' },
          { text: 'Compare classes and goods', to: 'lead', after: 1, count: 5, unit: 'business' },
          { text: 'Draft notice of opposition', to: 'lead', after: 2, count: 3, unit: 'business', priority: 'high' },
          { text: 'Client approves the notice', to: 'paralegal', after: 3, count: 2, unit: 'business' },
          { text: 'File the notice', to: 'paralegal', after: 4, count: 1, unit: 'business', priority: 'high' },
        ],
      },
      {
        name: 'First ninety days of an estate',
        description: 'From letters to the inventory',
        area: 'Estates',
        steps: [
          { text: 'Order certified copies of the death certificate', to: 'paralegal', count: 0, unit: 'business' },
          { text: 'Send notice to heirs', to: 'paralegal', count: 10, unit: 'calendar', priority: 'high' },
          { text: 'Open the estate account', to: 'starter', count: 3, unit: 'business' },
          { text: 'Ask banks for balances on the day of death', to: 'paralegal', after: 3, count: 5, unit: 'business' },
          { text: 'Draft the inventory', to: 'lead', after: 4, count: 45, unit: 'calendar' },
        ],
      },
    ],
  }
}

function dayBefore(day: Day): Day {
  return new Date(Date.parse(`${day}T00:00:00Z`) - 86_400_000).toISOString().slice(0, 10)
}
