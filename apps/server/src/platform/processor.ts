import { createHmac, timingSafeEqual } from 'node:crypto'

export interface Processor {
  /** Where its pages are. */
  url: string
  /** Known to it and to the firm; signs what either hands to the other. */
  secret: string
}
let processor: Processor | null = null
/** The card processor that this server works with; none where there is none. */
export const useProcessor = (p: Processor | null) => void (processor = p)
export const processorInUse = (): Processor | null => processor

export const signature = (secret: string, at: string, payload: string): string =>
  createHmac('sha256', secret).update(`${at}.${payload}`).digest('hex')
/** Whether an event comes from the processor, compared in a time that says nothing of the secret. What is signed for its page is no event. */
export function isSigned(p: Processor, at: string, payload: string, given: string): boolean {
  const due = Buffer.from(signature(p.secret, `event ${at}`, payload))
  const got = Buffer.from(given)
  return due.length === got.length && timingSafeEqual(due, got)
}
