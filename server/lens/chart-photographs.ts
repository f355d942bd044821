/** A chart of dark and light squares on some frames of a source: where its corners are. */

import { chartMarks, type ChartSeen } from '../../core/lens'
import { find, shotFramesOf, type FrameRange, type Shot } from '../../core/shot'
import type { Plane } from '../../core/track/spline'

/** More photographs tell hardly more, and take half a second each. */
export const mostPhotographs = 12

export interface Photograph extends ChartSeen {
  readonly frame: number
}
export interface Photographs {
  readonly looked: readonly number[]
  /** of those on which a chart was found */
  readonly found: readonly Photograph[]
}

/**
 * Frames on which a chart is looked for: of a still this one; else as many as are allowed, evenly spread over what the source has in the shot.
 *
 * @param source null: the plate
 */
export function framesOfChart(shot: Shot, source: string | null, frame: number): readonly number[] {
  const shown = source === null ? undefined : find(shot.sources, source)
  const own = source === null ? shot.frames : shown && shotFramesOf(shown)
  if (!own) return [frame]
  return spreadOver({ first: Math.max(own.first, shot.frames.first), last: Math.min(own.last, shot.frames.last) })
}

function spreadOver({ first, last }: FrameRange): readonly number[] {
  const count = Math.min(mostPhotographs, last - first + 1)
  if (count <= 1) return count === 1 ? [first] : []
  return Array.from({ length: count }, (_, i) => Math.round(first + ((last - first) * i) / (count - 1)))
}

/** @param picture brightness of a frame @throws what that throws */
export async function chartPhotographs(
  frames: readonly number[],
  picture: (frame: number) => Promise<Plane>,
  signal?: AbortSignal,
): Promise<Photographs> {
  const found: Photograph[] = []
  for (const frame of frames) {
    if (signal?.aborted) break
    const seen = chartMarks(await picture(frame))
    if (seen) found.push({ frame, ...seen })
  }
  return { looked: frames, found }
}

export const noChart = (looked: readonly number[]): string =>
  `No chart of dark and light squares was found on ${looked.length === 1 ? `frame ${looked[0]}` : `any of ${looked.length} frames looked at`}. It must be seen with 4 by 5 squares or more, each 8 pixels wide or more; of a grid of lines, find the lines.`
