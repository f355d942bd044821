/** Entry of an engine worker thread. */

import { parentPort } from 'node:worker_threads'
import { tileWorker } from '../core/engine/worker'

if (!parentPort) throw new Error('This file runs as a worker thread of the engine.')
const port = parentPort
port.on(
  'message',
  tileWorker((message) => port.postMessage(message)),
)
