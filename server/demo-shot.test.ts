import { readFileSync } from 'node:fs'
import { join } from 'node:path'
import { halfToFloat } from '../core/image/half'
import type { Planes } from '../core/image/planes'
import { readExr, readExrHeader } from '../formats/exr'
import { unpacking } from './media/exr-blocks'
import { withFile } from './media/file-source'
import { smallData } from './test/running-server'

/** The files that the stand-in camera made hold what a renderer and a camera crew would deliver. */

const shot = join(smallData(), 'media', 'quay-010')
const bell = join(shot, 'cg', 'quay-010_bell.1003.exr')
const read = (path: string, part?: string) => withFile(path, path, (source) => readExr(source, { ...unpacking, part }))
const channel = ({ planes }: Planes, name: string) => {
  const plane = planes.find((p) => p.name === name)
  if (!plane) throw new Error(`no channel ${name}`)
  return plane.type === 'half' ? Float32Array.from(plane.samples, halfToFloat) : (plane.samples as Float32Array)
}
const lightPasses = ['diffuse_direct', 'diffuse_indirect', 'specular_direct', 'specular_indirect', 'emission']

test('a CG frame is one file with a part a pass', async () => {
  const header = await withFile(bell, bell, readExrHeader)
  expect(header.parts.map((part) => part.name)).toEqual([
    'beauty',
    ...lightPasses,
    ...['alpha', 'depth', 'normal', 'facing', 'motion', 'id', 'shadow', 'occlusion', 'ground_reflection'],
  ])
  expect(header.parts[0].displayWindow).toEqual({ x: 0, y: 0, width: 640, height: 360 })
})

test('the light passes add up to the beauty to 2e-3', async () => {
  const beauty = await read(bell, 'beauty')
  const passes = await Promise.all(lightPasses.map((name) => read(bell, name)))
  for (const name of ['R', 'G', 'B']) {
    const sums = passes.map((pass) => channel(pass, name))
    const errors = channel(beauty, name).map((value, i) => {
      const rebuilt = sums.reduce((sum, pass) => sum + pass[i], 0)
      return Math.abs(rebuilt - value) / Math.max(value, 0.01)
    })
    expect(errors.reduce((most, error) => Math.max(most, error), 0)).toBeLessThan(2e-3)
  }
})

test('the beauty is premultiplied, its alpha is the alpha pass, and depth is where alpha is', async () => {
  const beauty = await read(bell, 'beauty')
  const [alpha, depth] = await Promise.all([read(bell, 'alpha'), read(bell, 'depth')])
  const a = channel(beauty, 'A')
  expect(a).toEqual(channel(alpha, 'Y'))
  const [z, red] = [channel(depth, 'Z'), channel(beauty, 'R')]
  expect(a.every((value, i) => z[i] > 0 === value > 0 && (value > 0 || red[i] === 0))).toBe(true)
})

test('the CG is too black and off in colour by what the truth says', async () => {
  const truth = JSON.parse(readFileSync(join(smallData(), 'truth', 'quay-010', 'truth.json'), 'utf8')) as {
    cgGain: number[]
    frames: { frame: number; veil: number[] }[]
  }
  const seen = await read(join(smallData(), 'truth', 'quay-010', 'quay-010_truth.1003.exr'))
  const beauty = await read(bell, 'beauty')
  const veil = truth.frames[2].veil
  const { x, y, width, height } = beauty.dataWindow
  const a = channel(beauty, 'A')
  // The middle of the bell, where the lens hardly moves anything: mean of what the camera saw against gain and veil on the CG.
  for (const [c, name] of ['R', 'G', 'B'].entries()) {
    const [rendered, recorded] = [channel(beauty, name), channel(seen, name)]
    let cg = 0
    let camera = 0
    let count = 0
    for (let row = Math.floor(height * 0.4); row < height * 0.75; row++) {
      for (let column = Math.floor(width * 0.3); column < width * 0.7; column++) {
        if (a[row * width + column] < 1) continue
        cg += rendered[row * width + column]
        camera += recorded[(y + row) * 640 + x + column]
        count++
      }
    }
    expect(count).toBeGreaterThan(1000)
    const matched = (cg / count) * truth.cgGain[c] + veil[c]
    expect(Math.abs(matched - camera / count) / matched).toBeLessThan(0.05)
    expect(cg / count).toBeLessThan(camera / count)
  }
})

test('the matte of what stands in front goes from nothing to full, over the plate’s frame', async () => {
  const matte = channel(await read(join(shot, 'matte', 'quay-010_front.1003.exr')), 'Y')
  expect(matte).toHaveLength(640 * 360)
  expect(matte.some((m) => m === 1) && matte.every((m) => m >= 0 && m <= 1)).toBe(true)
  expect(matte.filter((m) => m === 0).length).toBeGreaterThan(matte.length * 0.8)
  expect(matte.filter((m) => m > 0.2 && m < 0.8).length).toBeGreaterThan(100)
})

test('the lens maps undo each other', async () => {
  const [redistort, undistort] = await Promise.all(
    ['redistort', 'undistort'].map((name) => read(join(shot, 'lens', `quay-010_${name}.exr`))),
  )
  const at = (map: Planes, x: number, y: number) => [
    channel(map, 'R')[y * 640 + x] * 640,
    channel(map, 'G')[y * 640 + x] * 360,
  ]
  const [u, v] = at(undistort, 500, 100)
  const [i, j] = [Math.round(u - 0.5), Math.round(v - 0.5)]
  const [x, y] = at(redistort, i, j)
  expect(Math.hypot(x - 500.5 - (i + 0.5 - u), y - 100.5 - (j + 0.5 - v))).toBeLessThan(0.05)
  expect(Math.hypot(u - 500.5, v - 100.5)).toBeGreaterThan(0.3)
})
