/** Where every element lies at a time: its own placing, that of what it moves with, and the tracks it is pinned to. */

import { identity, type Matrix3 } from '../graph/steps'
import { jumpsOf, valueAt, type Curve } from '../motion/curve'
import { multiplied } from '../motion/mapping'
import {
  cornerMatrix,
  cornersOf,
  longestWay,
  placementMatrix,
  type Placement,
  type Rectangle,
  type Spot,
} from '../motion/placing'
import { cornerNames } from '../set/owners'
import { find } from './find'
import { isGroup } from './isolation'
import { lensOver, type LensOver } from './plate-lens'
import { movesWith } from './placing'
import { curvesOfPin, isGoneAt, pinMatrix, shareAtEnd } from './tracks'
import type { Element, Parameters, Placing, Shot } from './types'

const at = (parameters: Parameters, name: string, time: number) => {
  const curves = parameters[name] as readonly Curve[] | undefined
  return curves?.[0] === undefined ? 0 : valueAt(curves[0], time)
}

const placementNames = ['x', 'y', 'rotation', 'scale', 'stretch', 'skew', 'pivotX', 'pivotY'] as const

/** Its numbers at a time, without those of what it moves with. */
export function placementAt({ parameters }: Placing, time: number): Placement {
  const entries = placementNames.map((name) => [name, at(parameters, name, time)])
  return Object.fromEntries(entries) as unknown as Placement
}

/** Where its corners are pulled to, in its own picture; null where none is. */
export function pulledCorners({ parameters, box }: Placing, time: number): readonly Spot[] | null {
  const pulls = cornerNames.map((name): Spot => [at(parameters, `${name}X`, time), at(parameters, `${name}Y`, time)])
  if (pulls.every(([x, y]) => x === 0 && y === 0)) return null
  return cornersOf(box).map(([x, y], i): Spot => [x + pulls[i][0], y + pulls[i][1]])
}

/** The corner pin folds: it is left out. */
export function foldsAt(placing: Placing, time: number): boolean {
  const corners = pulledCorners(placing, time)
  return corners !== null && cornerMatrix(placing.box, corners) === null
}

function ownMatrix(placing: Placing, time: number, withCorners: boolean): Matrix3 {
  const moved = placementMatrix(placementAt(placing, time))
  const corners = withCorners ? pulledCorners(placing, time) : null
  const pinned = corners && cornerMatrix(placing.box, corners)
  return pinned ? multiplied(moved, pinned) : moved
}

/**
 * What moves whatever moves with an element: without its corners and its bend, which are of its own picture; but all of a
 * group's.
 */
function carrying(shot: Shot, id: string, time: number, lens: SeenThrough, seen: ReadonlySet<string>): Matrix3 {
  const element = find(shot.elements, id)
  if (!element || seen.has(id)) return identity
  const own = element.placing ? ownMatrix(element.placing, time, isGroup(element)) : identity
  return multiplied(carriedBy(shot, element, time, lens, seen), own)
}

/** The lens through which an element is seen, with all that carries it: only a pin asks. */
type SeenThrough = () => LensOver | null

function carriedBy(
  shot: Shot,
  element: Element,
  time: number,
  lens: SeenThrough = () => lensOver(shot, element),
  seen: ReadonlySet<string> = new Set(),
): Matrix3 {
  const next = movesWith(shot, element)
  const carried = next === null ? identity : carrying(shot, next, time, lens, new Set([...seen, element.id]))
  const pin = element.placing?.pin
  return pin ? multiplied(pinMatrix(shot, pin, time, lens()), carried) : carried
}

/** Where what it moves with has it: its own placing comes before. */
export function carriedMatrix(shot: Shot, id: string, time: number): Matrix3 {
  const element = find(shot.elements, id)
  return element ? carriedBy(shot, element, time) : identity
}

/** From the element's own picture, as it came, to the frame before the lens bends it; full-scale pixels. */
export function placedMatrix(shot: Shot, id: string, time: number): Matrix3 {
  const element = find(shot.elements, id)
  if (!element) return identity
  const carried = carriedBy(shot, element, time)
  // What is in a group was moved with it already.
  if (!element.placing || isGroup(element)) return isGroup(element) ? identity : carried
  return multiplied(carried, ownMatrix(element.placing, time, true))
}

/** Its bend (pixels up) and twist (degrees), of its own picture. */
export function bendAt({ parameters, box }: Placing, time: number): { readonly bow: number; readonly twist: number } {
  return { bow: (at(parameters, 'bend', time) * box.height) / 2, twist: at(parameters, 'twist', time) }
}

/** Whether what it is pinned to, or what carries it is pinned to, has ended, and it is to be gone then. */
export function isCutOff(shot: Shot, id: string, time: number): boolean {
  return carriersOf(shot, id).some(({ placing }) => placing?.pin !== undefined && isGoneAt(shot, placing.pin, time))
}

/** How much of an element is left where the tracks have ended that it, or what carries it, is pinned to. */
export const leftAtEnd = (shot: Shot, id: string, time: number): number =>
  carriersOf(shot, id).reduce(
    (share, { placing }) => share * (placing?.pin ? shareAtEnd(shot, placing.pin, time) : 1),
    1,
  )

/** The element itself, and all that it moves with. */
function carriersOf(shot: Shot, id: string): readonly Element[] {
  const found: Element[] = []
  const seen = new Set<string>()
  for (let next: string | null = id; next !== null && !seen.has(next);) {
    seen.add(next)
    const element: Element | undefined = find(shot.elements, next)
    if (element) found.push(element)
    next = element ? movesWith(shot, element) : null
  }
  return found
}

/** Every curve that has a say in where an element is. */
const curvesOf = (shot: Shot, id: string): readonly Curve[] =>
  carriersOf(shot, id).flatMap(({ placing }) => [
    ...(placing ? Object.values(placing.parameters).flat() : []),
    ...(placing?.pin ? curvesOfPin(shot, placing.pin) : []),
  ])

const isStill = (curve: Curve) => typeof curve === 'number'
/** Looked at to tell how long the way is. */
const looks = 8

/**
 * Times at which an element is sampled while the shutter is open: as many as its way has pixels, in the middle of equal
 * pieces; none where it stands still. A shutter that is open over a jump stays on its frame's side of it.
 *
 * @param scale a pixel of the graph is so many of the frame
 */
export function shutterTimes(shot: Shot, id: string, frame: number, scale: number): readonly number[] {
  const element = find(shot.elements, id)
  if (!element || element.placing?.shutter === 'closed') return []
  const curves = curvesOf(shot, id)
  if (curves.every(isStill)) return []
  const { parameters } = element.placing?.shutter === 'own' ? element.placing : shot.shutter
  const [angle, opens, most] = ['angle', 'opens', 'samples'].map((name) => at(parameters, name, frame))
  let [from, to] = [frame + opens / 360, frame + (opens + angle) / 360]
  const own = Math.min(to, Math.max(from, frame))
  const jumps = curves.flatMap((curve) => jumpsOf(curve, from, to))
  from = Math.max(from, ...jumps.filter((time) => time <= own))
  to = Math.min(to, ...jumps.filter((time) => time > own))
  if (!(to > from)) return []
  const timeAt = (share: number) => from + (to - from) * share
  // Just before the end: a jump that ends the piece is not of it.
  const looked = Array.from({ length: looks + 1 }, (_, i) => timeAt(Math.min(i / looks, 1 - 1e-6)))
  const box: Rectangle = element.placing?.box ?? { x: 0, y: 0, ...shot.frameSize }
  const bends = element.placing ? looked.map((time) => bendAt(element.placing as Placing, time)) : []
  const bent = bends.length === 0 ? 0 : spread(bends.map(({ bow }) => bow)) + twistWay(box, bends)
  const way = longestWay(
    box,
    looked.map((time) => placedMatrix(shot, id, time)),
  )
  const pixels = (way + bent) / scale
  if (pixels < 0.02) return []
  const count = Math.max(2, Math.min(Math.round(most), Math.ceil(pixels) + 1))
  return Array.from({ length: count }, (_, i) => timeAt((i + 0.5) / count))
}

const spread = (values: readonly number[]) => Math.max(...values) - Math.min(...values)
const twistWay = ({ width, height }: Rectangle, bends: readonly { readonly twist: number }[]) =>
  ((spread(bends.map(({ twist }) => twist)) * Math.PI) / 180) * (Math.max(width, height) / 4)

/** Whether an element has a place of its own, or something that it moves with has one. */
export function isPlaced(shot: Shot, id: string): boolean {
  const seen = new Set<string>()
  for (let at: string | null = id; at !== null && !seen.has(at);) {
    seen.add(at)
    const element: Element | undefined = find(shot.elements, at)
    if (element?.placing) return true
    at = element ? movesWith(shot, element) : null
  }
  return false
}
