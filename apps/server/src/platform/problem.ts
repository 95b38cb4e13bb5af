import type { RefusalCode } from '@heron/contract'
import { OutOfBounds } from '@heron/core/calendar'
import { QueryFailedError } from 'typeorm'

/** What went wrong, in words for the person who acts; becomes an RFC 9457 problem document. */
export class Problem extends Error {
  constructor(
    readonly status: number,
    readonly code: string,
    message: string,
    readonly fields: { path: string; message: string }[] = [],
  ) {
    super(message)
  }
}

export const notFound = (what: string) => new Problem(404, 'not-found', `There is no such ${what}, or it is not open to you.`)
/** Refuses what was understood; every code stands in the contract's list, and says in a sentence what to do. */
export const refused = (code: RefusalCode, message: string) => new Problem(409, code, message)
export const fieldFault = (path: string, message: string) => new Problem(400, 'invalid', message, [{ path, message }])

interface DriverError {
  errno?: number
  sqlMessage?: string
}
export const errno = (error: unknown): number | undefined =>
  error instanceof QueryFailedError ? (error.driverError as DriverError).errno : (error as DriverError | null)?.errno

/** Turns what the database refuses by rule into the sentence of that rule; other errors stay as they are. */
export function fromDatabase(error: unknown): unknown {
  const message = error instanceof QueryFailedError ? ((error.driverError as DriverError).sqlMessage ?? '') : ''
  switch (errno(error)) {
    case 4025:
      return message.includes('ledger_never_below_zero')
        ? refused('ledger-below-zero', 'A client ledger would close a day below zero. Nothing was posted.')
        : /_sensible/.test(message)
          ? new Problem(400, 'too-large', 'An amount is larger than can be kept. Check the amounts.')
          : error
    case 3101:
      return refused('period-closed', 'The books are closed for that date. Date it in an open period.')
    case 3100:
    case 3102:
      return refused('already-posted', 'What is posted is never changed. Reverse or correct it.')
    case 3105:
      return refused('already-posted', 'This payment stands otherwise by now. Reload it.')
    case 3106:
      return refused('no-issued-bill', 'Trust money goes to the firm only against issued bills, to the cent. Nothing was posted.')
    case 3107:
      return refused('other-clients-money', 'A bill is paid only from the ledger of its own payer, for its own matter. Nothing was posted.')
    case 3108:
      return refused('unidentified-money', 'Money whose owner is not known cannot be spent. Nothing was posted.')
    case 3109:
      return refused('money-not-cleared', 'Money that has not cleared is spent only on the word of someone authorized. Nothing was posted.')
    case 3112:
      return refused('month-closed', 'This month of the account is reconciled and closed. Date it in an open month, or correct it there.')
    case 3113:
      return refused('other-clients-money', 'One client’s money is not another’s. Nothing was posted.')
    case 3115:
      return refused('needs-approval', 'This account asks for two people: keep it as a draft, and have somebody else approve it.')
    case 3114:
      return refused('separate-other-client', 'This separate account holds one client’s money. Take another account. Nothing was posted.')
    case 3110:
    case 3111:
      return refused('changed-meanwhile', 'Something was paid or credited meanwhile. Reload and look again; nothing was posted.')
    case 1452:
      return new Problem(400, 'unknown-record', 'Something named here is not on record any more. Reload the page and choose it again.')
    case 1264:
    case 1406:
    case 1690:
      return new Problem(400, 'too-large', 'A value is larger than can be kept. Check amounts, numbers and long texts.')
    case 1969:
    case 3024:
      return new Problem(503, 'too-slow', 'This took too long and was stopped, so that others are not held up. Ask for less at once.')
    default:
      return error
  }
}

/** What an error of any kind says to the person who acts, or null where it is a fault of the program's own. */
export function problemIn(error: unknown): Problem | null {
  if (error instanceof OutOfBounds) return new Problem(400, 'out-of-bounds', `${error.message}. Check the date or the number.`)
  const told = fromDatabase(error)
  return told instanceof Problem ? told : null
}
