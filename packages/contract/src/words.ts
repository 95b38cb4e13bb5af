import { z } from 'zod'

const listed = (of: readonly unknown[]) => of.map(String).join(', ')

/** What a fault says where its schema has no words of its own: in plain words and with what to do, never the library's. */
z.config({
  // The pages forbid code made from text; a server makes of it what is quicker.
  jitless: typeof window !== 'undefined',
  customError: (issue) => {
    const empty = issue.input === undefined || issue.input === null || issue.input === ''
    switch (issue.code) {
      case 'invalid_type':
        if (issue.expected === 'int') return 'Give a whole number'
        if (empty || Number.isNaN(issue.input)) return issue.expected === 'number' ? 'Give a number' : 'Fill this in'
        return issue.expected === 'number' ? 'Give a number' : 'This cannot be read'
      case 'too_small':
        if (issue.origin === 'string') return issue.minimum === 1 ? 'Fill this in' : `Give at least ${issue.minimum} characters`
        return issue.inclusive === false ? `Give more than ${issue.minimum}` : `Give at least ${issue.minimum}`
      case 'too_big':
        if (issue.origin === 'string') return `Give at most ${Number(issue.maximum).toLocaleString('en-US')} characters`
        return issue.inclusive === false
          ? `Give less than ${Number(issue.maximum).toLocaleString('en-US')}`
          : `Give at most ${Number(issue.maximum).toLocaleString('en-US')}`
      case 'invalid_value':
        return issue.values.length <= 12 ? `Choose one of: ${listed(issue.values)}` : 'Choose one of the list'
      case 'unrecognized_keys':
        return `There is no field of the name ${listed(issue.keys)}`
      default:
        return 'This cannot be read'
    }
  },
})
