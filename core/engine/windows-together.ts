/** Small windows that are better made as one: a picture costs about as much as ten thousand of its pixels. */

import { pixelCount, union, type Window } from '../image/window'

export interface WindowsTogether {
  /** what is made */
  readonly around: Window
  /** parts of it */
  readonly windows: readonly Window[]
}

/** Files hold their pixels in blocks of lines: what lies within one anyway is read for both. */
const linesOfBlock = 16
/** One picture around several is at most so large, or so many times what is wanted of it. */
const mostPixels = 65_536
const mostTimes = 2

/** @returns every window in one of them; a window that is alone is made by itself */
export function windowsTogether(windows: readonly Window[]): WindowsTogether[] {
  const groups: { around: Window; windows: Window[]; pixels: number }[] = []
  for (const window of [...windows].sort((a, b) => a.y - b.y || a.x - b.x)) {
    const last = groups.at(-1)
    const around = last && union(last.around, window)
    const pixels = (last?.pixels ?? 0) + pixelCount(window)
    const beside = last && window.y <= last.around.y + last.around.height + linesOfBlock
    if (last && around && beside && pixelCount(around) <= Math.max(mostPixels, mostTimes * pixels)) {
      last.around = around
      last.windows.push(window)
      last.pixels = pixels
    } else groups.push({ around: window, windows: [window], pixels: pixelCount(window) })
  }
  return groups
}
