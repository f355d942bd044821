/** What a plane through the values of a window leaves of them: noise without shading. */

import type { Window } from '../image/window'

export interface LeftOfPlane {
  readonly variance: number
  readonly freedom: number
  /** mean product of what is left of neighbours, across and down */
  readonly neighbours: readonly [number, number]
}

/** @returns null where a value is no number, or there are too few to leave anything */
export function leftOfPlane({ width, height }: Window, valueAt: (i: number) => number): LeftOfPlane | null {
  const count = width * height
  const freedom = count - 3
  if (width < 2 || height < 2 || freedom < 1) return null
  const [middleX, middleY] = [(width - 1) / 2, (height - 1) / 2]
  const values = Float64Array.from({ length: count }, (_, i) => valueAt(i))
  let [sum, across, down] = [0, 0, 0]
  for (let y = 0, i = 0; y < height; y++)
    for (let x = 0; x < width; x++, i++) {
      sum += values[i]
      across += (x - middleX) * values[i]
      down += (y - middleY) * values[i]
    }
  if (!Number.isFinite(sum)) return null
  const mean = sum / count
  const slopeX = across / ((count * (width * width - 1)) / 12)
  const slopeY = down / ((count * (height * height - 1)) / 12)
  let [squares, besides, below] = [0, 0, 0]
  for (let y = 0, i = 0; y < height; y++)
    for (let x = 0; x < width; x++, i++) {
      values[i] -= mean + slopeX * (x - middleX) + slopeY * (y - middleY)
      squares += values[i] ** 2
      if (x > 0) besides += values[i] * values[i - 1]
      if (y > 0) below += values[i] * values[i - width]
    }
  const neighbours = [besides / ((width - 1) * height), below / (width * (height - 1))] as const
  return { variance: squares / freedom, freedom, neighbours }
}
