/** A measured lens as one edit of the treatment's numbers. */

import type { Lens } from '../motion/lens'
import type { SingleChange, Together } from './edits'
import type { Shot } from './types'

/** @param frame on which the numbers are set, where they are keyed @param from what it was measured */
export function measuredLens(shot: Shot, treatment: string, lens: Lens, frame: number, from: string): Together {
  const { width, height } = shot.frameSize
  const half = Math.hypot(width * lens.squeeze, height) / 2
  const values = {
    ...{ k1: lens.k1, k2: lens.k2, k3: lens.k3, p1: lens.p1, p2: lens.p2 },
    x: lens.centre[0] - width / 2,
    y: lens.centre[1] - height / 2,
    squeeze: lens.squeeze,
    unit: lens.unit / half,
  }
  const changes = Object.entries(values).map(([parameter, value]): SingleChange => ({
    kind: 'set-parameter',
    at: { owner: { kind: 'treatment', id: treatment }, parameter, channel: 0 },
    frame,
    value,
  }))
  return { kind: 'together', changes, label: `Lens measured from ${from}` }
}
