/** Grain: white normal noise whose variance grows with light, new on every frame, the same for the same pixel everywhere. */

import { sha256 } from '@noble/hashes/sha2'
import { utf8ToBytes } from '@noble/hashes/utils'
import { point } from '../graph/steps'
import type { PictureTreatment, PointRun } from './treatment'

/** Numbers the stream of random numbers, so that others drawn for the same pixel are independent of these. */
const stream = 1

export const grain: PictureTreatment<'grain'> = {
  kind: 'grain',
  label: 'Grain',
  help: 'Adds noise of variance shot × light + read² per channel; white, drawn anew on every frame. On an element it follows coverage. In the sensor it adds what is missing beside the grain that the plate has kept.',
  does: ['noise', 'grain', 'film grain', 'texture'],
  stations: ['sensor'],
  side: 'frame',
  sparesPlate: true,
  parameters: [
    {
      name: 'shot',
      label: 'Shot',
      help: 'Variance for each unit of scene-linear light, in thousandths.',
      channels: 3,
      unit: '×10⁻³',
      least: 0,
      most: 20,
      step: 0.01,
      initial: 0,
    },
    {
      name: 'read',
      label: 'Read',
      help: 'Deviation in the dark, in thousandths of scene-linear light.',
      channels: 3,
      unit: '×10⁻³',
      least: 0,
      most: 100,
      step: 0.05,
      initial: 0,
    },
  ],
  build(input, values, { draw, scale, recorded }) {
    if ([...values.shot, ...values.read].every((v) => v === 0)) return input
    // A pixel at half scale is the mean of four: half the deviation, if the noise is white.
    const reduced = { shot: values.shot.map((v) => v / scale ** 2), read: values.read.map((v) => v / scale) }
    return point(input, 'grain', 2, reduced, draw, recorded ? [recorded.plate, recorded.share] : [])
  },
  run: ((kernels, strip, count, { shot, read }, draw, x, y, work, others) => {
    const [low, high] = keyOf(draw.seed)
    kernels.normals(work, count, x, y, draw.frame, stream, low, high)
    const [shotR, shotG, shotB] = shot.map((v) => v / 1000)
    const [readR, readG, readB] = read.map((v) => (v / 1000) ** 2)
    const [plate, share] = others
    if (plate === undefined) kernels.addGrain(strip, work, count, shotR, shotG, shotB, readR, readG, readB)
    else kernels.addMissingGrain(strip, work, plate, share, count, shotR, shotG, shotB, readR, readG, readB)
  }) satisfies PointRun,
}

const keys = new Map<string, readonly [number, number]>()

/** 64 bits from the seed, so that no two share their grain. */
function keyOf(seed: string): readonly [number, number] {
  let key = keys.get(seed)
  if (!key) {
    const { buffer, byteOffset } = sha256(utf8ToBytes(seed))
    const view = new DataView(buffer, byteOffset)
    key = [view.getInt32(0, true), view.getInt32(4, true)]
    keys.set(seed, key)
  }
  return key
}
