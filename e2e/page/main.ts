/** For the browser tests: the engine on web workers, computing the same graph as the tests do in Node. */

import { display, everything, load, everywhere } from '../../core/test/everything'
import type { Window } from '../../core/image/window'
import { browserEngine } from '../../web/src/engine/browser-engine'

async function digest(values: Float32Array<ArrayBuffer> | Uint16Array<ArrayBuffer>): Promise<string> {
  const bytes = new Uint8Array(await crypto.subtle.digest('SHA-256', values))
  return [...bytes].map((byte) => byte.toString(16).padStart(2, '0')).join('')
}

async function measure(windows: readonly Window[]): Promise<string[]> {
  const engine = await browserEngine(load)
  const digests: string[] = []
  for (const window of windows) digests.push(await digest(await engine.light(everything(), window)))
  digests.push(await digest(await engine.halves(everything(), display)))
  engine.close()
  return digests
}

Object.assign(globalThis, { digestsOf: measure, wholeWindow: everywhere })
