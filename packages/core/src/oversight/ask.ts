import { addDays, addMonths, dayOf, parts, readDay, type Day } from '../calendar'
import { readMoney, type Cents } from '../money'
import { monthOf, weekOf } from './weeks'

/** A question by words, understood. Names are looked up by whoever answers. */
export type Question =
  | { is: 'hours' | 'worked' | 'billed' | 'collected'; who: string; from: Day; to: Day; span: string }
  | { is: 'owed' | 'unbilled' | 'trust'; who: string }
  | { is: 'trust below' | 'owed above' | 'unbilled above'; amount: Cents }

/** The forms in which is asked, as they are documented; nothing else is understood, and nothing is guessed. */
export const questionForms = [
  { form: 'hours [name] [span]', example: 'hours noor last month', says: 'Hours recorded by a timekeeper, or by all' },
  { form: 'worked, billed or collected [name] [span]', example: 'billed noor this year', says: 'Fees of a timekeeper, or of all' },
  { form: 'owed [client]', example: 'owed gannet', says: 'What is open on the bills of a client' },
  { form: 'unbilled [client]', example: 'unbilled gannet', says: 'Work and costs of a client that wait to be billed' },
  { form: 'trust [client]', example: 'trust gannet', says: 'What is held in trust for a client' },
  { form: 'trust below [amount]', example: 'trust below 2000', says: 'Open matters with less in trust than that' },
  { form: 'owed above [amount], unbilled above [amount]', example: 'owed above 5000', says: 'Matters on which more is open, or waits' },
] as const

const spans: Record<string, (today: Day, endsOn: number) => { from: Day; to: Day }> = {
  today: (t) => ({ from: t, to: t }),
  yesterday: (t) => ({ from: addDays(t, -1), to: addDays(t, -1) }),
  'this week': (t, e) => ({ from: weekOf(t, e).from, to: t }),
  'last week': (t, e) => weekOf(addDays(t, -7), e),
  'this month': (t) => ({ from: monthOf(t).from, to: t }),
  'last month': (t) => monthOf(addMonths(monthOf(t).from, -1)),
  'this year': (t) => ({ from: dayOf(parts(t)[0], 1, 1), to: t }),
  'last year': (t) => ({ from: dayOf(parts(t)[0] - 1, 1, 1), to: dayOf(parts(t)[0] - 1, 12, 31) }),
}
const monthNames = [
  'january',
  'february',
  'march',
  'april',
  'may',
  'june',
  'july',
  'august',
  'september',
  'october',
  'november',
  'december',
]

/** A span at the end of words, and the words before it; this month where none is said. */
function spanAtEnd(words: readonly string[], today: Day, endsOn: number): { rest: string[]; from: Day; to: Day; span: string } {
  for (const n of [2, 1]) {
    if (words.length < n) continue
    const said = words.slice(-n).join(' ')
    const rest = words.slice(0, -n)
    const own = Object.hasOwn(spans, said) ? spans[said] : undefined
    if (own) return { rest, ...own(today, endsOn), span: said }
    const [first = '', second] = words.slice(-n)
    const month = monthNames.findIndex((m) => first === m || first === m.slice(0, 3))
    const [year, thisMonth] = parts(today)
    // A month alone is the last one of that name that has begun; with its year it is that one.
    if (month >= 0 && n === 1) return { rest, ...monthOf(dayOf(month + 1 > thisMonth ? year - 1 : year, month + 1, 1)), span: said }
    if (month >= 0 && n === 2 && /^(19|20|21)\d\d$/.test(second!))
      return { rest, ...monthOf(dayOf(Number(second), month + 1, 1)), span: said }
    if (n === 1 && /^(19|20|21)\d\d$/.test(said))
      return { rest, from: dayOf(Number(said), 1, 1), to: dayOf(Number(said), 12, 31), span: said }
    const since = n === 2 && first === 'since' ? readDay(second!, today) : null
    if (since && since <= today) return { rest, from: since, to: today, span: said }
  }
  return { rest: [...words], ...spans['this month']!(today, endsOn), span: 'this month' }
}

/**
 * Reads a question of at most 80 characters in one of the documented forms; null for anything else. `endsOn` is the weekday on which
 * the firm's week ends. A question without a name is about all; one about money of a client needs a name.
 */
export function readQuestion(text: string, today: Day, endsOn: number): Question | null {
  if (text.length > 80) return null
  const [first = '', ...rest] = text.trim().toLowerCase().replace(/\?$/, '').split(/\s+/).filter(Boolean)
  if (first === 'hours' || first === 'worked' || first === 'billed' || first === 'collected') {
    const { rest: who, ...span } = spanAtEnd(rest, today, endsOn)
    return { is: first, who: who.join(' '), ...span }
  }
  if (first !== 'owed' && first !== 'unbilled' && first !== 'trust') return null
  const limit = first === 'trust' ? 'below' : 'above'
  if (rest[0] === limit) {
    const amount = rest.length === 2 ? readMoney(rest[1]!) : null
    return amount === null || amount < 0 ? null : ({ is: `${first} ${limit}`, amount } as Question)
  }
  return rest.length ? { is: first, who: rest.join(' ') } : null
}
