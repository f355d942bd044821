/** Steps that were made before and kept on a disk: they are read instead of made. */

import type { FrameRequest, FrameStep, Step } from '../graph/steps'

/** What was kept under the key is not there any more, or cannot be read. */
export class ComputedGoneError extends Error {
  override readonly name = 'ComputedGoneError'
  /** @param key of the step */
  constructor(readonly key: string) {
    super('What was kept computed is not there any more.')
  }
}

/**
 * The same steps under the same keys, but what is kept is read: equal key, equal pixels.
 *
 * @param computed keys of steps that can be read
 */
export function withComputed(step: Step, computed: ReadonlySet<string>): Step {
  return computed.size === 0 ? step : replaced(step, computed, new Map())
}

function replaced(step: Step, computed: ReadonlySet<string>, known: Map<string, Step>): Step {
  // A frame is a file already.
  if (step.op === 'frame') return step
  if (computed.has(step.key)) return computedStep(step.key)
  let found = known.get(step.key)
  if (!found) {
    const inputs = step.inputs.map((input) => replaced(input, computed, known))
    const same = inputs.every((input, i) => input === step.inputs[i])
    found = same ? step : ({ ...step, inputs } as Step)
    known.set(step.key, found)
  }
  return found
}

function computedStep(key: string): FrameStep {
  const request: FrameRequest = {
    ...{ source: '', sourceName: 'kept computed', path: '', frame: null, part: null, channels: null, computed: key },
    ...({ takes: 'rgba', working: 'rec709', reduce: 1, framing: 'file', frameSize: { width: 0, height: 0 } } as const),
    claims: { encoding: 'linear', primaries: 'rec709', alpha: 'premultiplied' },
  }
  return { op: 'frame', key, inputs: [], request }
}
