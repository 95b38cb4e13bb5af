import vue from '@vitejs/plugin-vue'
import { defineConfig } from 'vitest/config'
import { routesOnly } from './apps/web/routes-plugin'

export default defineConfig({
  test: {
    projects: [
      { test: { name: 'core', include: ['packages/**/*.test.ts'], isolate: false, testTimeout: 240_000 } },
      {
        plugins: [vue({ template: { compilerOptions: { whitespace: 'preserve' } } }), routesOnly()],
        test: { name: 'web', include: ['apps/web/test/**/*.test.ts'], environment: 'jsdom', testTimeout: 240_000 },
      },
      {
        test: {
          name: 'server',
          include: ['apps/server/**/*.test.ts'],
          testTimeout: 240_000,
          hookTimeout: 120_000,
          fileParallelism: false,
          // Every file opens a server of its own; what it is made of is read once for all of them.
          isolate: false,
          globalSetup: ['apps/server/test/database.ts'],
        },
      },
    ],
  },
})
