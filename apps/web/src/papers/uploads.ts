import { defineStore } from 'pinia'
import { computed, reactive, ref } from 'vue'
import { api, ApiProblem } from '../api'
import { sendPiece } from './pieces'
import { useSession } from '../shell/session'

/** A file on its way to a matter. It goes in pieces, so that a break costs no more than the last one. */
export interface Coming {
  key: string
  matterId: number
  folder: string
  name: string
  file: File
  versionOf: number | null
  why: string
  received: number
  state: 'waiting' | 'coming' | 'come' | 'filed' | 'double' | 'failed'
  message: string
  uploadId: number | null
}

const atOnce = 2

/** A path within a folder that was dropped or chosen, such as `Scans/2026`; empty for a single file. */
const within = (file: File) => (file.webkitRelativePath ? file.webkitRelativePath.split('/').slice(0, -1).join('/') : '')

export const useUploads = defineStore('uploads', () => {
  const list = ref<Coming[]>([])
  const session = useSession()
  const busy = computed(() => list.value.some((c) => c.state === 'waiting' || c.state === 'coming' || c.state === 'come'))
  let running = 0

  function add(matterId: number, folder: string, files: readonly File[], of: { versionOf?: number; why?: string } = {}) {
    for (const file of files) {
      const inner = within(file)
      list.value.push(
        reactive<Coming>({
          key: crypto.randomUUID(),
          matterId,
          folder: [folder, inner].filter(Boolean).join('/').slice(0, 300),
          name: file.name,
          file,
          versionOf: of.versionOf ?? null,
          why: of.why ?? '',
          received: 0,
          state: 'waiting',
          message: '',
          uploadId: null,
        }),
      )
    }
    next()
  }

  function next() {
    while (running < atOnce) {
      const coming = list.value.find((c) => c.state === 'waiting')
      if (!coming) return
      running += 1
      coming.state = 'coming'
      void send(coming).finally(() => {
        running -= 1
        next()
      })
    }
  }

  async function send(c: Coming) {
    try {
      const started =
        c.uploadId === null
          ? await api.papers.startUpload({ name: c.name.slice(0, 200), size: c.file.size }, { context: { key: `${c.key}-a` } })
          : null
      c.uploadId ??= started!.id
      // Where a part came before the line broke, it is not sent again.
      let { received, whole } = await api.papers.upload({ id: c.uploadId })
      while (!whole) {
        ;({ received, whole } = await sendPiece(c.uploadId, c.file, received))
        c.received = received
        if (!list.value.includes(c)) return
      }
      c.received = c.file.size
      c.state = 'come'
      await keep(c, false)
    } catch (error) {
      c.state = 'failed'
      c.message = error instanceof ApiProblem ? error.message : 'The file could not be read from this computer.'
    }
  }

  /** Files it. What the matter has already is told, and filed only when that is wanted. */
  async function keep(c: Coming, anyway: boolean) {
    try {
      const kept = await api.papers.keepUploads(
        {
          id: c.matterId,
          files: [{ uploadId: c.uploadId!, name: c.name.slice(0, 200), folder: c.folder, versionOf: c.versionOf, why: c.why }],
          doubles: anyway,
        },
        { context: { key: `${c.key}-${anyway ? 'c' : 'b'}` } },
      )
      c.state = kept.doubles.length ? 'double' : 'filed'
      c.message = kept.doubles[0] ? `Already on file as ${kept.doubles[0].name}` : ''
      session.changed()
    } catch (error) {
      c.state = 'failed'
      c.message = error instanceof ApiProblem ? error.message : 'This could not be filed.'
    }
  }

  function again(c: Coming) {
    c.message = ''
    if (c.state === 'double') return void keep(c, true)
    c.key = crypto.randomUUID()
    c.state = 'waiting'
    next()
  }
  const drop = (c: Coming) => (list.value = list.value.filter((x) => x !== c))
  const clear = () => (list.value = list.value.filter((c) => !['filed', 'double'].includes(c.state)))
  return { list, busy, add, again, drop, clear }
})

interface Entry {
  isFile: boolean
  isDirectory: boolean
  fullPath: string
  file?: (done: (f: File) => void, fail: (e: unknown) => void) => void
  createReader?: () => { readEntries: (done: (e: Entry[]) => void, fail: (e: unknown) => void) => void }
}

/** All files of what was dropped, folders with all that is in them, at most a thousand. */
export async function filesDropped(data: DataTransfer): Promise<File[]> {
  const entries = [...data.items].map((i) => (i.webkitGetAsEntry?.() ?? null) as Entry | null)
  if (!entries.some((e) => e?.isDirectory)) return [...data.files].slice(0, 1000)
  const out: File[] = []
  const walk = async (e: Entry): Promise<void> => {
    if (out.length >= 1000) return
    if (e.isFile) {
      const file = await new Promise<File>((done, fail) => e.file!(done, fail))
      Object.defineProperty(file, 'webkitRelativePath', { value: e.fullPath.replace(/^\//, '') })
      out.push(file)
    } else {
      const reader = e.createReader!()
      for (;;) {
        const some = await new Promise<Entry[]>((done, fail) => reader.readEntries(done, fail))
        if (!some.length) return
        for (const inner of some) await walk(inner)
      }
    }
  }
  for (const e of entries) if (e) await walk(e)
  return out
}
