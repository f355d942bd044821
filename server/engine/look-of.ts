/** What reading and matching ask of an engine, until it is called off. */

import type { Engine } from '../../core/engine/engine'
import type { Look } from '../../core/witnesses'

export const lookOf = (engine: Engine, signal: AbortSignal): Look => ({
  measure: (step, sides, what) => engine.measure(step, sides, what, { signal }),
  light: (step, window, options) => engine.light(step, window, { ...options, signal }),
  bounds: (step) => engine.bounds(step),
})
