/** From a source and a shot frame to the file that serves it. */

import type { FrameRange, Source, Timing } from './types'

/** @returns the number of the file that serves a shot frame, or null for a still; undefined outside its range */
export function sourceFrame({ frames, offset = 0 }: Source, frame: number): number | null | undefined {
  if (frames === null) return null
  const number = frame - offset
  return number >= frames.first && number <= frames.last ? number : undefined
}

/** Which of a source's files are there. */
export interface FilesThere {
  has(number: number): boolean
  /** the last one there is before a number */
  before(number: number): number | undefined
}

/**
 * The file that serves a shot frame when some are missing, as the source says what is to be done then.
 *
 * @returns as `sourceFrame`; a missing file's own number where the source says stop, so that reading it fails
 */
export function servingFrame(source: Source, frame: number, files: FilesThere): number | null | undefined {
  const number = sourceFrame(source, frame)
  if (number === null || number === undefined || !source.frames || files.has(number)) return number
  if (source.missing === 'empty') return undefined
  if (source.missing !== 'repeat') return number
  const before = files.before(number)
  return before !== undefined && before >= source.frames.first ? before : undefined
}

/** The shot frames that a source has files for; null for a still. */
export function shotFramesOf({ frames, offset = 0 }: Source): FrameRange | null {
  return frames && { first: frames.first + offset, last: frames.last + offset }
}

/**
 * The frame that a use of something shows at a shot frame.
 *
 * @param frames that it has; null where any frame will do
 * @returns null where it shows nothing
 */
export function timedFrame(frames: FrameRange | null, timing: Timing | undefined, frame: number): number | null {
  if (frame < (timing?.from ?? -Infinity) || frame > (timing?.to ?? Infinity)) return null
  if (!timing || !frames) return timing?.held ?? frame
  if (timing.held !== undefined) return timing.held
  const { first, last } = frames
  const { offset = 0, speed = 1, beyond = 'nothing' } = timing
  const wanted = first + Math.floor((frame - first) * speed + 0.5) + offset
  if (wanted >= first && wanted <= last) return wanted
  const count = last - first + 1
  const modulo = (value: number, by: number) => ((value % by) + by) % by
  switch (beyond) {
    case 'nothing':
      return null
    case 'hold':
      return Math.min(last, Math.max(first, wanted))
    case 'loop':
      return first + modulo(wanted - first, count)
    case 'ping-pong': {
      if (count === 1) return first
      const at = modulo(wanted - first, 2 * count - 2)
      return first + (at < count ? at : 2 * count - 2 - at)
    }
  }
}

/** @returns the path with its run of # replaced by the frame number, padded with zeros to the run's length */
export function framePath(path: string, frame: number | null): string {
  return path.replace(
    /#+/,
    (run) => (frame !== null && frame < 0 ? '-' : '') + String(Math.abs(frame ?? 0)).padStart(run.length, '0'),
  )
}
