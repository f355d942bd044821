/** An element over what is behind it. Pixels that it does not touch keep their bits. */

import type { BlendStep } from '../../graph/steps'
import { intersect, union } from '../../image/window'
import { stripBytes } from '../../kernels/kernels'
import { blends } from '../../set/blends'
import type { RunRows, StepKind } from './kind'

export const blend: StepKind<BlendStep> = {
  bounds({ kind, inputs: [behind, element, shown] }, at) {
    const back = at.bounds(behind)
    if (kind === 'reveal') return shown ? union(back, intersect(at.bounds(element), at.bounds(shown))) : back
    // What darkens makes nothing of nothing.
    return blends[kind].darkens ? back : union(back, at.bounds(element))
  },
  needs({ inputs: [behind, element, shown] }, window, at) {
    const touched = intersect(window, at.bounds(element))
    return [
      { input: behind, window },
      { input: element, window: touched },
      ...(shown ? [{ input: shown, window: touched }] : []),
    ]
  },
  lower({ kind, values, inputs: [behind, element, shown] }, _window, at) {
    const touches = blends[kind].darkens ? intersect(at.bounds(element), at.bounds(behind)) : at.bounds(element)
    return {
      node: 'blend',
      behind: at.rows(behind),
      element: at.rows(element),
      touches,
      shown: shown ? at.rows(shown) : null,
      kind,
      values,
    }
  },
}

export const runBlend: RunRows<'blend'> = ({ behind, element, touches, shown, kind, values }, maker) => {
  const { kernels, work } = maker
  const fillBehind = maker.fill(behind)
  const fillElement = maker.fill(element)
  const fillShown = shown && maker.fill(shown)
  const own = work.take(stripBytes)
  const shownStrip = fillShown ? work.take(stripBytes) : 0
  const right = touches.x + touches.width
  const bottom = touches.y + touches.height
  return (strip, x, y, count) => {
    fillBehind(strip, x, y, count)
    const from = Math.max(x, touches.x)
    const to = Math.min(x + count, right)
    if (y < touches.y || y >= bottom || from >= to) return
    fillElement(own, from, y, to - from)
    fillShown?.(shownStrip, from, y, to - from)
    blends[kind].blend(kernels, strip + (from - x) * 4, own, shownStrip, to - from, values)
  }
}
