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
export const refused = (code: string, message: string) => new Problem(409, code, message)
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
        : error
    case 3101:
      return refused('period-closed', 'The books are closed for that date. Date it in an open period.')
    case 3100:
    case 3102:
      return refused('already-posted', 'What is posted is never changed. Reverse or correct it.')
    default:
      return error
  }
}
