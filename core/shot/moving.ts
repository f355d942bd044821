/** What a hand does to a placed element, as edits: fit it, move its pivot, let it move with another, scale it about a place. */

import { settingsOf, mappedCurve, valueAt, type Curve } from '../motion/curve'
import { inverseOf, multiplied, throughMatrix } from '../motion/mapping'
import { placementMatrix, placementOf, type Placement, type Spot } from '../motion/placing'
import type { Matrix3 } from '../graph/steps'
import type { SetPlacing, SingleChange, Together } from './edits'
import { find } from './find'
import { carriedMatrix, placementAt } from './placed'
import { movesWithItself } from './placing'
import type { Box, Element, Parameters, Pin, Placing, Shot } from './types'

const curveOf = (parameters: Parameters, name: string): Curve => parameters[name]?.[0] ?? 0

/** A number set to a value at the frame: a keyframe where it is keyed. */
const setting = (element: string, parameter: string, frame: number, value: number): SingleChange => ({
  kind: 'set-parameter',
  at: { owner: { kind: 'placing', element }, parameter, channel: 0 },
  frame,
  value,
})

/** All of a curve moved or stretched, so that its motion stays while its value at a frame becomes another. */
function carriedAlong(element: string, parameter: string, curve: Curve, factor: number, shift: number): SingleChange[] {
  if (factor === 1 && shift === 0) return []
  const next = mappedCurve(curve, factor, shift)
  if (typeof next === 'number') return [setting(element, parameter, 0, next)]
  const at = { owner: { kind: 'placing', element }, parameter, channel: 0 } as const
  return [{ kind: 'set-keyframes', curves: [{ at, keyframes: next.keyframes }] }]
}

const together = (changes: readonly SingleChange[], label: string): Together | null =>
  changes.length === 0 ? null : { kind: 'together', changes, label }

/** The numbers that make something lie where another placement has it: position by the same pivot. */
function brought(
  { id, placing }: Element & { readonly placing: Placing },
  frame: number,
  to: Matrix3,
): SingleChange[] | null {
  const numbers = placementOf(to)
  if (!numbers) return null
  const { parameters } = placing
  const now = placementAt(placing, frame)
  const spot = throughMatrix(to, now.pivotX, now.pivotY)
  if (!spot) return null
  const added = (name: keyof Placement, value: number) =>
    carriedAlong(id, name, curveOf(parameters, name), 1, value - now[name])
  const scaled = (name: 'scale' | 'stretch') =>
    now[name] === 0 ? [] : carriedAlong(id, name, curveOf(parameters, name), numbers[name] / now[name], 0)
  return [
    ...added('x', spot[0] - now.pivotX),
    ...added('y', spot[1] - now.pivotY),
    ...added('rotation', numbers.rotation + Math.round((now.rotation - numbers.rotation) / 360) * 360),
    ...scaled('scale'),
    ...scaled('stretch'),
    ...added('skew', numbers.skew),
  ].filter((change) => !isNothing(change, parameters))
}

/** Rounding of a decomposition is no change. */
function isNothing(change: SingleChange, parameters: Parameters): boolean {
  if (change.kind === 'set-parameter')
    return Math.abs(change.value - valueAt(curveOf(parameters, change.at.parameter), 0)) < 1e-9
  if (change.kind !== 'set-keyframes') return false
  const [{ at, keyframes }] = change.curves
  const curve = curveOf(parameters, at.parameter)
  return Object.entries(keyframes).every(
    ([frame, one]) =>
      one !== null &&
      typeof curve !== 'number' &&
      Math.abs(settingsOf(one).value - settingsOf(curve.keyframes[frame]).value) < 1e-9,
  )
}

const placedIn = (shot: Shot, id: string) => {
  const element = find(shot.elements, id)
  return element?.placing ? (element as Element & { readonly placing: Placing }) : null
}

/**
 * Lets an element move with another, or by itself; nothing moves on this frame, and its own motion stays as it was.
 *
 * @param other null: by itself, or with its group
 * @returns null where that cannot be: it is not placed, or one of them has no size
 */
export function moveWith(shot: Shot, id: string, frame: number, other: string | null): Together | null {
  const element = placedIn(shot, id)
  if (!element) return null
  const { with: before, ...placing } = element.placing
  const next: Element = { ...element, placing: other === null ? placing : { ...placing, with: other } }
  const as: Shot = { ...shot, elements: { byId: { ...shot.elements.byId, [id]: next } } }
  if ((before ?? null) === other || movesWithItself(as, id)) return null
  const back = inverseOf(carriedMatrix(as, id, frame))
  if (!back) return null
  const now = multiplied(carriedMatrix(shot, id, frame), placementMatrix(placementAt(element.placing, frame)))
  const changes = brought(element, frame, multiplied(back, now))
  if (!changes) return null
  const name = other === null ? null : (find(shot.elements, other)?.name ?? other)
  return together(
    [{ kind: 'set-placing', element: id, changes: { with: other } }, ...changes],
    name === null ? `${element.name} moves by itself` : `${element.name} moves with ${name}`,
  )
}

/**
 * Moves the pivot to a place of the frame; the element stays where it is on this frame.
 *
 * @returns null where it is not placed, or has no size
 */
export function movePivot(shot: Shot, id: string, frame: number, to: Spot): Together | null {
  const element = placedIn(shot, id)
  if (!element) return null
  const own = placementMatrix(placementAt(element.placing, frame))
  const whole = inverseOf(multiplied(carriedMatrix(shot, id, frame), own))
  const pivot = whole && throughMatrix(whole, to[0], to[1])
  if (!pivot) return null
  const now = placementAt(element.placing, frame)
  const spot = throughMatrix(own, pivot[0], pivot[1])
  if (!spot) return null
  const { parameters } = element.placing
  const shift = (name: keyof Placement, value: number) =>
    carriedAlong(id, name, curveOf(parameters, name), 1, value - now[name])
  return together(
    [
      ...shift('pivotX', pivot[0]),
      ...shift('pivotY', pivot[1]),
      ...shift('x', spot[0] - pivot[0]),
      ...shift('y', spot[1] - pivot[1]),
    ],
    `Pivot of ${element.name}`,
  )
}

/** Scales an element so that a place of the frame stays where it is on this frame. */
export function scaleAbout(shot: Shot, id: string, frame: number, spot: Spot, factor: number): Together | null {
  const element = placedIn(shot, id)
  if (!element) return null
  const back = inverseOf(carriedMatrix(shot, id, frame))
  const here = back && throughMatrix(back, spot[0], spot[1])
  if (!here) return null
  const now = placementAt(element.placing, frame)
  const { parameters } = element.placing
  const [px, py] = [now.x + now.pivotX, now.y + now.pivotY]
  return together(
    [
      ...carriedAlong(id, 'scale', curveOf(parameters, 'scale'), factor, 0),
      ...carriedAlong(id, 'x', curveOf(parameters, 'x'), 1, (px - here[0]) * (factor - 1)),
      ...carriedAlong(id, 'y', curveOf(parameters, 'y'), 1, (py - here[1]) * (factor - 1)),
    ],
    `Scale ${element.name} about a place`,
  )
}

export type Fitting = 'fit' | 'fill' | 'by-pixel' | 'as-it-came'

/**
 * Brings an element's box into the frame: all of it seen, all of the frame covered, one pixel of its file on one of the frame,
 * or as it came.
 *
 * @param pixel width of a pixel of its file in the frame as it came: 2 for half-size renders
 */
export function fitted(shot: Shot, id: string, frame: number, how: Fitting, pixel = 1): Together | null {
  const element = placedIn(shot, id)
  if (!element) return null
  const { box } = element.placing
  const { width, height } = shot.frameSize
  const [wide, high] = [width / box.width, height / box.height]
  const scale = how === 'fit' ? Math.min(wide, high) : how === 'fill' ? Math.max(wide, high) : 1 / pixel
  const centred = how === 'fit' || how === 'fill'
  const now = placementAt(element.placing, frame)
  // The middle of the box comes into the middle of the frame; about the pivot it is scaled.
  const place = (frameMiddle: number, boxMiddle: number, pivot: number) =>
    frameMiddle - pivot - (boxMiddle - pivot) * scale
  const values: Record<string, number> =
    how === 'as-it-came'
      ? { x: 0, y: 0, rotation: 0, scale: 1, stretch: 1, skew: 0 }
      : centred
        ? {
            ...{ rotation: 0, stretch: 1, skew: 0, scale },
            x: place(width / 2, box.x + box.width / 2, now.pivotX),
            y: place(height / 2, box.y + box.height / 2, now.pivotY),
          }
        : { stretch: 1, scale }
  const words: Readonly<Record<Fitting, string>> = {
    fit: 'Fit',
    fill: 'Fill the frame with',
    'by-pixel': 'Pixel by pixel:',
    'as-it-came': 'As it came:',
  }
  const changes = Object.entries(values).map(([name, value]) => setting(id, name, frame, value))
  return together(changes, `${words[how]} ${element.name}`)
}

/** Where an element comes on its way, frame by frame. */
export interface Extreme {
  readonly frame: number
  readonly spot: Spot
}

export type Side = 'left' | 'right' | 'top' | 'bottom'

export interface Gap {
  readonly sides: readonly Side[]
  readonly frames: readonly number[]
  /** the widest of it, in pixels: so much overscan is wanting */
  readonly pixels: number
}

export interface Extremes {
  readonly highest: Extreme
  readonly lowest: Extreme
  readonly leftmost: Extreme
  readonly rightmost: Extreme
  /** the first frame on which nothing of its box is in the frame any more, after it was; null: never */
  readonly leaves: number | null
  /** where it ought to cover the frame's edge, since its box reaches it as it came, and does not */
  readonly gap: Gap | null
}

/** @param cornersAt of its box in the frame at a time, in order; null where it has no size */
export function extremesOf(
  { frames, frameSize }: Pick<Shot, 'frames' | 'frameSize'>,
  box: Box,
  cornersAt: (frame: number) => readonly Spot[] | null,
): Extremes | null {
  const { width, height } = frameSize
  const ends: Omit<Extremes, 'leaves' | 'gap'>[] = []
  let [wasSeen, leaves]: [boolean, number | null] = [false, null]
  const reaches: Readonly<Record<Side, boolean>> = {
    left: box.x <= 0,
    right: box.x + box.width >= width,
    top: box.y <= 0,
    bottom: box.y + box.height >= height,
  }
  const sides = new Set<Side>()
  const gapFrames: number[] = []
  let widest = 0
  for (let frame = frames.first; frame <= frames.last; frame++) {
    const corners = cornersAt(frame)
    if (!corners) continue
    const by = (axis: 0 | 1, way: 1 | -1): Extreme => {
      const spot = corners.reduce((a, b) => ((b[axis] - a[axis]) * way > 0 ? b : a))
      return { frame, spot }
    }
    const [left, right, top, bottom] = [by(0, -1), by(0, 1), by(1, -1), by(1, 1)]
    const before = ends.pop()
    ends.push({
      leftmost: before && before.leftmost.spot[0] <= left.spot[0] ? before.leftmost : left,
      rightmost: before && before.rightmost.spot[0] >= right.spot[0] ? before.rightmost : right,
      highest: before && before.highest.spot[1] <= top.spot[1] ? before.highest : top,
      lowest: before && before.lowest.spot[1] >= bottom.spot[1] ? before.lowest : bottom,
    })
    const seen = left.spot[0] < width && right.spot[0] > 0 && top.spot[1] < height && bottom.spot[1] > 0
    if (wasSeen && !seen && leaves === null) leaves = frame
    wasSeen ||= seen
    const wanting = gapsOf(corners, width, height).filter(({ side }) => reaches[side])
    if (wanting.length > 0) gapFrames.push(frame)
    for (const { side, pixels } of wanting) {
      sides.add(side)
      widest = Math.max(widest, pixels)
    }
  }
  const gap = gapFrames.length > 0 ? { sides: [...sides], frames: gapFrames, pixels: widest } : null
  const [all] = ends
  return all ? { ...all, leaves, gap } : null
}

/** How far the frame's corners lie outside a picture with these corners, by the side on which they do. */
function gapsOf(corners: readonly Spot[], width: number, height: number): { side: Side; pixels: number }[] {
  const names: readonly Side[] = ['top', 'right', 'bottom', 'left']
  const frame: readonly Spot[] = [
    [0, 0],
    [width, 0],
    [width, height],
    [0, height],
  ]
  // Seen from its back it turns the other way.
  const [a, b, c] = corners
  const turn = Math.sign((b[0] - a[0]) * (c[1] - b[1]) - (b[1] - a[1]) * (c[0] - b[0])) || 1
  return corners.flatMap(([x, y], i) => {
    const [nx, ny] = corners[(i + 1) % 4]
    const length = Math.hypot(nx - x, ny - y)
    const outside = frame.map(([fx, fy]) => (-turn * ((nx - x) * (fy - y) - (ny - y) * (fx - x))) / length)
    const pixels = Math.max(...outside)
    return pixels > 0.001 ? [{ side: names[i], pixels }] : []
  })
}

/**
 * The smallest scale about a place that closes every gap.
 *
 * @param gapAt whether there is one at a factor
 * @returns to a thousandth, rounded up; null where even four times is not enough
 */
export function closingScale(gapAt: (factor: number) => boolean): number | null {
  if (gapAt(4)) return null
  let [low, high] = [1, 4]
  while (high - low > 0.0005) {
    const middle = (low + high) / 2
    if (gapAt(middle)) low = middle
    else high = middle
  }
  return Math.ceil(high * 1000) / 1000
}

/** Pins an element to tracks, changes its pin, or unpins it; nothing moves on the frame on which it lies as placed. */
export function pinned(shot: Shot, id: string, pin: Pin | null): SetPlacing | null {
  const element = placedIn(shot, id)
  if (!element || (pin === null && !element.placing.pin)) return null
  return { kind: 'set-placing', element: id, changes: { pin } }
}

/**
 * Lets an element lie as placed on another frame; it stays where it is seen there.
 *
 * @returns null where it is not pinned, lies so already, or has no size
 */
export function pinMoved(shot: Shot, id: string, frame: number): Together | null {
  const element = placedIn(shot, id)
  const pin = element?.placing.pin
  if (!element || !pin || pin.frame === frame) return null
  const { pin: _before, ...unpinned } = element.placing
  const without: Shot = {
    ...shot,
    elements: { byId: { ...shot.elements.byId, [id]: { ...element, placing: unpinned } } },
  }
  const back = inverseOf(carriedMatrix(without, id, frame))
  if (!back) return null
  const own = placementMatrix(placementAt(element.placing, frame))
  const changes = brought(element, frame, multiplied(back, multiplied(carriedMatrix(shot, id, frame), own)))
  if (!changes) return null
  return together(
    [{ kind: 'set-placing', element: id, changes: { pin: { ...pin, frame } } }, ...changes],
    `${element.name} lies as placed on frame ${frame}`,
  )
}
