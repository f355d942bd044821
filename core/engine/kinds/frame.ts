/** A source frame as it lies in memory, decoded while it is read; and one pixel all over a window. */

import type { ConstantStep, FrameStep } from '../../graph/steps'
import { intersect } from '../../image/window'
import { planeBytes, planeTypes } from '../../kernels/kernels'
import type { FillStrip, RunRows, StepKind } from './kind'

export const frame: StepKind<FrameStep> = {
  bounds: (step, at) => at.frameBounds(step),
  needs: () => [],
  lower: (step, _window, at) => ({ node: 'frame', frame: at.frame(step) }),
}

export const runFrame: RunRows<'frame'> = ({ frame: { dataWindow, planes, takes, decode } }, maker) => {
  const { kernels } = maker
  const list = maker.words(planes.flatMap(({ type, address }) => [address, planeTypes[type]]))
  const read: FillStrip = (strip, x, y, count) => {
    const at = (y - dataWindow.y) * dataWindow.width + x - dataWindow.x
    kernels.readPlanes(strip, list, planes.length, at, count)
    if (takes === 'scalar' || takes === 'bits' || (takes === 'rgb-matte' && planes.length === 1))
      for (let c = 1; c < 4; c++) kernels.copy(strip + c * planeBytes, strip, count * 4)
    else if (takes === 'rgb-matte') kernels.mostOfChannels(strip, count)
    else if (planes.length === 3) kernels.fill(strip + 3 * planeBytes, 1, count)
    else if (planes.length === 2) for (let c = 2; c < 4; c++) kernels.clear(strip + c * planeBytes, count * 4)
  }
  return maker.inside(dataWindow, decode.length === 0 ? read : maker.coloured(read, decode))
}

export const constant: StepKind<ConstantStep> = {
  bounds: ({ window }) => window,
  needs: () => [],
  lower: ({ pixel, window }, wanted) => ({ node: 'constant', pixel, window: intersect(window, wanted) }),
}

export const runConstant: RunRows<'constant'> = ({ pixel, window }, maker) =>
  maker.inside(window, (strip, _x, _y, count) => {
    for (let c = 0; c < 4; c++) maker.kernels.fill(strip + c * planeBytes, pixel[c], count)
  })
