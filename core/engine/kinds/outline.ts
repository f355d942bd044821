/** What drawn lines cover. */

import type { OutlineStep } from '../../graph/steps'
import { intersect } from '../../image/window'
import { planeBytes } from '../../kernels/kernels'
import { coverageOf } from '../../outline'
import type { RunRows, StepKind } from './kind'

export const outline: StepKind<OutlineStep> = {
  bounds: ({ window }) => window,
  needs: () => [],
  lower: ({ lines, window }, wanted) => ({ node: 'outline', lines, window: intersect(window, wanted) }),
}

export const runOutline: RunRows<'outline'> = ({ lines, window }, maker) => {
  const fill = coverageOf(lines, { first: window.y, count: window.height })
  const { memory } = maker.kernels
  return maker.inside(window, (strip, x, y, count) => {
    fill(new Float32Array(memory, strip, count), x, y, count)
    for (let c = 1; c < 4; c++) maker.kernels.copy(strip + c * planeBytes, strip, count * 4)
  })
}
