import tailwind from '@tailwindcss/vite'
import vue from '@vitejs/plugin-vue'
import { defineConfig } from 'vite'
import { dirname } from 'node:path'
import { fileURLToPath } from 'node:url'
import { routesOnly } from './routes-plugin'

export default defineConfig({
  root: import.meta.dirname,
  plugins: [vue({ template: { compilerOptions: { whitespace: 'preserve' } } }), tailwind(), routesOnly()],
  // The files of the dictionary: its own module reads them from a disk, which a page does not have.
  resolve: { alias: { 'spelling-dictionary': dirname(fileURLToPath(import.meta.resolve('dictionary-en'))) } },
  worker: { format: 'es' },
  build: { target: 'es2022', assetsInlineLimit: 0, modulePreload: { polyfill: false } },
  server: { proxy: { '/api': 'http://127.0.0.1:4600' } },
})
