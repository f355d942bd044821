/** A picture to read and write: 1920x1080 RGBA halves, smooth light with grain, as plates have. */

import { deflateSync } from 'node:zlib'
import { floatToHalf } from '../core/image/half'
import type { Plane } from '../core/image/planes'
import { writeExr, type Deflate } from '../formats/exr'
import { packing } from '../server/media/exr-blocks'

export const sampleWindow = { x: 0, y: 0, width: 1920, height: 1080 }

export function samplePlanes(): Plane[] {
  const { width, height } = sampleWindow
  let state = 12345
  const noise = () => {
    state = (Math.imul(state, 1664525) + 1013904223) | 0
    return (state >>> 8) / 2 ** 24 - 0.5
  }
  return ['R', 'G', 'B', 'A'].map((name, c) => {
    const samples = new Uint16Array(width * height)
    for (let y = 0; y < height; y++) {
      for (let x = 0; x < width; x++) {
        const light = 0.05 + 0.3 * (0.5 + 0.5 * Math.sin(x / 200 + c) * Math.cos(y / 150))
        samples[y * width + x] = name === 'A' ? 0x3c00 : floatToHalf(light + noise() * 0.03 * Math.sqrt(light))
      }
    }
    return { name, type: 'half' as const, samples }
  })
}

export const level = 4

export function writeSample(
  planes: readonly Plane[],
  deflate: Deflate = (raw) => deflateSync(raw, { level }),
): Promise<Uint8Array> {
  return writeExr([{ dataWindow: sampleWindow, displayWindow: sampleWindow, planes }], {
    ...packing,
    compression: 'zip',
    deflate,
  })
}
