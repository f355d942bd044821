/** From a source and a shot frame to the file that serves it. */

import type { Source } from './types'

/** @returns the number of the file that serves a shot frame, or null for a still; undefined outside its range */
export function sourceFrame({ frames, offset = 0 }: Source, frame: number): number | null | undefined {
  if (frames === null) return null
  const number = frame - offset
  return number >= frames.first && number <= frames.last ? number : undefined
}

/**
 * The file that serves a shot frame when some are missing, as the source says what is to be done then.
 *
 * @param exists whether the file of that number is there
 * @returns as `sourceFrame`; a missing file's own number where the source says stop, so that reading it fails
 */
export function servingFrame(
  source: Source,
  frame: number,
  exists: (number: number) => boolean,
): number | null | undefined {
  const number = sourceFrame(source, frame)
  if (number === null || number === undefined || !source.frames || exists(number)) return number
  if (source.missing === 'empty') return undefined
  if (source.missing !== 'repeat') return number
  for (let before = number - 1; before >= source.frames.first; before--) if (exists(before)) return before
  return undefined
}

/** @returns the path with its run of # replaced by the frame number, padded with zeros to the run's length */
export function framePath(path: string, frame: number | null): string {
  return path.replace(/#+/, (run) => String(frame ?? 0).padStart(run.length, '0'))
}
