import { defineConfig } from 'vite'

/** Everything that runs in Node: server, command line, workers, stand-in camera, bench. Packages stay outside the bundle. */
export default defineConfig({
  build: {
    ssr: true,
    outDir: 'dist/node',
    emptyOutDir: true,
    target: 'node20',
    minify: false,
    rolldownOptions: {
      input: {
        server: 'server/main.ts',
        enkrasis: 'server/command-line.ts',
        'engine-worker': 'server/engine-worker.ts',
        'frame-reader': 'server/frame-reader.ts',
        'source-measurer': 'server/source-measurer.ts',
        maker: 'server/maker.ts',
        standin: 'standin/main.ts',
        'standin-worker': 'standin/frame-worker.ts',
        bench: 'bench/main.ts',
        'bench-plain': 'bench/plain.ts',
      },
      output: { entryFileNames: '[name].mjs', chunkFileNames: 'shared/[name]-[hash].mjs' },
    },
  },
})
