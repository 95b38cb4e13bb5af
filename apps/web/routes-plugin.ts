import { minifyContractRouter } from '@orpc/contract'
import { tsImport } from 'tsx/esm/api'
import type { Plugin } from 'vite'

const name = 'virtual:routes'

interface Known {
  '~orpc'?: { route: { method: string; path: string; inputStructure?: string } }
}
/** A procedure as its method and path, and whether its input is taken apart; a group of them as an object. */
const short = (node: Known): unknown => {
  const route = node['~orpc']?.route
  if (!route) return Object.fromEntries(Object.entries(node).map(([name, of]) => [name, short(of as Known)]))
  return `${route.method} ${route.path}${route.inputStructure ? ` ${route.inputStructure}` : ''}`
}

/** The routes of the contract as the pages need them, methods and paths alone: schemas, rules and summaries stay with the server. */
export function routesOnly(): Plugin {
  return {
    name: 'routes-only',
    resolveId: (id) => (id === name ? `\0${name}` : null),
    async load(id) {
      if (id !== `\0${name}`) return null
      const { contract } = (await tsImport('@heron/contract', import.meta.url)) as typeof import('@heron/contract')
      return `const read = (of) => {
        if (typeof of !== 'string') return Object.fromEntries(Object.entries(of).map(([name, part]) => [name, read(part)]))
        const [method, path, inputStructure] = of.split(' ')
        return { '~orpc': { errorMap: {}, meta: {}, route: inputStructure ? { method, path, inputStructure } : { method, path } } }
      }
      export default read(${JSON.stringify(short(minifyContractRouter(contract) as Known))})`
    },
  }
}
