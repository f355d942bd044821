/** Mattes: where a shape's outline is at a time, new ones, and what keeps them from going in circles. */

import { identity } from '../graph/steps'
import { inverseOf, multiplied } from '../motion/mapping'
import { moved, movedBack, type PlateMotion } from '../motion/plate-motion'
import type { Spot } from '../motion/placing'
import { outlineBetween, type Outline, type PointPlace } from '../outline'
import { matteDescriptions, shapeDescription } from '../set/owners'
import { allOf, find, firstRanks, inOrder, lastRank, newId } from './find'
import type { DrawnMatte, Matte, MatteKind, MattePin, PaintedMatte, Places, Shape, ShapePoint } from './matte-types'
import { parametersFor } from './parameters'
import { placedMatrix } from './placed'
import { lensOver, type LensOver } from './plate-lens'
import { faultOfPin, pinMatrix } from './tracks'
import type { Shot, Table } from './types'

/** Frames on which a shape has keyframes, in order; shapes are never changed in place. */
const framesKnown = new WeakMap<object, readonly number[]>()
export function framesOfShape({ keyframes }: Pick<Shape, 'keyframes'>): readonly number[] {
  let found = framesKnown.get(keyframes)
  if (!found) {
    found = Object.keys(keyframes)
      .map(Number)
      .sort((a, b) => a - b)
    framesKnown.set(keyframes, found)
  }
  return found
}

const ordered = (points: Table<ShapePoint>, places: Places): Outline => inOrder(points).map(({ id }) => places[id])

/** The outline at a time, in the space that its matte's pin moves: as on the nearest keyframe beyond them. */
export function outlineAt({ points, keyframes }: Pick<Shape, 'points' | 'keyframes'>, time: number): Outline {
  const frames = framesOfShape({ keyframes })
  const next = frames.findIndex((frame) => frame > time)
  if (next === 0) return ordered(points, keyframes[frames[0]])
  if (next < 0) return ordered(points, keyframes[frames[frames.length - 1]])
  const [from, to] = [frames[next - 1], frames[next]]
  if (time === from) return ordered(points, keyframes[from])
  return outlineBetween(ordered(points, keyframes[from]), ordered(points, keyframes[to]), (time - from) / (to - from))
}

/** Places by the points' ids, of an outline in their order. */
export const placesOf = (points: Table<ShapePoint>, outline: Outline): Places =>
  Object.fromEntries(inOrder(points).map(({ id }, i) => [id, outline[i]]))

/** Whether a shape is there on a frame. */
export const isThere = ({ from = -Infinity, to = Infinity }: Shape, time: number) => time >= from && time <= to

/** From a drawn matte's own pixels to the frame's; null where it has no pin. */
export const matteMotion = (shot: Shot, { pin }: Pick<DrawnMatte, 'pin'>, time: number): PlateMotion | null =>
  pin ? mattePinMotion(shot, pin, time) : null

/** How what a matte is pinned to moves it: not at all on the pin's own frame, and where it holds nothing. */
function mattePinMotion(shot: Shot, pin: MattePin, time: number): PlateMotion {
  if (time === pin.frame) return { matrix: identity }
  if (!('element' in pin)) {
    const lens = lensOver(shot, null)
    return throughLens(lens, pin, time, pinMatrix(shot, pin, time, lens))
  }
  const back = inverseOf(placedMatrix(shot, pin.element, pin.frame))
  const element = find(shot.elements, pin.element)
  if (!back || !element) return { matrix: identity }
  return throughLens(lensOver(shot, element), pin, time, multiplied(placedMatrix(shot, pin.element, time), back))
}

const throughLens = (lens: LensOver | null, { frame }: MattePin, time: number, matrix: PlateMotion['matrix']) =>
  lens ? { matrix, lens: { from: lens.at(frame), to: lens.at(time) } } : { matrix }

/** Why a matte's pin holds nothing, as a sentence and what cures it; null where it holds. */
export function faultOfMattePin(shot: Shot, pin: MattePin): ReturnType<typeof faultOfPin> {
  if (!('element' in pin)) return faultOfPin(shot, pin)
  if (!find(shot.elements, pin.element))
    return {
      sentence: 'the element that it moves with is gone, so it stays where it is',
      remedy: 'Let it move with another one, or undo the removal.',
    }
  if (!inverseOf(placedMatrix(shot, pin.element, pin.frame)))
    return {
      sentence: `the element that it moves with has no size on frame ${pin.frame}, on which it rests, so it stays where it is`,
      remedy: 'Let it rest on another frame.',
    }
  return null
}

function placeAlong(motion: PlateMotion, place: PointPlace): PointPlace {
  const through = (x: number, y: number): Spot => moved(motion, x, y) ?? [x, y]
  const [x, y] = through(place.x, place.y)
  const handle = ([across, down]: PointPlace['before']) => {
    const [hx, hy] = through(place.x + across, place.y + down)
    return [hx - x, hy - y] as const
  }
  return { ...place, x, y, before: handle(place.before), after: handle(place.after) }
}

export const outlineAlong = (motion: PlateMotion | null, outline: Outline): Outline =>
  motion ? outline.map((place) => placeAlong(motion, place)) : outline

/** The strokes of a painted matte as they must be under another pin, so that nothing moves on the pin's frame. */
export function strokesUnder(
  shot: Shot,
  matte: PaintedMatte,
  pin: MattePin | undefined,
): PaintedMatte['strokes'] | null {
  const frame = pin?.frame ?? matte.pin?.frame ?? shot.frames.first
  const to = matteMotion(shot, matte, frame)
  const back = pin ? movedBack(mattePinMotion(shot, pin, frame)) : null
  if (pin && !back) return null
  const through = (motion: PlateMotion | null, [x, y]: Spot): Spot => moved(motion, x, y) ?? [x, y]
  const strokes = allOf(matte.strokes).map((stroke) => ({
    ...stroke,
    points: stroke.points.flatMap((value, i) =>
      i % 2 === 1 ? [] : through(back, through(to, [value, stroke.points[i + 1]])),
    ),
  }))
  return { byId: Object.fromEntries(strokes.map((stroke) => [stroke.id, stroke])) }
}

/**
 * The shapes of a matte as they must be under another pin so that nothing moves on any keyframe.
 *
 * @returns by shape; null where the new pin flattens everything on some keyframe
 */
export function shapesUnder(
  shot: Shot,
  matte: DrawnMatte,
  pin: MattePin | undefined,
): Readonly<Record<string, Shape['keyframes']>> | null {
  const result: Record<string, Shape['keyframes']> = {}
  for (const shape of allOf(matte.shapes)) {
    const keyframes: Record<string, Places> = {}
    for (const frame of framesOfShape(shape)) {
      const to = matteMotion(shot, matte, frame)
      const back = pin ? movedBack(mattePinMotion(shot, pin, frame)) : null
      if (pin && !back) return null
      const there = outlineAlong(back, outlineAlong(to, outlineAt(shape, frame)))
      keyframes[frame] = placesOf(shape.points, there)
    }
    result[shape.id] = keyframes
  }
  return result
}

/** Whether a matte is made of itself, by whatever way. */
export function matteIsInItself(shot: Shot, id: string): boolean {
  const seen = new Set<string>()
  const open = [id]
  for (let next = open.pop(); next !== undefined; next = open.pop()) {
    for (const made of madeOf(find(shot.mattes, next))) {
      if (made === id) return true
      if (!seen.has(made)) open.push(made)
      seen.add(made)
    }
  }
  return false
}

/** The mattes that a matte is made of. */
function madeOf(matte: Matte | undefined): readonly string[] {
  if (matte?.kind === 'band') return [matte.matte]
  return matte?.kind === 'combined' ? allOf(matte.parts).map((part) => part.matte) : []
}

function freeName(taken: ReadonlySet<string>, name: string): string {
  let number = 1
  while (taken.has(`${name} ${number}`)) number++
  return `${name} ${number}`
}

/** What a new matte of a kind begins with, but for what it is made of. */
export function matteBase<K extends MatteKind>(shot: Shot, kind: K, name = 'Matte') {
  const taken = new Set(allOf(shot.mattes).map((matte) => matte.name))
  return {
    id: newId(),
    name: freeName(taken, name),
    rank: lastRank(inOrder(shot.mattes)),
    kind,
    parameters: parametersFor(matteDescriptions[kind]),
  }
}

/** A drawn matte without a shape yet. */
export const newDrawnMatte = (shot: Shot): DrawnMatte => ({ ...matteBase(shot, 'drawn'), shapes: { byId: {} } })

/** A painted matte without a stroke yet. */
export const newPaintedMatte = (shot: Shot): PaintedMatte => ({
  ...matteBase(shot, 'painted', 'Painted'),
  strokes: { byId: {} },
})

/** A shape as it was drawn on a frame. @param outline in the space of its matte @param corners which of its points are corners */
export function newShape(matte: DrawnMatte, frame: number, outline: Outline, corners: readonly boolean[] = []): Shape {
  const ranks = firstRanks(outline.length)
  const points = ranks.map((rank, i): ShapePoint => ({ id: newId(), rank, ...(corners[i] ? { corner: true } : {}) }))
  const table = { byId: Object.fromEntries(points.map((point) => [point.id, point])) }
  const taken = new Set(allOf(matte.shapes).map(({ name }) => name))
  return {
    id: newId(),
    name: freeName(taken, 'Shape'),
    rank: lastRank(inOrder(matte.shapes)),
    how: 'add',
    points: table,
    keyframes: { [frame]: placesOf(table, outline) },
    parameters: parametersFor(shapeDescription),
  }
}

/** Mattes in order. */
export const mattesOf = (shot: Shot): readonly Matte[] => inOrder(shot.mattes)
