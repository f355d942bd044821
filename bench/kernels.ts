/** The kernels and fused steps on one thread, beside copying the same bytes and beside libraries that do the same. */

import sharp from 'sharp'
import { blend, blur, colour, resample } from '../core/graph/steps'
import { byField } from '../core/motion/mapping'
import { pixelBytes, stripBytes, stripPixels } from '../core/kernels/kernels'
import { OneThread } from './one-thread'
import { openCv } from './open-cv'
import { nearHorizon } from '../core/kernels/test/near-horizon'
import { atLeast, beside, besidePeer, inTurns, type Row } from './row'

const window = { x: 0, y: 0, width: 1920, height: 1080 }
const pixels = window.width * window.height
const frameBytes = pixels * pixelBytes
const runs = 21

const light = (c: number, x: number, y: number) => 0.3 + 0.25 * Math.sin(x / 7 + c) * Math.cos(y / 11)

export async function benchKernels(): Promise<Row[]> {
  const thread = new OneThread(512)
  const { kernels, buffer, arena } = thread
  const from = arena.allocate(frameBytes)
  const to = arena.allocate(frameBytes)
  new Float32Array(buffer, from, frameBytes / 4).fill(0.25)
  const copied = new Uint8Array(buffer, to, frameBytes)
  const original = new Uint8Array(buffer, from, frameBytes)
  const copy = () => copied.set(original)

  const plate = thread.source('plate', window, 4, 'float', (c, x, y) => (c === 3 ? 1 : light(c, x, y)))
  const cg = thread.source('cg', window, 4, 'float', (c, x, y) => (c === 3 ? 0.75 : 0.75 * light(c, y, x)))
  const graded = colour(cg, [
    { do: 'power', exponent: [0.9, 0.95, 1.05] },
    { do: 'affine', gain: [1.1, 1.05, 0.9], veil: [0.02, 0.02, 0.03] },
    {
      do: 'matrix',
      rows: [
        [0.9, 0.08, 0.02],
        [0.05, 0.9, 0.05],
        [0.02, 0.08, 0.9],
      ],
    },
  ])
  const finished = colour(blend(plate, graded, null, 'over', 1, {}), [
    { do: 'affine', gain: [1.02, 1, 0.98], veil: [0.001, 0.001, 0.002] },
    {
      do: 'matrix',
      rows: [
        [1.02, -0.01, -0.01],
        [-0.01, 1.02, -0.01],
        [-0.01, -0.01, 1.02],
      ],
    },
  ])
  const halves = thread.source('halves', window, 4, 'half', (c, x, y) => (c === 3 ? 1 : light(c, x, y)))
  const map = thread.source(
    'map',
    window,
    2,
    'float',
    (c, x, y) => (c === 0 ? 4 * Math.sin(y / 90) : 3 * Math.cos(x / 80)),
    'vec2',
  )

  const overStrips = () => {
    for (let done = 0; done + stripPixels <= pixels; done += stripPixels) {
      const at = (done / stripPixels) * stripBytes
      kernels.over(to + (at % (frameBytes - stripBytes)), from + (at % (frameBytes - stripBytes)), stripPixels)
    }
  }
  const view = { kind: 'view', view: { exposure: 1.4, channel: 'all', encoding: 'srgb' } } as const
  const name = (what: string) => `${what}, 1920x1080 RGBA, one thread, beside copying a float frame`
  const rows: Row[] = []
  const besideCopy = async (what: string, work: () => unknown, limit: number) => {
    const [ours, peer] = await inTurns(runs, work, copy)
    rows.push(besidePeer(name(what), ours, peer, limit, 'ms'))
    return ours
  }
  await besideCopy('Over', overStrips, 1.8)
  await besideCopy('Eight fused point steps, one a power', thread.picture(finished, window, { kind: 'light' }), 6)
  const four = thread.picture(blur(plate, 4, 4, 'extend'), window, { kind: 'light' })
  const forty = thread.picture(blur(plate, 40, 40, 'extend'), window, { kind: 'light' })
  await besideCopy('Gaussian of sigma 4', four, 12)
  await besideCopy('Halves to floats to 8-bit sRGB with exposure', thread.picture(halves, window, view), 2.5)
  const [wide, narrow] = await inTurns(runs, forty, four)
  rows.push(besidePeer('Gaussian of sigma 40 beside sigma 4, 1920x1080, one thread', wide, narrow, 1.5, 'ms'))

  const bent = thread.picture(resample(plate, byField(map), 'catmull-rom'), window, { kind: 'light' })
  const cv = await openCvFilters()
  const remap = cv.remapCubic(window.width, window.height)
  const [ours, theirs] = await inTurns(5, bent, remap)
  rows.push(
    besidePeer('Catmull-Rom through a map, 1920x1080, one thread, beside opencv-js bicubic', ours, theirs, 1, 'ms'),
  )
  const [fourAgain, cvFour] = await inTurns(3, four, cv.gaussian(window.width, window.height, 4))
  rows.push(beside('Gaussian of sigma 4, 1920x1080, one thread, beside opencv-js', fourAgain, cvFour, 'ms'))
  sharp.concurrency(1)
  const raw = new Float32Array(pixels * 4).fill(0.25)
  const input = { raw: { width: 1920, height: 1080, channels: 4 } } as const
  const [fourOnce, vipsFour] = await inTurns(3, four, () =>
    sharp(raw, input).blur({ sigma: 4, precision: 'float' }).raw({ depth: 'float' }).toBuffer(),
  )
  rows.push(beside('Gaussian of sigma 4, 1920x1080, one thread, beside libvips', fourOnce, vipsFour, 'ms'))
  return [...rows, ...toTheHorizon()]
}

async function openCvFilters() {
  const { cv } = await openCv()
  const picture = (width: number, height: number) => {
    const matrix = new cv.Mat(height, width, cv.CV_32FC4)
    for (let i = 0; i < matrix.data32F.length; i++) matrix.data32F[i] = light(i & 3, i % width, i / width)
    return matrix
  }
  return {
    remapCubic(width: number, height: number) {
      const [x, y] = [new cv.Mat(height, width, cv.CV_32FC1), new cv.Mat(height, width, cv.CV_32FC1)]
      for (let row = 0; row < height; row++)
        for (let column = 0; column < width; column++) {
          x.data32F[row * width + column] = column + 4 * Math.sin(row / 90)
          y.data32F[row * width + column] = row + 3 * Math.cos(column / 80)
        }
      const [source, target] = [picture(width, height), new cv.Mat()]
      return () => cv.remap(source, target, x, y, cv.INTER_CUBIC)
    },
    gaussian(width: number, height: number, sigma: number) {
      const [source, target] = [picture(width, height), new cv.Mat()]
      return () => cv.GaussianBlur(source, target, new cv.Size(0, 0), sigma)
    },
  }
}

/** A checker on the ground to 1 degree of the horizon, beside 256 samples a pixel of the same filter. */
function toTheHorizon(): Row[] {
  return (['catmull-rom', 'lanczos-3'] as const).flatMap((filter) => {
    const { whole, nearest } = nearHorizon(filter)
    return [
      atLeast(`Checker on the ground, 30 rows from 1 degree below the horizon, ${filter}`, whole, 38, 'dB'),
      atLeast('… its row nearest to the horizon', nearest, 38, 'dB'),
    ]
  })
}
