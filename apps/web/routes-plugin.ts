import { minifyContractRouter } from '@orpc/contract'
import { tsImport } from 'tsx/esm/api'
import type { Plugin } from 'vite'

const name = 'virtual:routes'

/** The routes of the contract as the pages need them, methods and paths alone: the schemas stay with the server. */
export function routesOnly(): Plugin {
  return {
    name: 'routes-only',
    resolveId: (id) => (id === name ? `\0${name}` : null),
    async load(id) {
      if (id !== `\0${name}`) return null
      const { contract } = (await tsImport('@heron/contract', import.meta.url)) as typeof import('@heron/contract')
      return `export default ${JSON.stringify(minifyContractRouter(contract))}`
    },
  }
}
