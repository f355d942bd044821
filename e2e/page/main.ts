/** For the browser tests: the engine on web workers, computing the same graph as the tests do in Node. */

import { display, everything, load } from '../../core/test/everything'
import type { Window } from '../../core/image/window'
import type { Wanted, WindowReading } from '../../core/measure/window-statistics'
import { browserEngine } from '../../web/src/engine/browser-engine'

async function digest(values: Float32Array<ArrayBuffer> | Uint16Array<ArrayBuffer>): Promise<string> {
  const bytes = new Uint8Array(await crypto.subtle.digest('SHA-256', values))
  return [...bytes].map((byte) => byte.toString(16).padStart(2, '0')).join('')
}

async function digests(windows: readonly Window[]): Promise<string[]> {
  const engine = await browserEngine(load)
  const made: string[] = []
  for (const window of windows) made.push(await digest(await engine.light(everything(), window)))
  made.push(await digest(await engine.halves(everything(), display)))
  engine.close()
  return made
}

async function readings(windows: readonly Window[], wanted: Wanted): Promise<readonly WindowReading[]> {
  const engine = await browserEngine(load)
  try {
    return await engine.measure(everything(), windows, wanted)
  } finally {
    engine.close()
  }
}

Object.assign(globalThis, { digestsOf: digests, readingsOf: readings })
