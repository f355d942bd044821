import { bent, straightener } from '../motion/lens'
import { inverseOf, throughMatrix } from '../motion/mapping'
import { cornerMatrix } from '../motion/placing'
import { rectangleBefore } from '../motion/test/rectangle-before'
import { edited, only } from '../test/planned'
import { treated } from '../test/small-shot'
import {
  cornersOfRegion,
  find,
  laidOn,
  lensOver,
  newPlacing,
  newRegion,
  newTreatment,
  placedMatrix,
  planeGrid,
  planeTold,
  ratioOf,
  trackAt,
  type Change,
  type PlaneShape,
  type Shot,
  type Track,
} from '.'

/** A region that is a rectangle of the scene, 1.6 times as wide as high, seen askew; on a second frame from elsewhere. */

const base = only('plate', 'cg')
const { width, height } = base.frameSize
const middle = [width / 2, height / 2] as const
const ratio = 1.6
const first = rectangleBefore(ratio, 1, 500, [0.5, 0.6, 0.1], middle)
const second = rectangleBefore(ratio, 1, 500, [0.6, 0.4, 0.05], middle)

function withRegion(
  shot: Shot,
  on: Readonly<Record<number, readonly (readonly [number, number])[]>> = { 1001: first, 1003: second },
) {
  const region = newRegion(shot, 1001, on[1001], 'homography')
  const outlined = edited(shot, region)
  const tracks = region.changes.map((change) => (change as { track: Track }).track)
  const id = tracks[0].region?.id ?? ''
  const followed = Object.entries(on)
    .filter(([frame]) => frame !== '1001')
    .flatMap(([frame, spots]) =>
      tracks.map((track, i): Change => ({
        kind: 'set-track-points',
        track: track.id,
        points: { [frame]: { x: spots[i][0], y: spots[i][1], across: 0.02, down: 0.02, likeness: 1 } },
      })),
    )
  const all = edited(outlined, ...followed)
  return { shot: all, id, corners: cornersOfRegion(all, id) ?? [] }
}
const as = (shot: Shot, id: string, plane: PlaneShape | null) => {
  const now = edited(
    shot,
    ...(cornersOfRegion(shot, id) ?? []).map((one): Change => ({
      kind: 'set-track',
      track: one.id,
      changes: { plane },
    })),
  )
  return { shot: now, corners: cornersOfRegion(now, id) ?? [] }
}

test('its shape is told by the frame whose perspective tells it best, with its error', () => {
  const { shot, corners } = withRegion(base)
  const told = planeTold(shot, corners)
  expect(told?.frame).toBe(1003)
  expect(told?.ratio).toBeCloseTo(ratio, 2)
  expect(told?.error).toBeGreaterThan(0.0005)
  expect(told?.error).toBeLessThan(0.1)
  expect(ratioOf(shot, corners)).toBeCloseTo(ratio, 2)
})

test('behind a lens it is told all the same, by the straight picture', () => {
  const bending = { ...newTreatment('lens', 'lens').parameters, k1: [-0.2], k2: [0.03] }
  const lensed = treated(base, { kind: 'glass' }, { ...newTreatment('lens', 'lens'), parameters: bending })
  const lens = lensOver(lensed, null)?.at(1001)
  if (!lens) throw new Error('There is no lens.')
  const through = (spots: readonly (readonly [number, number])[]) => spots.map((spot) => bent(lens, spot))
  const { shot, corners, id } = withRegion(lensed, { 1001: through(first), 1003: through(second) })
  expect(planeTold(shot, corners)?.ratio).toBeCloseTo(ratio, 2)
  // A line of its grid is straight in the straight picture, and bowed on the plate.
  const grid = as(shot, id, { squares: 4 })
  const straight = straightener(lens)
  const bowOf = (line: readonly (readonly [number, number])[]) => {
    const [[ax, ay], [bx, by]] = [line[0], line[line.length - 1]]
    const [nx, ny] = [(by - ay) / Math.hypot(bx - ax, by - ay), (ax - bx) / Math.hypot(bx - ax, by - ay)]
    return Math.max(...line.map(([x, y]) => Math.abs((x - ax) * nx + (y - ay) * ny)))
  }
  const lines = planeGrid(grid.shot, grid.corners, 1001)
  expect(lines.length).toBeGreaterThan(5)
  for (const line of lines)
    expect(bowOf(line.map(([x, y]) => straight(x, y) as readonly [number, number]))).toBeLessThan(1e-4)
  expect(Math.max(...lines.map(bowOf))).toBeGreaterThan(0.05)
})

test('from straight ahead nothing is told: it counts as a square until its shape is typed', () => {
  const flat = [
    [20, 20],
    [100, 20],
    [100, 70],
    [20, 70],
  ] as const
  const { shot, corners, id } = withRegion(base, { 1001: flat })
  expect(planeTold(shot, corners)).toBeNull()
  expect(ratioOf(shot, corners)).toBe(1)
  const typed = as(shot, id, { ratio: 1.25 })
  expect(ratioOf(typed.shot, typed.corners)).toBe(1.25)
  const again = as(typed.shot, id, null)
  expect(again.corners[0].region && 'plane' in again.corners[0].region).toBe(false)
})

test('its grid has squares: so many across, from its left edge to its right one, within its corners', () => {
  const square = [
    [20, 10],
    [100, 10],
    [100, 60],
    [20, 60],
  ] as const
  const { shot, id } = withRegion(base, { 1001: square })
  const { shot: now, corners } = as(shot, id, { ratio: 1.6, squares: 8 })
  const lines = planeGrid(now, corners, 1001)
  const upright = lines.filter((line) => Math.abs(line[0][0] - line[line.length - 1][0]) < 1e-6).map(([[x]]) => x)
  const level = lines.filter((line) => Math.abs(line[0][1] - line[line.length - 1][1]) < 1e-6).map(([[, y]]) => y)
  expect(upright.map((x) => Math.round(x * 1e6) / 1e6).sort((a, b) => a - b)).toEqual([
    20, 30, 40, 50, 60, 70, 80, 90, 100,
  ])
  expect(level.map((y) => Math.round(y * 1e6) / 1e6).sort((a, b) => a - b)).toEqual([15, 25, 35, 45, 55])
  expect(planeGrid(now, corners, 1003)).toEqual([])
  // Of an odd number too.
  const five = as(now, id, { ratio: 1.6, squares: 5 })
  const edges = planeGrid(five.shot, five.corners, 1001).filter((line) => Math.abs(line[0][0] - line[12][0]) < 1e-6)
  expect(edges.map(([[x]]) => Math.round(x)).sort((a, b) => a - b)).toEqual([20, 36, 52, 68, 84, 100])
  // Turned, it stays within.
  const turned = as(now, id, { ratio: 1.6, squares: 8, turn: 30 })
  for (const [x, y] of planeGrid(turned.shot, turned.corners, 1001).flat()) {
    expect(x).toBeGreaterThan(20 - 1e-3)
    expect(x).toBeLessThan(100 + 1e-3)
    expect(y).toBeGreaterThan(10 - 1e-3)
    expect(y).toBeLessThan(60 + 1e-3)
  }
})

test('a picture laid on it as it is keeps its shape there, turned or not, and stays on it on other frames', () => {
  const { shot, id } = withRegion(base)
  const box = { x: 5, y: 5, width: 60, height: 60 }
  const placed = edited(shot, { kind: 'place-element', element: 'cg', placing: newPlacing(box, {}) } as Change)
  for (const turn of [0, 30]) {
    const { shot: now, corners } = as(placed, id, { turn, ratio })
    const cg = find(now.elements, 'cg')
    const edit = cg && laidOn(now, cg, corners, 1001, 'as it is')
    if (!edit) throw new Error('It cannot be laid there.')
    const laid = edited(now, edit)
    for (const [frame, spots] of [
      [1001, first],
      [1003, second],
    ] as const) {
      const tracked = corners.map((corner) => trackAt(corner, frame))
      tracked.forEach(([x, y], i) => expect(Math.hypot(x - spots[i][0], y - spots[i][1])).toBeLessThan(1e-6))
      // Back on the rectangle its sides are alike and upright on each other.
      const onRectangle = rectangleBack(spots)
      const corner = (x: number, y: number) => {
        const at = throughMatrix(placedMatrix(laid, 'cg', frame), x, y) as readonly [number, number]
        return onRectangle(at)
      }
      const [a, b, d] = [corner(5, 5), corner(65, 5), corner(5, 65)]
      const [across, down] = [
        [b[0] - a[0], b[1] - a[1]],
        [d[0] - a[0], d[1] - a[1]],
      ]
      expect(Math.hypot(...across)).toBeCloseTo(Math.hypot(...down), 3)
      expect(across[0] * down[0] + across[1] * down[1]).toBeCloseTo(0, 3)
      expect((Math.atan2(across[1], across[0]) * 180) / Math.PI).toBeCloseTo(turn, 1)
      const most = turn === 0 ? 1 : 1 / (Math.cos(Math.PI / 6) + Math.sin(Math.PI / 6))
      expect(Math.hypot(...across)).toBeCloseTo(most, 3)
    }
  }
})

/** From the picture to the rectangle, 1 high. */
function rectangleBack(spots: readonly (readonly [number, number])[]) {
  const matrix = cornerMatrix({ x: 0, y: 0, width: ratio, height: 1 }, spots)
  const back = matrix && inverseOf(matrix)
  if (!back) throw new Error('It folds.')
  return ([x, y]: readonly [number, number]) => throughMatrix(back, x, y) as readonly [number, number]
}
