import { spawn } from 'node:child_process'
import { rmSync } from 'node:fs'
import { mkdir, mkdtemp, readFile, rm, writeFile } from 'node:fs/promises'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { Problem } from '../platform/problem'

const timeLimit = 60_000

/** LibreOffice runs no macros, follows no links and asks for nothing outside the document, whatever the document says. */
const item = (path: string, name: string, value: string) =>
  `<item oor:path="/org.openoffice.Office.${path}"><prop oor:name="${name}" oor:op="fuse"><value>${value}</value></prop></item>`
const settings = `<?xml version="1.0" encoding="UTF-8"?><oor:items xmlns:oor="http://openoffice.org/2001/registry" xmlns:xs="http://www.w3.org/2001/XMLSchema" xmlns:xsi="http://www.w3.org/2001/XMLSchema-instance">${[
  item('Common/Security/Scripting', 'MacroSecurityLevel', '3'),
  item('Common/Security/Scripting', 'DisableMacrosExecution', 'true'),
  item('Common/Security/Scripting', 'DisableActiveContent', 'true'),
  item('Common/Security/Scripting', 'BlockUntrustedRefererLinks', 'true'),
  item('Writer/Content/Update', 'Link', '0'),
  item('Common/Load', 'UserDefinedSettings', 'false'),
].join('')}</oor:items>`

interface Desk {
  profile: string | null
  busy: Promise<unknown>
  waiting: number
}
/** Two at a time, each with a profile of its own. */
const desks: Desk[] = [0, 1].map(() => ({ profile: null, busy: Promise.resolve(), waiting: 0 }))

/** Turns a document (DOCX, DOC, RTF, ODT) into a PDF with LibreOffice. Throws a `Problem` where none comes of it. */
export function pdfOfDocx(document: Uint8Array, ending = 'docx'): Promise<Buffer> {
  const desk = desks[0]!.waiting <= desks[1]!.waiting ? desks[0]! : desks[1]!
  desk.waiting += 1
  const next = desk.busy.then(() => convert(desk, document, ending))
  desk.busy = next.then(
    () => (desk.waiting -= 1),
    () => (desk.waiting -= 1),
  )
  return next
}

async function profileOf(desk: Desk): Promise<string> {
  if (desk.profile) return desk.profile
  const profile = await mkdtemp(join(tmpdir(), 'heron-office-'))
  await mkdir(join(profile, 'user'), { recursive: true })
  await writeFile(join(profile, 'user', 'registrymodifications.xcu'), settings)
  process.once('exit', () => rmSync(profile, { recursive: true, force: true }))
  return (desk.profile = profile)
}

async function convert(desk: Desk, document: Uint8Array, ending: string): Promise<Buffer> {
  const profile = await profileOf(desk)
  const folder = await mkdtemp(join(tmpdir(), 'heron-paper-'))
  try {
    const source = join(folder, `paper.${ending}`)
    await writeFile(source, document)
    const failed = await soffice(['--headless', '--norestore', '--nolockcheck', `-env:UserInstallation=file://${profile}`, '--convert-to', 'pdf:writer_pdf_Export', '--outdir', folder, source]).then(
      () => null,
      (error: unknown) => error,
    ) // prettier-ignore
    if (failed) {
      // What ended badly may have left its profile unusable.
      desk.profile = null
      await rm(profile, { recursive: true, force: true })
      throw failed
    }
    const pdf = await readFile(join(folder, 'paper.pdf')).catch(() => null)
    if (!pdf?.subarray(0, 5).equals(Buffer.from('%PDF-')) || !pdf.subarray(-1024).includes('%%EOF'))
      throw new Problem(
        502,
        'no-pdf',
        'The PDF could not be made from this document. It may be damaged: open it in a word processor and save it anew.',
      )
    return pdf
  } finally {
    await rm(folder, { recursive: true, force: true })
  }
}

function soffice(args: string[]): Promise<void> {
  return new Promise((resolve, reject) => {
    // A group of its own, so that a hung run ends with all its children. Whoever asks for something outside is sent nowhere.
    const nowhere = 'http://127.0.0.1:9'
    const child = spawn('soffice', args, {
      detached: true,
      stdio: 'ignore',
      env: { ...process.env, http_proxy: nowhere, https_proxy: nowhere, ftp_proxy: nowhere, no_proxy: '' },
    })
    const timer = setTimeout(() => {
      try {
        if (child.pid) process.kill(-child.pid, 'SIGKILL')
      } catch {
        // It ended at this moment.
      }
      reject(
        new Problem(
          504,
          'pdf-took-too-long',
          'Making the PDF took longer than a minute and was ended. The document may be too large for one PDF.',
        ),
      )
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
