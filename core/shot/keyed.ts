/** Keyframes of what is selected, as a list, and moved, copied or given another way together. */

import { blends } from '../set/blends'
import { elementDescription, inputDescriptions, limitDescription, placingDescription } from '../set/owners'
import { keyframesOf, stored, type BeyondKeyframes, type Curve, type KeyframeSettings, type Way } from '../motion/curve'
import { treatments, type ParameterDescription } from '../treatments'
import { allOf, find, usesOf } from './find'
import type { KeyframeChanges } from './edits'
import type { SetKeyframes } from './edits/keyframes'
import type { Owner, Parameters, PointOwner, Shot, UseOwner } from './types'

export type ChannelAddress = KeyframeChanges['at']

export interface KeyedCurve {
  /** of its address, as text */
  readonly id: string
  readonly at: ChannelAddress
  /** "Diving bell: scale", "Diving bell, veil and gain: veil red" */
  readonly label: string
  readonly known: ParameterDescription
  readonly curve: Curve
}

export const curveId = (at: ChannelAddress) => JSON.stringify([at.owner, at.parameter, at.channel])
const channels = ['red', 'green', 'blue']

function curvesOf(owner: Owner, name: string, described: readonly ParameterDescription[], parameters: Parameters) {
  return described.flatMap((known) =>
    (parameters[known.name] ?? []).map((curve, channel): KeyedCurve => {
      const at = { owner, parameter: known.name, channel }
      const which = known.channels === 3 ? ` ${channels[channel]}` : ''
      return { id: curveId(at), at, label: `${name}: ${known.label.toLowerCase()}${which}`, known, curve }
    }),
  )
}

function ofUses(shot: Shot, owner: UseOwner, name: string): KeyedCurve[] {
  return usesOf(shot, owner).flatMap(({ id, treatment, limit }) => {
    const settings = find(shot.treatments, treatment)
    if (!settings) return []
    const description = treatments[settings.kind]
    const called = `${name}, ${description.label.toLowerCase()}`
    const of: PointOwner = { kind: 'treatment', id: treatment }
    return [
      ...curvesOf(of, called, description.parameters, settings.parameters),
      ...(limit ? curvesOf({ kind: 'limit', use: id }, called, limitDescription.parameters, limit.parameters) : []),
      ...(settings.points ? allOf(settings.points) : []).flatMap((point) =>
        curvesOf({ kind: 'point', of, id: point.id }, called, description.points?.parameters ?? [], point.parameters),
      ),
    ]
  })
}

/** Every curve with keyframes of some elements, in the order of their cards. */
export function keyedCurves(shot: Shot, ids: readonly string[]): readonly KeyedCurve[] {
  return ids
    .flatMap((id) => {
      const element = find(shot.elements, id)
      if (!element) return []
      const { name, placing, blend } = element
      return [
        ...curvesOf({ kind: 'element', id }, name, elementDescription.parameters, element.parameters),
        ...curvesOf({ kind: 'blend', element: id }, name, blends[blend.kind].parameters, blend.parameters),
        ...(placing
          ? curvesOf({ kind: 'placing', element: id }, name, placingDescription.parameters, placing.parameters)
          : []),
        ...allOf(element.inputs).flatMap((input) => {
          const owner = { kind: 'input', element: id, id: input.id } as const
          return curvesOf(owner, name, inputDescriptions[input.kind].parameters, input.parameters)
        }),
        ...ofUses(shot, { kind: 'element', id }, name),
      ]
    })
    .filter(({ curve }) => keyframesOf(curve).length > 0)
}

/** One keyframe: of which curve, on which frame. */
export interface ChosenKeyframe {
  readonly curve: string
  readonly frame: number
}

interface Move {
  readonly frames: number
  /** by so much, the same for all or by the curve: they may have other units */
  readonly value: number | ((of: KeyedCurve) => number)
  /** those that were there stay */
  readonly copy?: boolean
}

const framesByCurve = (chosen: readonly ChosenKeyframe[]) => {
  const found = new Map<string, number[]>()
  for (const { curve, frame } of chosen) {
    const frames = found.get(curve)
    if (frames) frames.push(frame)
    else found.set(curve, [frame])
  }
  return found
}

function changed(
  curves: readonly KeyedCurve[],
  chosen: readonly ChosenKeyframe[],
  one: (of: KeyedCurve, frames: readonly number[]) => KeyframeChanges | null,
): SetKeyframes | null {
  const frames = framesByCurve(chosen)
  const changes = curves.flatMap((curve) => {
    const of = frames.get(curve.id)
    const change = of && one(curve, of)
    return change ? [change] : []
  })
  return changes.length === 0 ? null : { kind: 'set-keyframes', curves: changes }
}

/**
 * Moves keyframes in time and value. Values stay inside what their parameter may be; a keyframe that comes to lie on another
 * takes its place.
 *
 * @returns null where nothing moves
 */
export function movedKeyframes(
  curves: readonly KeyedCurve[],
  chosen: readonly ChosenKeyframe[],
  { frames: by, value, copy = false }: Move,
): SetKeyframes | null {
  if (by === 0 && value === 0) return null
  const more = typeof value === 'number' ? () => value : value
  return changed(curves, chosen, (of, frames) => {
    const { at, curve, known } = of
    const up = more(of)
    if (by === 0 && up === 0) return null
    const moving = keyframesOf(curve).filter(({ frame }) => frames.includes(frame))
    const gone = copy || by === 0 ? [] : moving.map(({ frame }) => [String(frame), null] as const)
    const there = moving.map(({ frame, ...settings }) => {
      const next = Math.min(known.most, Math.max(known.least, Number((settings.value + up).toFixed(6))))
      return [String(frame + by), stored({ ...settings, value: next })] as const
    })
    return { at, keyframes: Object.fromEntries([...gone, ...there]) }
  })
}

/** Gives keyframes another way to go on; handles stay with smooth ones only. */
export function withWay(
  curves: readonly KeyedCurve[],
  chosen: readonly ChosenKeyframe[],
  to: Way,
): SetKeyframes | null {
  return changed(curves, chosen, ({ at, curve }, frames) => ({
    at,
    keyframes: Object.fromEntries(
      keyframesOf(curve)
        .filter(({ frame }) => frames.includes(frame))
        .map(({ frame, value, before, after }) => [
          frame,
          stored(to === 'smooth' ? { value, to, before, after } : { value, to }),
        ]),
    ),
  }))
}

/** A handle of a smooth keyframe moved: its slope on both sides, or on one. @param perFrame value a frame */
export function withHandle(
  { at, curve }: KeyedCurve,
  frame: number,
  side: 'before' | 'after' | 'both',
  perFrame: number,
): SetKeyframes | null {
  const found = keyframesOf(curve).find((one) => one.frame === frame)
  if (!found) return null
  const { value, before, after } = found
  const next: KeyframeSettings = {
    ...{ value, to: 'smooth' },
    before: side === 'after' ? before : perFrame,
    after: side === 'before' ? after : perFrame,
  }
  return { kind: 'set-keyframes', curves: [{ at, keyframes: { [frame]: stored(next) } }] }
}

export function withoutKeyframes(
  curves: readonly KeyedCurve[],
  chosen: readonly ChosenKeyframe[],
): SetKeyframes | null {
  return changed(curves, chosen, ({ at }, frames) => ({
    at,
    keyframes: Object.fromEntries(frames.map((frame) => [frame, null])),
  }))
}

/** @param beyond null: level */
export function withBeyond(
  curves: readonly KeyedCurve[],
  ids: readonly string[],
  beyond: BeyondKeyframes | null,
): SetKeyframes | null {
  const changes = curves
    .filter(({ id }) => ids.includes(id))
    .map(({ at }): KeyframeChanges => ({ at, keyframes: {}, beyond }))
  return changes.length === 0 ? null : { kind: 'set-keyframes', curves: changes }
}
