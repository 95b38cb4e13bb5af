import { spawn } from 'node:child_process'
import { mkdtemp, readFile, rm, writeFile } from 'node:fs/promises'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { Problem } from '../platform/problem'

const timeLimit = 60_000
let queue: Promise<unknown> = Promise.resolve()

/** Turns a DOCX into a PDF with LibreOffice, one at a time, each with a profile of its own that is thrown away. */
export function pdfOfDocx(docx: Uint8Array): Promise<Buffer> {
  const next = queue.then(() => convert(docx))
  queue = next.catch(() => undefined)
  return next
}

async function convert(docx: Uint8Array): Promise<Buffer> {
  const folder = await mkdtemp(join(tmpdir(), 'heron-office-'))
  try {
    const source = join(folder, 'paper.docx')
    await writeFile(source, docx)
    await soffice([
      '--headless',
      '--norestore',
      `-env:UserInstallation=file://${folder}/profile`,
      '--convert-to',
      'pdf:writer_pdf_Export',
      '--outdir',
      folder,
      source,
    ])
    const pdf = await readFile(join(folder, 'paper.pdf')).catch(() => null)
    if (!pdf?.subarray(0, 5).equals(Buffer.from('%PDF-')))
      throw new Problem(502, 'no-pdf', 'The PDF could not be made from this document. The DOCX may be damaged.')
    return pdf
  } finally {
    await rm(folder, { recursive: true, force: true })
  }
}

function soffice(args: string[]): Promise<void> {
  return new Promise((resolve, reject) => {
    // A group of its own, so that a hung run ends with all its children.
    const child = spawn('soffice', args, { detached: true, stdio: 'ignore' })
    const timer = setTimeout(() => {
      if (child.pid) process.kill(-child.pid, 'SIGKILL')
      reject(new Problem(504, 'pdf-took-too-long', 'Making the PDF took too long. Try again.'))
    }, timeLimit)
    child.on('error', () => {
      clearTimeout(timer)
      reject(new Problem(502, 'no-office', 'LibreOffice is not installed on the server, so PDFs cannot be made. Run ./start again.'))
    })
    child.on('exit', (code) => {
      clearTimeout(timer)
      if (code === 0) resolve()
      else reject(new Error(`soffice ended with ${code}`))
    })
  })
}
