import { defineConfig } from 'vite'

/** The page that browser tests compute on; built by `npm test` only. */
export default defineConfig({
  root: 'e2e/page',
  base: './',
  worker: { format: 'es' },
  build: { outDir: '../../dist/e2e', emptyOutDir: true },
})
