import type { Day } from '../calendar'
import { splitPersonName } from '../people'
import { dayValue, type ValueRecord } from './values'

const sets: Record<string, readonly [string, string, string, string, string, boolean]> = {
  she: ['she', 'her', 'her', 'hers', 'herself', false],
  he: ['he', 'him', 'his', 'his', 'himself', false],
  they: ['they', 'them', 'their', 'theirs', 'themself', true],
  it: ['it', 'it', 'its', 'its', 'itself', false],
}

/** Pronouns of a person's own choice (`she/her`, `ze/zir/zir/zirs/zirself`); they where none was said, it for organizations. */
export function pronounsOf(kind: string, said: string): ValueRecord {
  const words = said.toLowerCase().split('/').map((w) => w.trim()).filter(Boolean) // prettier-ignore
  const own =
    kind === 'organization' && !words.length ? sets['it'] : Object.hasOwn(sets, words[0] ?? 'they') ? sets[words[0] ?? 'they'] : null
  const [they, them, their, theirs, themself, plural] = own ?? [
    words[0]!,
    words[1] ?? words[0]!,
    words[2] ?? words[1] ?? words[0]!,
    words[3] ?? words[2] ?? words[0]!,
    words[4] ?? `${words[1] ?? words[0]!}self`,
    false,
  ]
  return { they, them, their, theirs, themself, plural }
}

/** A contact as the record has it. */
export interface ContactFacts {
  readonly kind: 'person' | 'organization'
  readonly name: string
  readonly greeting: string
  readonly address: string
  readonly email: string
  readonly phone: string
  readonly language: string
  readonly pronouns: string
  readonly bornOn: Day | null
}
/** A contact as templates see it: `{client.family_name}`, `{client.they}`. */
export function contactRecord(c: ContactFacts): ValueRecord {
  const parts = c.kind === 'person' ? splitPersonName(c.name) : null
  return {
    name: c.name,
    given_name: parts?.given ?? '',
    family_name: parts?.family ?? '',
    greeting: c.greeting,
    address: c.address,
    email: c.email,
    phone: c.phone,
    language: c.language,
    pronouns: c.pronouns,
    born_on: dayValue(c.bornOn),
    is_person: c.kind === 'person',
    ...pronounsOf(c.kind, c.pronouns),
  }
}
/** First letters of a name: `NC` of *Noor Calloway*. */
export const initials = (name: string): string => name.split(/[\s-]+/).map((w) => w.charAt(0)).join('') // prettier-ignore
