import { download } from '../platform/files'
import { jobState } from '../platform/jobs'
import { routes } from '../platform/routes'
import { filePaper, paperFile, papersOf, preparePaper, requestPaper, templates } from './service'

const p = routes.papers
// Only these are shown in the browser; anything else is handed over as a plain download, so that no filed page runs here.
const shownTypes = new Set(['application/pdf', 'image/png', 'image/jpeg', 'text/plain'])

export const paperRoutes = {
  list: p.list.handler(({ context, input }) => papersOf(context.ctx, input)),
  templates: p.templates.handler(({ context }) => templates(context.ctx)),
  prepare: p.prepare.handler(({ context, input }) => preparePaper(context.ctx, input.id, input.templateId)),
  make: p.make.handler(({ context, input: { id, ...rest } }) => requestPaper(context.ctx, { matterId: id, ...rest })),
  file: p.file.handler(async ({ context, input }) => {
    const data = new Uint8Array(await input.file.arrayBuffer())
    return filePaper(context.ctx, { matterId: input.id, folder: input.folder, name: input.file.name, mediaType: input.file.type, data })
  }),
  download: p.download.handler(async ({ context, input }) => {
    const paper = await paperFile(context.ctx, input.id)
    return download(paper.data, paper.name, shownTypes.has(paper.mediaType) ? paper.mediaType : 'application/octet-stream')
  }),
  job: p.job.handler(({ context, input }) => jobState(context.ctx, input.id)),
}
