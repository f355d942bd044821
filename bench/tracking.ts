/** Points that are tracked: beside the bound that noise sets, beside opencv-js, on planted losses, and on the demo, whose motion is known. */

import { execFileSync } from 'node:child_process'
import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join, resolve } from 'node:path'
import { pathToFileURL } from 'node:url'
import type { Matrix3 } from '../core/graph/steps'
import type { Window } from '../core/image/window'
import { randomOf } from '../core/test/random'
import { throughMatrix } from '../core/motion/mapping'
import { halfToFloat } from '../core/image/half'
import { bytesSource, readExr } from '../formats/exr'
import { unpacking } from '../server/media/exr-blocks'
import { spreadPoints } from '../core/track/spread-points'
import { brightnessOf, NothingToFollowError, trackPoint, type PointTrack, type RegionTrack } from '../core/track'
import { boundOf, found, isHeld, middle, picturesOf, radius, side, type Moved } from '../core/track/test/moved-texture'
import {
  boundOf as boundOfRegion,
  cornerError,
  found as foundRegion,
  identity,
  motions,
  near,
  pictureOf,
  side as regionSide,
  type Seen,
} from '../core/track/test/moved-region'

import { textureOf } from '../core/track/test/texture'
import { track } from '../server/commands/track'
import { distort, eye, project, rotationOf, turnedView, undistort, type Lens, type Pose } from '../standin/camera'
import { openCv, type OpenCv } from './open-cv'
import { atLeast, atMost, beside, median, type Row } from './row'

const phases = 16
const built = pathToFileURL(`${resolve('dist/node')}/`)

export async function benchTracking(data: string): Promise<Row[]> {
  return [...(await besideBounds()), ...regionBesideBound(), ...(await losses()), ...(await onTheDemo(data))]
}

/** Patterns of 21 x 21 on textures with a closed form, at each sixteenth of a pixel. */
async function besideBounds(): Promise<Row[]> {
  const rows: Row[] = []
  const { cv } = await openCv()
  for (const contrast of [5, 10, 20]) {
    const noise = 1 / contrast
    const sets = phases * (contrast === 5 ? 100 : 50)
    const byPhase = Array.from({ length: phases }, () => ({ sum: 0, squares: 0, count: 0 }))
    let [squares, bounds, held, theirs] = [0, 0, 0, 0]
    for (let seed = 1; seed <= sets; seed++) {
      const phase = seed % phases
      const moved: Moved = { noise, shift: [phase / phases, ((phase * 5) % phases) / phases] }
      const one = found(seed, moved)
      if (!one) throw new Error(`Pattern ${seed} was not found.`)
      const [ex, ey] = [one.at.x - middle.x - moved.shift[0], one.at.y - middle.y - moved.shift[1]]
      squares += ex * ex + ey * ey
      bounds += 2 * boundOf(seed, noise) ** 2
      theirs += lucasKanade(cv, seed, moved)
      if (isHeld(one.spread, ex, ey)) held++
      byPhase[phase].sum += ex
      byPhase[phase].squares += ex * ex
      byPhase[phase].count++
    }
    const what = `Point track, 21 x 21, contrast to noise ${contrast}`
    // Of so many sets a mean has an error of its own: what lies beyond three of it counts.
    const bias = Math.max(
      ...byPhase.map(
        ({ sum, squares: of, count }) => Math.abs(sum / count) - (3 * Math.sqrt(of / count)) / Math.sqrt(count),
      ),
    )
    rows.push(
      atMost(`${what}: error beside the bound`, Math.sqrt(squares / bounds), 1.25, 'x'),
      atMost('… largest mean error of 16 phases, beyond three of its own errors', bias, 0.005, 'px'),
      atLeast('… of stated 90 % ellipses hold the truth', (100 * held) / sets, 85, '%'),
      atMost('… and no more than', (100 * held) / sets, 95, '%'),
      beside(
        '… error beside opencv-js Lucas-Kanade',
        Math.sqrt(squares / sets / 2),
        Math.sqrt(theirs / sets / 2),
        'px',
      ),
    )
  }
  let [squares, bounds] = [0, 0]
  for (let seed = 1; seed <= 400; seed++) {
    const shift = [0.4, -0.3] as const
    const moved: Moved = { noise: 0.1, model: 'similarity', turn: (5 * Math.PI) / 180, scale: 1.05, gain: 1.2, shift }
    const one = found(seed, moved)
    if (!one) throw new Error(`Pattern ${seed} was not found.`)
    squares += (one.at.x - middle.x - shift[0]) ** 2 + (one.at.y - middle.y - shift[1]) ** 2
    bounds += 2 * boundOf(seed, 0.1) ** 2
  }
  rows.push(
    atMost(
      '… turned by 5 degrees, 5 % larger, 20 % lighter: error beside the bound',
      Math.sqrt(squares / bounds),
      1.5,
      'x',
    ),
  )
  return rows
}

const regions = 30

function regionBesideBound(): Row[] {
  const [noise, gain] = [0.1, 1.3]
  const ofCovered: Seen = { noise, gain, covered: (x) => x > 80 && x < 98 }
  let [squares, bounds, plain] = [0, 0, 0]
  for (let seed = 1; seed <= regions; seed++) {
    const one = foundRegion(seed, 'homography', near('homography'), ofCovered)
    const whole = foundRegion(seed, 'homography', near('homography'), { noise, gain })
    if (!one || !whole) throw new Error(`Region ${seed} was not found.`)
    squares += cornerError('homography', one.matrix) ** 2
    plain += cornerError('homography', whole.matrix) ** 2
    bounds += boundOfRegion(seed, noise, gain) ** 2
  }
  const name = 'Homography of 81 x 73, light x 1.3, a fifth covered: corners beside the bound'
  const error = (sum: number) => Math.sqrt(sum / regions)
  return [
    atMost(name, Math.sqrt(squares / bounds), 1.5, 'x'),
    beside('… beside OpenCV findTransformECC', error(squares), error(enhancedCorrelation(ofCovered)), 'px'),
    beside('… the same, nothing covered', error(plain), error(enhancedCorrelation({ noise, gain })), 'px'),
  ]
}

const eccScript = `
import sys, json, numpy as np, cv2
folder, count, side = sys.argv[1], int(sys.argv[2]), int(sys.argv[3])
start = np.array(json.load(open(folder + '/start.json')), np.float32).reshape(3, 3)
mask = np.zeros((side, side), np.uint8)
mask[24:97, 20:101] = 255
out = []
for i in range(1, count + 1):
    first, second = [np.fromfile(f'{folder}/{i}-{k}.raw', np.float32).reshape(side, side) for k in (1, 2)]
    until = (cv2.TERM_CRITERIA_EPS | cv2.TERM_CRITERIA_COUNT, 200, 1e-8)
    cut = np.zeros_like(mask); cut[:] = mask
    # The mask is of the picture that is moved: the first is given as that, and the way found is turned about.
    try:
        _, warp = cv2.findTransformECC(second, first, np.linalg.inv(start).astype(np.float32), cv2.MOTION_HOMOGRAPHY, until, cut, 5)
        back = np.linalg.inv(warp.astype(np.float64))
        out.append((back / back[2, 2]).ravel().tolist())
    except cv2.error:
        out.append(None)
print(json.dumps(out))
`

/** @returns the sum of squares of its corners' errors; what it does not find counts as where it began */
function enhancedCorrelation(seen: Seen): number {
  const folder = mkdtempSync(join(tmpdir(), 'enkrasis-ecc-'))
  try {
    const start = near('homography')
    writeFileSync(join(folder, 'start.json'), JSON.stringify(start))
    for (let seed = 1; seed <= regions; seed++) {
      const first = pictureOf(seed, identity, 1, { noise: seen.noise ?? 0 })
      const second = pictureOf(seed, motions.homography, 2, seen)
      for (const [k, { values }] of [first, second].entries())
        writeFileSync(join(folder, `${seed}-${k + 1}.raw`), Float32Array.from(values))
    }
    const given = ['-c', eccScript, folder, `${regions}`, `${regionSide}`]
    const told = JSON.parse(execFileSync('/usr/bin/python3', given, { encoding: 'utf8' })) as (Matrix3 | null)[]
    return told.reduce((sum, matrix) => sum + cornerError('homography', matrix ?? start) ** 2, 0)
  } finally {
    rmSync(folder, { recursive: true, force: true })
  }
}

/** @returns the square of its error; it reads 8-bit pictures, as it does everywhere */
function lucasKanade(cv: OpenCv, seed: number, moved: Moved): number {
  const [first, second] = picturesOf(seed, moved).map(({ values }) => {
    const matrix = new cv.Mat(side, side, cv.CV_8UC1)
    values.forEach((value, i) => (matrix.data[i] = Math.max(0, Math.min(255, Math.round(128 + 28 * value)))))
    return matrix
  })
  const [from, to] = [new cv.Mat(1, 1, cv.CV_32FC2), new cv.Mat()]
  const [status, error] = [new cv.Mat(), new cv.Mat()]
  from.data32F.set([middle.x, middle.y])
  // Thirty rounds, or a step below a ten-thousandth of a pixel.
  const until = new cv.TermCriteria(3, 30, 1e-4)
  cv.calcOpticalFlowPyrLK(first, second, from, to, status, error, new cv.Size(2 * radius + 1, 2 * radius + 1), 0, until)
  const [x, y] = to.data32F
  for (const one of [first, second, from, to, status, error]) one.delete()
  return (x - middle.x - moved.shift[0]) ** 2 + (y - middle.y - moved.shift[1]) ** 2
}

const tracks = 300
const frame = { width: 320, height: 180 }
const [first, last] = [1001, 1048]

/** A texture that sways in the frame; from `lostAt` on something happens to it. */
function plateOf(seed: number, kind: 'sound' | 'covered' | 'left' | 'cut' | 'blurred', lostAt: number) {
  // Few waves: tens of thousands of pictures are made of them.
  const [texture, other] = [textureOf(seed, 6, 6), textureOf(seed + 5000, 6, 6)]
  const way = (at: number) => {
    const n = at - first
    const away = kind === 'left' && at >= lostAt ? 8 * (at - lostAt + 1) : 0
    return { x: 6 * Math.sin(n / 5 + seed) - 6 * Math.sin(seed) + away, y: 4 * Math.sin(n / 7) }
  }
  const noise = 0.01 + 0.01 * (seed % 3)
  const light = (at: number, { x: left, y: top, width, height }: Window): Promise<Float32Array> => {
    const { normal } = randomOf(seed * 100 + at)
    const { x: dx, y: dy } = way(at)
    const out = new Float32Array(width * height * 4)
    const lost = at >= lostAt
    for (let i = 0; i < width * height; i++) {
      const [x, y] = [left + (i % width), top + Math.floor(i / width)]
      if (x < 0 || y < 0 || x >= frame.width || y >= frame.height) continue
      const [u, v] = [x + 0.5 - dx, y + 0.5 - dy]
      const seen =
        lost && kind === 'covered'
          ? 0.9 * other(x, y)
          : lost && kind === 'cut'
            ? other(u, v)
            : lost && kind === 'blurred'
              ? blurred(texture, u, v)
              : texture(u, v)
      const value = 0.4 + 0.1 * seen + noise * normal()
      out.set([value, value, value, 1], 4 * i)
    }
    return Promise.resolve(out)
  }
  return { light, way }
}

/** Motion of nine pixels across while the shutter was open. */
function blurred(texture: (x: number, y: number) => number, x: number, y: number): number {
  let sum = 0
  for (let k = -4; k <= 4; k++) sum += texture(x + k, y + k / 2)
  return sum / 9
}

/** @returns null where the pattern cannot be followed, which was said before it began */
const orRefused = (tracking: Promise<PointTrack>): Promise<PointTrack | null> =>
  tracking.catch((error: unknown) => {
    if (error instanceof NothingToFollowError) return null
    throw error
  })

async function losses(): Promise<Row[]> {
  const point = { x: 160.5, y: 90.5 }
  const kinds = ['covered', 'left', 'cut', 'blurred'] as const
  let [planted, reported, stopped, tracked] = [0, 0, 0, 0]
  for (let seed = 1; seed <= tracks; seed++) {
    const kind = kinds[seed % kinds.length]
    // What leaves must have the time to come to the frame's edge.
    const lostAt = 1006 + ((seed * 7) % (kind === 'left' ? 18 : 30))
    const { light, way } = plateOf(seed, kind, lostAt)
    const { x, y } = way(first)
    // A pattern that is seen again nearby is refused before it can be lost.
    const lost = await orRefused(
      trackPoint(light, frame, { point: { x: point.x + x, y: point.y + y }, from: first, to: last }),
    )
    if (lost) planted++
    // What leaves is lost when its pattern reaches the frame's edge.
    const gone =
      kind === 'left'
        ? Array.from({ length: last - first + 1 }, (_, i) => first + i).find(
            (at) => point.x + way(at).x + 10 >= frame.width,
          )
        : lostAt
    if (gone !== undefined && lost?.stopped && Math.abs(lost.stopped.frame - gone) <= 2) reported++
    const sound = plateOf(seed, 'sound', Infinity)
    const from = sound.way(first)
    const whole = await orRefused(
      trackPoint(sound.light, frame, {
        point: { x: point.x + from.x, y: point.y + from.y },
        ...{ from: first, to: last },
      }),
    )
    if (!whole) continue
    tracked++
    if (whole.stopped) stopped++
  }
  return [
    atLeast(`Of ${planted} planted losses, told within 2 frames`, (100 * reported) / planted, 95, '%'),
    atMost(`Of ${tracked} sound tracks of 48 frames, stopped`, (100 * stopped) / tracked, 2, '%'),
  ]
}

interface Truth {
  readonly camera: { readonly lens: Lens; readonly poses: readonly (Pose & { readonly frame: number })[] }
}

/** The sea moves by itself between these rows of the demo's 720: what lies there has no known way. */
const sea = { top: 380, bottom: 510 } as const

/** Points on still things, chosen as the camera's shake chooses its own: the camera only turns, so that the way of each is known. */
async function stillPoints(data: string): Promise<readonly (readonly [x: number, y: number])[]> {
  const path = join(data, 'media/quay-010/plate/quay-010_plate.1001.exr')
  const { dataWindow, planes } = await readExr(bytesSource(new Uint8Array(readFileSync(path)), path), unpacking)
  const light = new Float32Array(dataWindow.width * dataWindow.height * 4)
  ;['R', 'G', 'B'].forEach((name, c) => {
    const samples = planes.find((plane) => plane.name === name)?.samples ?? []
    for (let i = 0; i < samples.length; i++) {
      const y = Math.floor(i / dataWindow.width)
      if (y < sea.top || y >= sea.bottom) light[4 * i + c] = halfToFloat(samples[i])
    }
  })
  // The sea's edge is no thing that could be followed.
  const clear = ({ y }: { readonly y: number }) => Math.abs(y - sea.top) > 24 && Math.abs(y - sea.bottom) > 24
  return spreadPoints(brightnessOf(light, dataWindow), 24, 10, 24)
    .filter(clear)
    .map(({ x, y }) => [x + 0.5, y + 0.5] as const)
}

async function onTheDemo(data: string): Promise<Row[]> {
  const file = join(data, 'media/quay-010/quay-010.shot.json')
  const truth = JSON.parse(readFileSync(join(data, 'truth/quay-010/truth.json'), 'utf8')) as Truth
  const folder = mkdtempSync(join(tmpdir(), 'enkrasis-tracking-'))
  const quiet = console.log
  try {
    console.log = () => undefined
    const errors: number[] = []
    const seconds: number[] = []
    let refused = 0
    const places = await stillPoints(data)
    for (const [x, y] of places) {
      const json = join(folder, `${x}.json`)
      const start = performance.now()
      try {
        await track(file, { point: { x, y }, model: 'translation', json, threads: 2, memory: 512, built })
      } catch (error) {
        if (!(error instanceof NothingToFollowError)) throw error
        refused++
        continue
      }
      seconds.push((performance.now() - start) / 1000)
      const { points } = JSON.parse(readFileSync(json, 'utf8')) as PointTrack
      for (const { frame: at, at: where } of points) {
        const [tx, ty] = wayOf(truth, x, y, at)
        errors.push(Math.hypot(where.x - tx, where.y - ty))
      }
    }
    console.log = quiet
    const outline = join(folder, 'outline.json')
    writeFileSync(outline, JSON.stringify({ outline: [[120, 410], [320, 410], [320, 610], [120, 610]] })) // prettier-ignore
    console.log = () => undefined
    const start = performance.now()
    await track(file, { region: outline, model: 'homography', threads: 2, memory: 512, built })
    const regionSeconds = (performance.now() - start) / 1000
    const json = join(folder, 'camera.json')
    const shakeStart = performance.now()
    await track(file, { camera: true, model: 'homography', json, threads: 2, memory: 512, built })
    const shakeSeconds = (performance.now() - shakeStart) / 1000
    console.log = quiet
    const shake = JSON.parse(readFileSync(json, 'utf8')) as RegionTrack
    const shakeErrors = shake.frames.flatMap(({ frame: at, matrix }) =>
      rimPlaces.map(([x, y]) => {
        const [tx, ty] = wayOf(truth, x, y, at)
        const place = throughMatrix(matrix, x, y) ?? [Infinity, Infinity]
        return Math.hypot(place[0] - tx, place[1] - ty)
      }),
    )
    shakeErrors.sort((a, b) => a - b)
    errors.sort((a, b) => a - b)
    const name = `${places.length - refused} points on the demo's 48 frames`
    return [
      atMost(`${name}, off the known motion: median`, median(errors), 0.05, 'px'),
      atMost('… 95th percentile', errors[Math.floor(0.95 * errors.length)], 0.15, 'px'),
      atMost('One point over the demo, 1280x720, decoding included', median(seconds), 1.5, 's'),
      atMost('… a region of 200 x 200, in perspective', regionSeconds, 10, 's'),
      atMost('… the camera’s shake from up to 200 points', shakeSeconds, 8, 's'),
      atMost('… its corners and middle, off the known motion: median', median(shakeErrors), 0.05, 'px'),
      atMost('… 95th percentile', shakeErrors[Math.floor(0.95 * shakeErrors.length)], 0.15, 'px'),
    ]
  } finally {
    console.log = quiet
    rmSync(folder, { recursive: true, force: true })
  }
}

/** The frame's corners and its middle. */
const rimPlaces = [[0, 0], [1280, 0], [1280, 720], [0, 720], [640, 360]] as const // prettier-ignore

/** Where a far point that was seen at a place on the first frame is seen on another. */
function wayOf({ camera: { lens, poses } }: Truth, x: number, y: number, at: number): readonly [number, number] {
  const pose = (frameNumber: number) => poses.find((one) => one.frame === frameNumber) as Pose
  const [ux, uy] = undistort(x, y, lens)
  const [a, b, c] = [(ux - lens.centreX) / lens.focal, -(uy - lens.centreY) / lens.focal, 1]
  const r = rotationOf(pose(first))
  const world = [r[0] * a + r[1] * b - r[2] * c, r[3] * a + r[4] * b - r[5] * c, r[6] * a + r[7] * b - r[8] * c]
  const out = { x: 0, y: 0, depth: 0 }
  project(world[0], eye.y + world[1], world[2], turnedView(lens, pose(at)), out)
  return distort(out.x, out.y, lens)
}
