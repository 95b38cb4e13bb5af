/** A matter of the demo firm: client, name, short name, area, lead, adverse party, and what follows its opening. */
export interface MatterPlan {
  client: string
  name: string
  short: string
  area: string
  lead: string
  adverse?: string
  side?: string
  caseNumber?: string
  description: string
  flat?: [label: string, dollars: number][]
  /** Days before the day of loading on which it was opened. */
  age: number
  closedAfter?: number
  /** Where it stands on the day of loading; the stages before it were gone through at even intervals. */
  stage?: string
  outside?: boolean
  /** Bears 60 % of the bills. */
  insurer?: string
  /** How much is worked on it, against 1. */
  weight: number
  /** Dollars of the first deposit into trust; 0 for none. */
  deposit: number
}

const m = (
  client: string,
  name: string,
  short: string,
  area: string,
  lead: string,
  age: number,
  weight: number,
  deposit: number,
  description: string,
  more: Partial<MatterPlan> = {},
): MatterPlan => ({ client, name, short, area, lead, age, weight, deposit, description, ...more })

const N = 'Noor Haddad-Lind'
const T = 'Tomas Okafor-Reyes'
const D = 'Desmond Fenn'
const I = 'Ingrid Calloway'

/** Matters told one by one, because screens and tests speak of them. */
const told: MatterPlan[] = [
  m(
    'Gannet Ferry Cooperative',
    'Gannet Ferry Cooperative v. Corvane Towing Co.',
    'Gannet Ferry v. Corvane',
    'Maritime',
    N,
    320,
    3,
    15000,
    'claims for the collision of the ferry Gannet with a tow at Harrow Narrows',
    { adverse: 'Corvane Towing Co.', side: 'plaintiff', caseNumber: '2:26-cv-00381', stage: 'Discovery', outside: true },
  ),
  m(
    'Brinewell Oyster Co.',
    'Brinewell Oyster Co. v. Pellan Shores Development',
    'Brinewell Oyster v. Pellan',
    'Maritime',
    N,
    260,
    2.4,
    10000,
    'trespass on leased oyster grounds and the boundary of the tidal land',
    { adverse: 'Pellan Shores Development', side: 'plaintiff', caseNumber: '2:26-cv-00412', stage: 'Pleadings' },
  ),
  m(
    'Tidecrest Boatyard',
    'Tidecrest Boatyard adv. Munro',
    'Tidecrest adv. Munro',
    'Boatyards and small business',
    N,
    210,
    1.6,
    7500,
    'defense of a claim over the refit of the ketch Morning Lark',
    { adverse: 'Giles Munro', side: 'defendant', caseNumber: 'HS-CV-26-1180', stage: 'Discovery', insurer: 'Brackwater Insurance' },
  ),
  m(
    'Pilar Ostergaard',
    'Ostergaard v. Harrow Sound Pilots',
    'Ostergaard v. Pilots',
    'Maritime',
    N,
    500,
    1.8,
    8000,
    'injury of a deckhand and wages until the end of the voyage',
    { adverse: 'Harrow Sound Pilots', side: 'plaintiff', caseNumber: '2:25-cv-00207', stage: 'After judgment' },
  ),
  m(
    'Hollin & Rye Brewing',
    'Opposition to the mark TIDE RYE',
    'TIDE RYE opposition',
    'Trade marks',
    T,
    40,
    1.1,
    2500,
    'the opposition to the application for TIDE RYE in class 33',
    { adverse: 'Tyde Rye Distillers Ltd', side: 'opposer', stage: 'Opposition' },
  ),
  m(
    'Estate of Anton Varga',
    'Estate of Anton Varga',
    'Estate of A. Varga',
    'Estates',
    D,
    150,
    1.6,
    12000,
    'the administration of the estate from letters to distribution',
    { side: 'personal representative', caseNumber: 'HS-PR-26-0214', stage: 'Claims' },
  ),
  m(
    'Tidecrest Boatyard',
    'Tidecrest Boatyard adv. Oduya Marine Engines',
    'Tidecrest adv. Oduya',
    'Boatyards and small business',
    N,
    700,
    1,
    5000,
    'defense of a supplier’s claim for two engines',
    { adverse: 'Oduya Marine Engines', side: 'defendant', stage: 'Settled', closedAfter: 420 },
  ),
  m(
    'Hollin & Rye Brewing',
    'Registration of HOLLIN & RYE',
    'HOLLIN & RYE mark',
    'Trade marks',
    T,
    600,
    0.4,
    0,
    'the registration of the house mark in classes 32 and 43',
    {
      flat: [
        ['Search and opinion', 950],
        ['Application in two classes', 1450],
      ],
      closedAfter: 400,
    },
  ),
  m(
    'Hollin & Rye Brewing',
    'Lease of the Malthouse',
    'Malthouse lease',
    'Boatyards and small business',
    I,
    300,
    0.7,
    3000,
    'the lease of the brewery’s second house',
  ),
]

const areasOfMore: [area: string, lead: string, names: string[], words: string][] = [
  ['Maritime', N, ['salvage award', 'charter dispute', 'cargo claim'], 'a dispute before the federal court over'],
  ['Boatyards and small business', T, ['supply agreement', 'shareholders’ agreement', 'unpaid invoices'], 'advice and, if needed, suit on'],
  ['Aquaculture', I, ['lease of grounds', 'discharge permit'], 'the permit and its hearing for'],
  ['Estates', D, ['will and trust', 'guardianship'], 'the planning and papers of'],
  ['Wages', T, ['overtime claim', 'final wages'], 'a claim for pay over'],
  ['Benefits clinic', T, ['disability appeal', 'housing benefit'], 'help before the agency with'],
  ['Trade marks', T, ['mark search', 'license of the mark'], 'protection of the name in'],
]
const adverseOfMore = ['Coldharbor Freight', 'Dacre & Sons Builders', 'Ilse Vandermeer', 'Bright Cove Resorts', 'Ansel Provisioning']

/** The matters that are told one by one and enough others to fill an office. */
export function matterPlans(clients: readonly string[], count: number): MatterPlan[] {
  const more: MatterPlan[] = []
  for (let i = 0; told.length + more.length < count; i += 1) {
    const client = clients[(i * 7 + 6) % clients.length]!
    const [area, lead, names, words] = areasOfMore[i % areasOfMore.length]!
    const thing = names[Math.floor(i / areasOfMore.length) % names.length]!
    const clinic = area === 'Benefits clinic'
    const contested = !clinic && area !== 'Estates' && i % 3 !== 1
    const flat = area === 'Trade marks' || (area === 'Estates' && i % 2 === 0)
    more.push({
      client,
      name: `${client}, ${thing}`,
      short: `${client
        .replace(/^Estate of /, '')
        .split(' ')
        .slice(0, client.includes(' & ') ? 3 : 2)
        .join(' ')}, ${thing}`.slice(0, 60),
      area,
      lead,
      description: `${words} ${thing}`,
      age: 30 + ((i * 83) % 690),
      weight: clinic ? 0.3 : 0.35 + ((i * 37) % 60) / 100,
      deposit: clinic || flat ? 0 : 1500 + ((i * 13) % 9) * 500,
      ...(contested ? { adverse: adverseOfMore[i % adverseOfMore.length]!, side: i % 2 ? 'defendant' : 'plaintiff' } : {}),
      ...(flat
        ? {
            flat: [
              ['First stage', 900 + (i % 5) * 150],
              ['On completion', 600 + (i % 4) * 100],
            ] as [string, number][],
          }
        : {}),
      ...(i % 4 === 3 ? { closedAfter: 120 + ((i * 29) % 200) } : {}),
    })
  }
  return [...told, ...more].sort((a, b) => b.age - a.age)
}

/** Wordings of time entries by activity, as busy people write them. */
export const work: readonly [activity: string, text: string][] = [
  ['A106', 'Call with client on next steps'],
  ['A103', 'Draft letter to opposing counsel'],
  ['A104', 'Review documents from client'],
  ['A102', 'Research: limits of liability, memorandum'],
  ['A103', 'Revise draft and send for comments'],
  ['A107', 'Correspondence with opposing counsel on dates'],
  ['A101', 'Prepare for meeting; outline of questions'],
  ['A104', 'Review production, first half'],
  ['A103', 'Draft requests and instructions'],
  ['A105', 'Confer with B. Strand on exhibits'],
  ['A109', 'Attend conference with the court'],
  ['A102', 'Research: burden of proof, recent decisions'],
  ['A106', 'Meet client at the yard; photographs'],
  ['A104', 'Analyze survey and tide tables'],
  ['A103', 'Draft declaration and gather exhibits'],
  ['A101', 'Organize file and index of exhibits'],
]
