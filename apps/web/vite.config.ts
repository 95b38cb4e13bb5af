import tailwind from '@tailwindcss/vite'
import vue from '@vitejs/plugin-vue'
import { defineConfig } from 'vite'
import { routesOnly } from './routes-plugin'

export default defineConfig({
  root: import.meta.dirname,
  plugins: [vue({ template: { compilerOptions: { whitespace: 'preserve' } } }), tailwind(), routesOnly()],
  build: { target: 'es2022', assetsInlineLimit: 0, modulePreload: { polyfill: false } },
  server: { proxy: { '/api': 'http://127.0.0.1:4600' } },
})
