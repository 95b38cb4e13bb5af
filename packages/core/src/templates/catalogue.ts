import { spellingDistance } from '../people'

export type SpecType = 'text' | 'number' | 'money' | 'day' | 'yes/no' | 'list' | 'record'
/** A field that templates may use. A list says what each of its items has, a record what it has itself. */
export interface FieldSpec {
  name: string
  label: string
  type: SpecType
  fields?: readonly FieldSpec[]
  /** Where only these values make sense, for questions and comparisons. */
  choices?: readonly string[]
}

const text = (name: string, label: string): FieldSpec => ({ name, label, type: 'text' })
const of =
  (type: SpecType) =>
  (name: string, label: string, fields?: readonly FieldSpec[]): FieldSpec =>
    fields ? { name, label, type, fields } : { name, label, type }
const [day, amount, yes, number, list, record] = [of('day'), of('money'), of('yes/no'), of('number'), of('list'), of('record')]

const pronouns = [
  text('they', 'Pronoun: she, he, they, it'),
  text('them', 'Pronoun: her, him, them, it'),
  text('their', 'Pronoun: her, his, their, its'),
  text('theirs', 'Pronoun: hers, his, theirs, its'),
  text('themself', 'Pronoun: herself, himself, themself, itself'),
  yes('plural', 'Whether the verb is plural (they are)'),
]
/** What is known of a person or an organization. */
const contact: readonly FieldSpec[] = [
  text('name', 'Name'),
  text('given_name', 'Given name'),
  text('family_name', 'Family name'),
  text('greeting', 'Greeting in letters'),
  text('address', 'Address'),
  text('email', 'E-mail'),
  text('phone', 'Phone'),
  text('language', 'Language for letters'),
  text('pronouns', 'Pronouns, such as she/her'),
  day('born_on', 'Date of birth'),
  yes('is_person', 'Is a person, not an organization'),
  ...pronouns,
]

/** The firm's own fields and a template's own questions, under the names by which templates use them. */
export interface OwnFields {
  client: readonly FieldSpec[]
  matter: readonly FieldSpec[]
  answers: readonly FieldSpec[]
  /** Names without a path under which templates made before use the firm's own fields. */
  older?: readonly FieldSpec[]
}

/** All fields that templates may use, as people see them. */
export function fieldTree(own: OwnFields = { client: [], matter: [], answers: [] }): readonly FieldSpec[] {
  const client = record('client', 'Client', [...contact, record('fields', 'The firm’s own fields of the client', own.client)])
  const party = [
    ...contact,
    text('role', 'Role in the matter'),
    text('side', 'Side'),
    yes('served', 'Served'),
    day('served_on', 'Served on'),
    record('counsel', 'Counsel', contact),
  ]
  const line = [day('day', 'Day'), text('text', 'Text'), amount('amount', 'Amount')]
  return [
    day('today', 'Day of the paper'),
    record('firm', 'Firm', [
      text('name', 'Name'),
      text('address', 'Address'),
      text('phone', 'Phone'),
      text('email', 'E-mail'),
      text('contact_line', 'Line under the letterhead'),
    ]),
    client,
    list('clients', 'All clients of the matter', contact),
    record('matter', 'Matter', [
      text('number', 'Number'), text('second_number', 'Second number'), text('name', 'Name'), text('short_name', 'Short name'), text('description', 'What the firm is engaged to do'),
      text('area', 'Practice area'), text('stage', 'Stage'), day('opened_on', 'Opened on'), day('closed_on', 'Closed on'), text('billing', 'Billed hourly or flat'),
      yes('hourly', 'Billed by the hour'), yes('flat', 'Billed by a flat fee'), yes('contingent', 'Billed by a contingent fee'), amount('flat_fee', 'Flat fee'), amount('deposit', 'Deposit into trust asked for'), number('contingency', 'Contingent fee in percent'),
      record('fields', 'The firm’s own fields of the matter', own.matter),
    ]), // prettier-ignore
    record('court', 'Court', [
      text('name', 'Name'),
      text('judge', 'Judge'),
      text('case_number', 'Case number'),
      text('caption', 'Parties as in the caption'),
    ]),
    record('lead', 'Lead lawyer', [text('name', 'Name'), text('title', 'Title'), text('email', 'E-mail'), text('initials', 'Initials')]),
    record('me', 'Who makes the paper', [
      text('name', 'Name'),
      text('title', 'Title'),
      text('email', 'E-mail'),
      text('initials', 'Initials'),
    ]),
    list('team', 'Team with rates', [
      text('name', 'Name'),
      text('role', 'Title'),
      text('email', 'E-mail'),
      amount('rate', 'Rate by the hour'),
      yes('keeps', 'Keeps the matter'),
    ]),
    list('parties', 'Parties', party),
    list('our_side', 'Parties on the client’s side', party),
    list('other_side', 'Parties on the other side', party),
    record('person', 'The person chosen for this paper', [...party]),
    list('bills', 'Bills of the matter', [
      text('number', 'Number'),
      day('issued_on', 'Issued on'),
      day('due_on', 'Due on'),
      amount('total', 'Total'),
      amount('open', 'Open'),
    ]),
    list('costs', 'Costs chosen for this paper', line),
    list('time', 'Time entries chosen for this paper', [...line, text('by', 'Timekeeper'), number('hours', 'Hours')]),
    amount('costs_total', 'Sum of the costs chosen'),
    amount('time_total', 'Sum of the time chosen'),
    record('money', 'Money of the matter', [
      amount('open', 'Open on bills'),
      amount('held', 'Held in trust'),
      amount('unbilled', 'Unbilled work and costs'),
    ]),
    list('dates', 'Open dates of the docket', [
      text('title', 'Title'),
      day('day', 'Day'),
      text('text', 'Full text'),
      text('authority', 'Authority'),
      text('time', 'Hour'),
    ]),
    record('answers', 'Answers to the template’s own questions', own.answers),
    ...(own.older ?? []),
  ]
}

/** Older names of fields, which templates made before still use. */
export const olderNames: Readonly<Record<string, string>> = {
  firm_name: 'firm.name', firm_address: 'firm.address', client_name: 'client.name', client_address: 'client.address', client_greeting: 'client.greeting',
  matter_name: 'matter.name', matter_number: 'matter.number', matter_description: 'matter.description', lead_lawyer: 'lead.name',
  hourly: 'matter.hourly', flat_fee: 'matter.flat_fee', deposit: 'matter.deposit',
} // prettier-ignore

/** A name for templates made of a name that people gave: small letters, digits and underscores. */
export function fieldKey(name: string): string {
  const words = name
    .normalize('NFKD')
    .replaceAll(/\p{M}/gu, '')
    .toLowerCase()
    .split(/[^\p{L}\d]+/u)
    .filter(Boolean)
  const plain = words.join('_').slice(0, 60)
  return /^\d/.test(plain) ? `_${plain}` : plain || 'field'
}

export interface KnownField {
  path: string
  label: string
  type: SpecType
  /** The list in which it stands, where it belongs to one's items. */
  within: string | null
}
/** Every field by its path, lists with what their items have. */
export function allFields(tree: readonly FieldSpec[]): KnownField[] {
  const out: KnownField[] = []
  const add = (fields: readonly FieldSpec[], before: string, labels: string, within: string | null) => {
    for (const f of fields) {
      const path = before ? `${before}.${f.name}` : f.name
      const label = labels ? `${labels}: ${f.label}` : f.label
      if (f.type !== 'record') out.push({ path, label, type: f.type, within })
      if (f.type === 'record') add(f.fields ?? [], path, label, within)
      if (f.type === 'list') add(f.fields ?? [], singular(f.name), label, path)
    }
  }
  add(tree, '', '', null)
  return out
}
const singulars: Readonly<Record<string, string>> = {
  parties: 'party',
  our_side: 'party',
  other_side: 'party',
  team: 'member',
  time: 'entry',
  costs: 'cost',
}
/** How one of a list is called where nothing else is said: `party` of parties. */
export const singular = (name: string): string => singulars[name] ?? (name.endsWith('s') ? name.slice(0, -1) : `one_${name}`)

/** The nearest of known names, by spelling and by its last part; null where none is near. */
export function nearestName(name: string, known: readonly string[]): string | null {
  const low = name.toLowerCase()
  const end = low.split('.').at(-1)!
  let best: { name: string; off: number } | null = null
  for (const k of known) {
    const kl = k.toLowerCase()
    const off =
      kl === low
        ? 0
        : Math.min(
            spellingDistance(low, kl, 6),
            end.length > 3 && kl.split('.').at(-1) === end ? 2 : 99,
            low.replaceAll(/[._]/g, '') === kl.replaceAll(/[._]/g, '') ? 1 : 99,
          )
    if (off <= Math.max(2, Math.floor(low.length / 3)) && (!best || off < best.off)) best = { name: k, off }
  }
  return best?.name ?? null
}
