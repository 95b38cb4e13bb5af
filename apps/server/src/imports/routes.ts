import { routes } from '../platform/routes'
import { faultsFile, importRun, loadImport, readImport, tryImport } from './service'

const i = routes.imports
export const importRoutes = {
  read: i.read.handler(async ({ context, input }) =>
    readImport(context.ctx, input.what, input.file.name, new Uint8Array(await input.file.arrayBuffer())),
  ),
  get: i.get.handler(({ context, input }) => importRun(context.ctx, input.id)),
  tryOut: i.tryOut.handler(({ context, input }) => tryImport(context.ctx, input.id, input.mapping)),
  load: i.load.handler(({ context, input }) => loadImport(context.ctx, input.id)),
  faults: i.faults.handler(({ context, input }) => faultsFile(context.ctx, input.id)),
}
