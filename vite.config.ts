import { defineConfig, type Plugin } from 'vite'
import react from '@vitejs/plugin-react'

const isolation = {
  'Cross-Origin-Opener-Policy': 'same-origin',
  'Cross-Origin-Embedder-Policy': 'require-corp',
}

/** The interface is fetched while the page begins (web/src/begin.ts), though it runs after. */
function fetchInterfaceEarly(): Plugin {
  return {
    name: 'fetch-interface-early',
    transformIndexHtml: {
      order: 'post',
      handler: (_html, { bundle = {} }) => {
        const chunks = Object.values(bundle).filter((one) => one.type === 'chunk')
        const begin = chunks.find(({ isEntry }) => isEntry)
        const main = chunks.find(({ facadeModuleId }) => facadeModuleId?.endsWith('/web/src/main.tsx'))
        const own = chunks.filter(
          ({ fileName }) => main?.imports.includes(fileName) && !begin?.imports.includes(fileName),
        )
        return [main, ...own].flatMap((chunk) => {
          if (!chunk) return []
          const attrs = { rel: 'modulepreload', crossorigin: true, fetchpriority: 'low', href: `/${chunk.fileName}` }
          return { tag: 'link', attrs, injectTo: 'body' as const }
        })
      },
    },
  }
}

/** The React application. SharedArrayBuffer needs the isolation headers; the Express server sends the same ones. */
export default defineConfig({
  root: 'web',
  plugins: [react(), fetchInterfaceEarly()],
  worker: { format: 'es' },
  build: { target: 'es2022', outDir: '../dist/web', emptyOutDir: true, chunkSizeWarningLimit: 2000 },
  server: { headers: isolation, proxy: { '/api': 'http://127.0.0.1:4100' } },
})
