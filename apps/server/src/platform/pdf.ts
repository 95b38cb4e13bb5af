import type { PdfTasks, PlainDocument } from './pdf-apart/thread'
import { threadPool } from './threads'
import type { FirmHead } from './queries'

const apart = threadPool<PdfTasks>({
  module: new URL('./pdf-apart/thread.ts', import.meta.url),
  atOnce: 2,
  mostWaiting: 200,
  longestMs: () => 60_000,
  memoryMb: 1024,
  lost: 'This is too long for one PDF. Narrow it, or take it as CSV.',
  full: 'Very many PDFs are being made just now. Try again in a moment.',
})

/** Lays a document out as PDF with the fonts that ship with the application, on a thread of its own. */
export const makePdf = async (document: PlainDocument): Promise<Buffer> => Buffer.from(await apart('pdf', document))

/** The head of the first page. */
export const headOf = (firm: FirmHead) => ({
  stack: [
    { text: firm.name, style: 'firm' },
    ...[firm.line, firm.address, firm.phone, [firm.email, firm.web].filter(Boolean).join(' · ')]
      .filter(Boolean)
      .map((text) => ({ text, style: 'small' })),
  ],
})

/** The foot of every page: the firm's line, then what the paper says of the page, with `{page}` and `{pages}` in it. */
export const footOf = (firm: FirmHead, words: string) => ({ line: firm.foot ?? '', words })
