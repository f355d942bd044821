import { defineConfig } from 'vite'
import react from '@vitejs/plugin-react'

const isolation = {
  'Cross-Origin-Opener-Policy': 'same-origin',
  'Cross-Origin-Embedder-Policy': 'require-corp',
}

/** The React application. SharedArrayBuffer needs the isolation headers; the Express server sends the same ones. */
export default defineConfig({
  root: 'web',
  plugins: [react()],
  worker: { format: 'es' },
  build: { outDir: '../dist/web', emptyOutDir: true, chunkSizeWarningLimit: 2000 },
  server: { headers: isolation, proxy: { '/api': 'http://127.0.0.1:4100' } },
})
