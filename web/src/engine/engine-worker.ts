/** Entry of an engine web worker. */

import { tileWorker } from '../../../core/engine/worker'
import type { ToWorker } from '../../../core/engine/worker-messages'

const listener = tileWorker((message) => postMessage(message))
addEventListener('message', (event: MessageEvent<ToWorker>) => listener(event.data))
