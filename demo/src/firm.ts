import { demoPassword, startingAccounts, type FirmPlan } from '@heron/server/firm'
import { addDays, addYears, type Day } from '@heron/core/calendar'

const $ = (dollars: number) => dollars * 100

/** Calloway Fenn LLP, as of two years before the day of loading. */
export function firmPlan(begin: Day): FirmPlan {
  const rise = addYears(begin, 1)
  const rates = (before: number, now: number) => [
    { from: '2020-01-01' as const, to: addDays(rise, -1), rate: $(before) },
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
    accounts: [...startingAccounts, { code: '1030', name: 'Separate trust bank, Varga estate', kind: 'asset' }],
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
      {
        name: 'Maritime',
        ruleSet: 'us-federal-civil',
        stages: ['Intake', 'Pleadings', 'Discovery', 'Motions', 'Trial', 'After judgment'],
        procedures: ['Opening a court matter', 'Trial preparation'],
        team: [
          { email: mail('tomas'), role: 'lawyer' },
          { email: mail('billie'), role: 'paralegal' },
        ],
      },
      {
        name: 'Boatyards and small business',
        ruleSet: 'wexmoor-superior',
        stages: ['Intake', 'Advice', 'Pleadings', 'Discovery', 'Trial', 'Settled'],
      },
      {
        name: 'Trade marks',
        ruleSet: null,
        stages: ['Search', 'Application', 'Opposition', 'Registered'],
        procedures: ['Opposition to a mark'],
      },
      {
        name: 'Estates',
        ruleSet: 'wexmoor-probate',
        stages: ['Opening', 'Inventory', 'Claims', 'Accounts', 'Distribution'],
        procedures: ['First ninety days of an estate'],
      },
      { name: 'Wages', ruleSet: 'us-federal-civil', stages: ['Intake', 'Demand', 'Pleadings', 'Discovery', 'Settlement'] },
      {
        name: 'Benefits clinic',
        ruleSet: null,
        stages: ['Intake', 'Application', 'Appeal', 'Closed out'],
        staff: { file: 1, docket: 1, papers: 1, money: 0, trust: 0 },
      },
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
    fees: [
      { name: 'Simple will', area: 'Estates', portions: [{ label: 'Will, drafted and signed', amount: $(950) }] },
      {
        name: 'Application for a mark, one class',
        area: 'Trade marks',
        portions: [
          { label: 'Search and opinion', amount: $(600) },
          { label: 'Application', amount: $(850) },
        ],
      },
      {
        name: 'Forming a small company',
        area: 'Boatyards and small business',
        portions: [
          { label: 'Papers of formation', amount: $(1200) },
          { label: 'First-year minutes', amount: $(400) },
        ],
      },
    ],
    clearing: { check: 5, "cashier's check": 1, cash: 0, wire: 0, card: 2, 'bank debit': 5 },
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
        name: 'Trial preparation',
        description: 'The last three months before a trial',
        area: 'Maritime',
        steps: [
          { text: 'Exhibit list, first draft', to: 'paralegal', date: 'trial', before: true, count: 60, unit: 'calendar' },
          {
            text: 'Witness outlines',
            to: 'lead',
            date: 'trial',
            before: true,
            count: 45,
            unit: 'calendar',
            priority: 'high',
            remindDays: 5,
          },
          { text: 'Serve trial subpoenas', to: 'paralegal', date: 'trial', before: true, count: 30, unit: 'business', priority: 'high' },
          { text: 'Motions in limine', to: 'lead', date: 'trial', before: true, count: 25, unit: 'business', priority: 'high' },
          { text: 'Prepare the client to testify', to: 'given', date: 'trial', before: true, count: 10, unit: 'business', waits: [2] },
          { text: 'Exhibits tabbed and copied', to: 'paralegal', after: 1, done: true, count: 15, unit: 'business', waits: [1] },
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
