/** Drawn mattes: coverage beside exact areas, time of soft and of moving shapes, and an outline pulled to the demo's bollard. */

import { readFileSync } from 'node:fs'
import { join } from 'node:path'
import { contours } from 'd3-contour'
import { flattened, fittedStroke, nearestOn, coverageOf, type Outline } from '../core/outline'
import { outline as outlineStep, type Step } from '../core/graph/steps'
import { nodeAt } from '../core/plan/node'
import { PlanMemo } from '../core/plan/memo'
import { halfToFloat } from '../core/image/half'
import { matteBase, newShape, tableOf, throughSpots, type DrawnMatte, type Shot } from '../core/shot'
import { shapeDescription } from '../core/set/owners'
import { parametersFor } from '../core/shot/parameters'
import { brightnessOf, edgeOffsets, pulledOutline } from '../core/track'
import { randomOf } from '../core/test/random'
import { bytesSource, readExr } from '../formats/exr'
import { unpacking } from '../server/media/exr-blocks'
import { OneThread } from './one-thread'
import { placedShot } from './placed-shot'
import { atMost, besidePeer, inTurns, median, type Row } from './row'

type Spot = readonly [number, number]
const { abs, cos, floor, max, PI, sin } = Math

export async function benchMattes(data: string): Promise<Row[]> {
  return [besideExactAreas(), ...(await shapes()), await bollard(data)]
}

/** Area of a convex polygon inside a pixel, by clipping it (Sutherland and Hodgman 1974). */
function areaIn(polygon: readonly Spot[], x: number, y: number): number {
  const sides: readonly ((p: Spot) => number)[] = [
    ([px]) => px - x,
    ([px]) => x + 1 - px,
    ([, py]) => py - y,
    ([, py]) => y + 1 - py,
  ]
  let left: readonly Spot[] = polygon
  for (const side of sides)
    left = left.flatMap((a, i): Spot[] => {
      const b = left[(i + 1) % left.length]
      const [da, db] = [side(a), side(b)]
      const cross: Spot = [a[0] + ((b[0] - a[0]) * da) / (da - db), a[1] + ((b[1] - a[1]) * da) / (da - db)]
      return [...(da >= 0 ? [a] : []), ...(da >= 0 !== db >= 0 ? [cross] : [])]
    })
  return (
    abs(
      left.reduce(
        (sum, a, i) => sum + a[0] * left[(i + 1) % left.length][1] - left[(i + 1) % left.length][0] * a[1],
        0,
      ),
    ) / 2
  )
}

const still = { motion: null, scale: 1, inside: 0, outside: 0 }

function besideExactAreas(): Row {
  const { uniform } = randomOf(7)
  let worst = 0
  for (let n = 0; n < 300; n++) {
    // Points of an ellipse in order are a convex polygon.
    const angles = Array.from({ length: 3 + (n % 5) }, () => uniform() * 2 * PI).sort((a, b) => a - b)
    const [cx, cy, rx, ry] = [16 + uniform(), 16 + uniform(), 2 + 13 * uniform(), 2 + 13 * uniform()]
    const polygon = angles.map((a): Spot => [cx + rx * cos(a), cy + ry * sin(a)])
    const points = polygon.map(([x, y]) => ({ x, y, before: [0, 0], after: [0, 0] }) as const)
    const fill = coverageOf({ lines: [flattened(points, still)], grow: 0, profile: 'smooth' }, { first: 0, count: 34 })
    const row = new Float32Array(34)
    for (let y = 0; y < 34; y++) {
      fill(row, 0, y, 34)
      row.forEach((value, x) => (worst = max(worst, abs(value - areaIn(polygon, x, y)))))
    }
  }
  // A curve is made of straight pieces: a circle of cubics is off the true one by 3e-4 of its radius at the most.
  return atMost('Coverage of 300 hard shapes, worst pixel beside its exact area', worst * 255, 1, '/255')
}

const frame = { width: 1920, height: 1080 }
/** As many points over a quarter of the frame, the line between them bent. */
const spots = (many: number, dx = 0): readonly { readonly spot: Spot; readonly corner: boolean }[] =>
  Array.from({ length: many }, (_, i) => {
    const angle = (2 * PI * i) / many
    const r = 1 + 0.13 * sin(angle * 7)
    return { spot: [960 + dx + 425 * r * cos(angle), 540 + 239 * r * sin(angle)], corner: false }
  })

function shotWith(feather: number, moved: number): Shot {
  const base = placedShot(frame, 0, () => [])
  const matte: DrawnMatte = { ...matteBase(base, 'drawn'), id: 'matte', shapes: tableOf([]) }
  const shape = newShape(matte, 1001, throughSpots(spots(60)))
  const parameters = parametersFor(shapeDescription, { inside: [feather / 2], outside: [feather / 2] })
  const later = newShape(matte, 1003, throughSpots(spots(60, moved)))
  const places = Object.values(later.keyframes[1003])
  // The shutter is open for half a frame: twice as far on each of the two.
  const second = Object.fromEntries(Object.keys(shape.keyframes[1001]).map((id, i) => [id, places[i]]))
  const keyframes = moved === 0 ? shape.keyframes : { ...shape.keyframes, 1003: second }
  return { ...base, mattes: tableOf([{ ...matte, shapes: tableOf([{ ...shape, parameters, keyframes }]) }]) }
}

const stepOf = (shot: Shot): Step => {
  const files = { fingerprint: () => 'there', before: () => undefined }
  const step = nodeAt({ shot, scale: 1, files, memo: new PlanMemo() }, { kind: 'matte', matte: 'matte' }, 1002)
  if (step?.op !== 'outline') throw new Error('The matte is not one outline.')
  return step
}

async function shapes(): Promise<Row[]> {
  const thread = new OneThread(200)
  const time = (shot: Shot) => {
    const step = stepOf(shot)
    if (step.op !== 'outline') throw new Error('no outline')
    const run = thread.picture(step, step.window, { kind: 'light' })
    // Planned anew each time: its pieces are part of the work.
    return () => {
      stepOf(shot)
      run()
    }
  }
  const softOne = time(shotWith(8, 0))
  const [soft] = await inTurns(25, softOne, () => undefined)
  const rows = [atMost('60 points over a quarter of 1920x1080, feather 8 px, one thread', soft, 12, 'ms')]
  for (const feather of [0, 8]) {
    const moving = shotWith(feather, 64)
    const [ours, one] = await inTurns(9, time(moving), time(shotWith(feather, 0)))
    rows.push(besidePeer(`The same moving by 16 px, feather ${feather}: beside one outline`, ours, one, 5, 'ms'))
    rows.push(
      atMost('… worst pixel beside the mean of 64 exact outlines', beside64(thread, moving, feather), 2, '/255'),
    )
  }
  return rows
}

/** The step's coverage beside the mean of outlines at 64 times, each covered by itself. */
function beside64(thread: OneThread, shot: Shot, feather: number): number {
  const step = stepOf(shot)
  if (step.op !== 'outline') throw new Error('no outline')
  const { window } = step
  const count = window.width * window.height
  const read = (one: Step): Float32Array => {
    const address = thread.arena.allocate(count * 16)
    thread.pictureTo(one, window, address)()
    const light = Float32Array.from(
      { length: count },
      (_, i) => new Float32Array(thread.buffer, address, count * 4)[i * 4],
    )
    thread.arena.release(address)
    return light
  }
  const sum = new Float64Array(count)
  for (let i = 0; i < 64; i++) {
    const by = 32 - 8 + (16 * (i + 0.5)) / 64
    const line = flattened(throughSpots(spots(60, by)), { ...still, inside: feather / 2, outside: feather / 2 })
    const one = read(outlineStep({ lines: [line], grow: 0, profile: 'smooth' }, window, [by, feather]))
    one.forEach((value, k) => (sum[k] += value / 64))
  }
  const ours = read(step)
  return 255 * ours.reduce((worst, value, i) => max(worst, abs(value - sum[i])), 0)
}

/** The outline of the bollard as its matte has it, without the rope, moved by 6 px in 8 directions and pulled back. */
async function bollard(data: string): Promise<Row> {
  const file = (path: string) => {
    const full = join(data, 'media/quay-010', path)
    return readExr(bytesSource(new Uint8Array(readFileSync(full)), full), unpacking)
  }
  const matte = await file('matte/quay-010_front.1001.exr')
  const plate = await file('plate/quay-010_plate.1001.exr')
  const { width, height } = plate.dataWindow
  const valueOf = (picture: typeof matte, channel: number) => {
    const { type, samples } = picture.planes[channel]
    return (i: number) => (type === 'half' ? halfToFloat(samples[i]) : samples[i])
  }
  const own = valueOf(matte, 0)
  const window = matte.dataWindow
  // The rope leaves the bollard to the right.
  const [left, right] = [0.35 * width, 0.476 * width]
  const values = Array.from({ length: width * height }, (_, i) => {
    const [x, y] = [(i % width) - window.x, floor(i / width) - window.y]
    const inside = x >= 0 && y >= 0 && x < window.width && y < window.height
    return inside && i % width >= left && i % width < right ? own(y * window.width + x) : 0
  })
  const [half] = contours().size([width, height]).thresholds([0.5])(values)
  const ring = half.coordinates
    .map(([outer]) => outer.map(([x, y]): Spot => [x, y]))
    .sort((a, b) => b.length - a.length)[0]
  const truth = fittedStroke(ring)?.outline
  if (!truth) throw new Error('The bollard was not found in its matte.')
  const red = plate.planes.map((plane) => plane.name).indexOf('R')
  const channels = [
    red,
    plate.planes.findIndex(({ name }) => name === 'G'),
    plate.planes.findIndex(({ name }) => name === 'B'),
  ]
  const light = new Float32Array(width * height * 4)
  channels.forEach((channel, c) => {
    const value = valueOf(plate, channel)
    for (let i = 0; i < width * height; i++) light[i * 4 + c] = value(i)
  })
  const picture = brightnessOf(light, { x: 0, y: 0, width, height })
  // Where the rope was cut off there is no edge.
  const judged = ring.filter(([x]) => x < right - 12)
  const off = Array.from({ length: 8 }, (_, i) => {
    const [dx, dy] = [6 * cos((i * PI) / 4), 6 * sin((i * PI) / 4)]
    const moved: Outline = truth.map((place) => ({ ...place, x: place.x + dx, y: place.y + dy }))
    const pulled = pulledOutline(moved, edgeOffsets(picture, moved, 9)) ?? moved
    return median(judged.map(([x, y]) => nearestOn(pulled, x, y).distance))
  })
  return atMost(
    'Outline of the demo’s bollard pulled to its edge from 6 px off: median of 8 directions',
    median(off),
    0.7,
    'px',
  )
}
