/** Where frames lie along the tally: every row shares one axis. */

import type { FrameRange } from '../../../../core/shot'

/** Screen pixels: the names of rows on the left, and room for the number that goes with the playhead. */
export const namesWidth = 168
export const inset = 20

export const countOf = ({ first, last }: FrameRange) => last - first + 1

/** @returns the middle of a frame, as a share of the axis from 0 to 1 */
export const shareOf = (frame: number, frames: FrameRange) => (frame - frames.first + 0.5) / countOf(frames)

export const leftOf = (frame: number, frames: FrameRange) => `${shareOf(frame, frames) * 100}%`

/** @param x screen pixels from the axis's left end @param width of the axis @returns a frame of the range */
export function frameAt(x: number, width: number, frames: FrameRange): number {
  const index = Math.floor((x / width) * countOf(frames))
  return frames.first + Math.min(countOf(frames) - 1, Math.max(0, index))
}

/** The first frame has a number, and every tenth, or fewer or more, so that they are no more than some sixteen. */
export function numberedFrames(frames: FrameRange): number[] {
  const every = [1, 2, 5, 10, 20, 50, 100, 200, 500, 1000].find((n) => countOf(frames) / n <= 16) ?? 5000
  const from = Math.floor(frames.first / every) + 1
  const round = Array.from({ length: Math.floor(frames.last / every) - from + 1 }, (_, i) => (from + i) * every)
  return [frames.first, ...round]
}
