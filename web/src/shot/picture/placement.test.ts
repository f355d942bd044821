import type { Lens, Matrix3, Way } from '../../../../core/graph/steps'
import { throughMatrix } from '../../../../core/motion/mapping'
import type { Spot } from '../../../../core/motion/placing'
import { along, throughLens, wayBack } from '../../../../core/motion/way'
import { drawnMoved, plateAt, screenOf, type Placement } from './placement'

/** A picture that the finish moves behind a lens: the pointer goes its way exactly, what is drawn comes near it. */

const lens: Lens = { centre: [640, 360], unit: 734, squeeze: 1, k1: -0.06, k2: 0.01, k3: 0, p1: 0, p2: 0 }
const sway: Matrix3 = [1.002, -0.006, 9, 0.006, 1.002, -5, 0, 0, 1]
const place = { width: 856, height: 482 }
const shown = (output: Way, more: Partial<Placement> = {}): Placement => ({
  ...{ zoom: 0.669, left: 0, top: 0, output },
  ...more,
})
const behind = throughLens(sway, { from: lens, to: lens })

/** Where the transform of what is drawn puts a place of the plate. */
function drawnAt(placement: Placement, x: number, y: number): Spot {
  const numbers = /matrix3d\((.*)\)/
    .exec(drawnMoved(placement, place) ?? '')?.[1]
    .split(',')
    .map(Number)
  if (!numbers) throw new Error('not moved')
  const [a, d, , g, b, e, , h, , , , , c, f, , i] = numbers
  const { zoom, left, top } = placement
  const at = throughMatrix([a, b, c, d, e, f, g, h, i], left + x * zoom, top + y * zoom)
  if (!at) throw new Error('behind the eye')
  return at
}

test('from the screen to the plate and back is where it began', () => {
  const placement = shown(behind, { left: 12, top: -7 })
  const places: readonly Spot[] = [
    [0, 0],
    [400, 300],
    [850, 470],
  ]
  for (const at of places) {
    const { x, y } = plateAt(placement, at[0], at[1])
    expect(screenOf(placement, { x, y })).toEqual({ x: expect.closeTo(at[0], 5), y: expect.closeTo(at[1], 5) })
  }
})

test('what is drawn lies where a matrix has it, to the last digit', () => {
  const placement = shown([{ matrix: sway }])
  const back = along(wayBack([{ matrix: sway }]) ?? [])
  const [x, y] = back(200, 600) ?? [NaN, NaN]
  expect(drawnAt(placement, 200, 600)).toEqual([expect.closeTo(x * 0.669, 6), expect.closeTo(y * 0.669, 6)])
})

test('behind a lens it is off by less than a fifth of a screen pixel as a whole, and by nothing to be seen when it is near', () => {
  const off = (placement: Placement, x: number, y: number) => {
    const exact = screenOf(placement, { x, y })
    const [u, v] = drawnAt(placement, x, y)
    return Math.hypot(u - exact.x, v - exact.y)
  }
  const whole = shown(behind)
  const near = shown(behind, { zoom: 16, left: -16 * 1100, top: -16 * 600 })
  for (const [x, y] of [
    [40, 40],
    [640, 360],
    [1240, 680],
  ])
    expect(off(whole, x, y)).toBeLessThan(0.2)
  expect(off(near, 1125, 615)).toBeLessThan(0.01)
  // As if there were no lens it would be off by more.
  const flat = along(wayBack([{ matrix: sway }]) ?? [])(1240, 680) ?? [NaN, NaN]
  const exact = screenOf(whole, { x: 1240, y: 680 })
  expect(Math.hypot(flat[0] * 0.669 - exact.x, flat[1] * 0.669 - exact.y)).toBeGreaterThan(0.2)
})

test('where nothing is moved nothing is transformed', () => {
  expect(drawnMoved({ zoom: 1, left: 0, top: 0 }, place)).toBeUndefined()
  expect(plateAt({ zoom: 2, left: 10, top: 4 }, 30, 24)).toEqual({ x: 10, y: 10 })
})
