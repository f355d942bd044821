/** A plate's grain, read from pairs of its frames that are spread over the shot. */

import { GrainReader, NoGrainError, type GrainRecord } from './grain-record'

export interface PlateGrain extends GrainRecord {
  /** the first of each pair that was read */
  readonly frames: readonly number[]
}

interface Range {
  readonly first: number
  readonly last: number
}

/** More pairs tell hardly more. */
const mostPairs = 6

/** The first frame of each pair: as many as are allowed, evenly spread, none overlapping another. */
export function pairsIn({ first, last }: Range): readonly number[] {
  const count = Math.min(mostPairs, Math.floor((last - first + 1) / 2))
  if (count < 2) return count === 1 ? [first] : []
  return Array.from({ length: count }, (_, i) => Math.floor(first + ((last - 1 - first) * i) / (count - 1)))
}

/**
 * @param light RGBA of the whole plate on a frame, scene-linear; null where it has nothing
 * @throws NoGrainError, and what reading throws
 */
export async function plateGrain(
  range: Range,
  { width, height }: { readonly width: number; readonly height: number },
  light: (frame: number) => Promise<Float32Array | null>,
): Promise<PlateGrain> {
  const reader = new GrainReader()
  const frames: number[] = []
  for (const frame of pairsIn(range)) {
    const [before, after] = [await light(frame), await light(frame + 1)]
    if (!before || !after) continue
    frames.push(frame)
    reader.add({ before, after, width, height })
  }
  if (frames.length === 0)
    throw new NoGrainError(
      'Grain is told by frames of the plate that follow each other, and the plate has no two of them. Give the shot more of its frames.',
    )
  return { ...reader.record(), frames }
}
