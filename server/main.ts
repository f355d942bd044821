/** Starts the server and stops it cleanly. */

import { mkdir } from 'node:fs/promises'
import { createServer } from 'node:http'
import pino from 'pino'
import { createApp } from './app'
import { configurationFrom } from './configuration'
import { useKernelsForBlocks } from './media/exr-blocks'
import { startService } from './service'

const log = pino({ name: 'enkrasis', base: undefined })
const configuration = configurationFrom(process.env)
await mkdir(configuration.media.store, { recursive: true })
const built = new URL('.', import.meta.url)
useKernelsForBlocks(built)
const service = await startService(configuration, built)
const server = createServer(createApp(service))

server.listen(configuration.port, configuration.host, () => {
  const address = server.address()
  const port = typeof address === 'object' && address ? address.port : configuration.port
  log.info(`Enkrasis answers at http://${configuration.host}:${port}`)
  // The scripts that start the server wait for this line.
  process.send?.({ port })
})

let stopping = false
async function stop(): Promise<void> {
  if (stopping) return
  stopping = true
  server.close()
  server.closeAllConnections()
  await service.close()
  process.exit(0)
}
process.on('SIGTERM', () => void stop())
process.on('SIGINT', () => void stop())
process.on('disconnect', () => void stop())
