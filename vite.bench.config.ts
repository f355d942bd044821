import { defineConfig } from 'vite'

/** The bench's page; built by `npm run bench` only. */
export default defineConfig({
  root: 'bench/page',
  base: './',
  build: { outDir: '../../dist/bench', emptyOutDir: true, chunkSizeWarningLimit: 3000 },
})
