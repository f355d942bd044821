/** For the tests: a source step, and what treatments know of their surroundings. */

import { frameStep, type FrameRequest, type FrameStep } from '../graph/steps'
import type { Surroundings } from '../treatments'

export function someFrame(given: Partial<FrameRequest> = {}): FrameStep {
  const request: FrameRequest = {
    source: 'cg',
    sourceName: 'CG',
    path: 'cg.1001.exr',
    frame: 1001,
    part: null,
    channels: null,
    takes: 'rgba',
    claims: { encoding: 'linear', primaries: 'rec709', alpha: 'premultiplied' },
    working: 'rec709',
    reduce: 1,
    framing: 'file',
    frameSize: { width: 300, height: 150 },
    ...given,
  }
  return frameStep(request, 'same')
}

export function surroundings(given: Partial<Surroundings> = {}): Surroundings {
  return {
    scale: 1,
    opaque: false,
    beyond: 'empty',
    draw: { seed: 'small', frame: 1001 },
    frame: { x: 0, y: 0, width: 300, height: 150 },
    working: 'rec709',
    sources: {},
    choices: {},
    points: [],
    ...given,
  }
}
