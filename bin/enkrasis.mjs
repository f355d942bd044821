#!/usr/bin/env node
import { existsSync } from 'node:fs'
import { fileURLToPath } from 'node:url'

const built = new URL('../dist/node/enkrasis.mjs', import.meta.url)
if (!existsSync(fileURLToPath(built))) {
  console.error('enkrasis is not built yet. Run "npm run build" (or "npm run demo", which builds it) and try again.')
  process.exit(1)
}
await import(built.href)
