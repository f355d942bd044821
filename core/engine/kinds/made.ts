/** Pictures made from nothing but their settings. */

import { sha256 } from '@noble/hashes/sha2'
import { utf8ToBytes } from '@noble/hashes/utils'
import type { MadePicture, MadeStep } from '../../graph/steps'
import type { FillStrip, RowMaking, RunRows, StepKind } from './kind'

export const made: StepKind<MadeStep> = {
  bounds: ({ window }) => window,
  needs: () => [],
  lower: ({ picture, window }) => ({ node: 'made', picture, window }),
}

export const runMade: RunRows<'made'> = ({ picture, window }, maker) =>
  maker.inside(window, picture.made === 'gradient' ? gradient(picture, maker) : noise(picture, maker))

/** Steps of a gradient's table, which lies between its stops. */
const gradientSteps = 1024

function gradient(
  { shape, start, end, stops }: Extract<MadePicture, { made: 'gradient' }>,
  maker: RowMaking,
): FillStrip {
  const { kernels } = maker
  const table = Array.from({ length: gradientSteps + 1 }, (_, i) => gradientAt(stops, i / gradientSteps)).flat()
  const address = maker.weights(table)
  const settings = maker.doubles([...start, ...end])
  const radial = shape === 'radial' ? 1 : 0
  return (strip, x, y, count) => kernels.gradientRow(strip, count, x, y, radial, settings, address, gradientSteps)
}

/** A premultiplied pixel between two stops, or that of the first or last. */
export function gradientAt(
  stops: Extract<MadePicture, { made: 'gradient' }>['stops'],
  at: number,
): readonly [number, number, number, number] {
  const next = stops.findIndex((stop) => stop.at > at)
  if (next === 0) return stops[0].pixel
  if (next < 0) return stops[stops.length - 1].pixel
  const [a, b] = [stops[next - 1], stops[next]]
  const share = (at - a.at) / (b.at - a.at)
  return a.pixel.map((value, i) => value + (b.pixel[i] - value) * share) as unknown as readonly [
    number,
    number,
    number,
    number,
  ]
}

function noise(picture: Extract<MadePicture, { made: 'noise' }>, maker: RowMaking): FillStrip {
  const { kernels } = maker
  const { pixel, size, octaves, middle, contrast, drift, change, seed } = picture
  const settings = maker.doubles([...drift, ...size, change, middle, contrast, 0, 0])
  new Float32Array(kernels.memory, settings + 56, 4).set(pixel)
  const { buffer, byteOffset } = sha256(utf8ToBytes(seed))
  const key = new DataView(buffer, byteOffset).getInt32(0, true)
  return (strip, x, y, count) => kernels.noiseRow(strip, count, x, y, octaves, settings, key)
}
