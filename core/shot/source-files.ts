/** From a source and a shot frame to the file that serves it. */

import type { Source } from './types'

/** @returns the source frame that serves a shot frame: the frame itself, or null for a still; undefined outside its range */
export function sourceFrame(source: Source, frame: number): number | null | undefined {
  if (source.frames === null) return null
  return frame >= source.frames.first && frame <= source.frames.last ? frame : undefined
}

/** @returns the path with its run of # replaced by the frame number, padded with zeros to the run's length */
export function framePath(path: string, frame: number | null): string {
  return path.replace(/#+/, (run) => String(frame ?? 0).padStart(run.length, '0'))
}
