/** The rows of the tally below its frames: when what is selected is there, and what of it has keyframes. */

import { keyframesOf, type Curve } from '../../../../core/motion/curve'
import {
  allOf,
  barOf,
  find,
  framesOfShape,
  handSet,
  inOrder,
  nameOfRegion,
  timedInputs,
  usesOf,
  type Element,
  type FrameRange,
  type Shot,
  type ShotWide,
} from '../../../../core/shot'
import { shotWideWords } from '../shot-wide-words'
import { treatments } from '../../../../core/treatments'

export interface TallyRow {
  readonly id: string
  /** what the keyframes belong to */
  readonly name: string
  /** the frames on which it has files; null in rows of keyframes, and where every frame will do */
  readonly there: FrameRange | null
  /** in order, each once */
  readonly keyframes: readonly number[]
  /** of a bar: the element whose time it is */
  readonly element?: string
  /** how sure each frame is, 0 to 1, and the same in words */
  readonly levels?: readonly { readonly frame: number; readonly share: number; readonly says: string }[]
}

type Parameters = Readonly<Record<string, readonly Curve[]>>

const framesOf = (parameters: readonly Parameters[]) => {
  const curves = parameters.flatMap((one) => Object.values(one).flat())
  return [...new Set(curves.flatMap((curve) => keyframesOf(curve).map(({ frame }) => frame)))].sort((a, b) => a - b)
}

/** The element's own, its blend's, its inputs', and each treatment's with its limit; only those that have keyframes. */
function rowsOf(shot: Shot, element: Element): TallyRow[] {
  const uses = usesOf(shot, { kind: 'element', id: element.id }).flatMap(({ id, treatment, limit }) => {
    const settings = find(shot.treatments, treatment)
    return settings
      ? [{ id, name: treatments[settings.kind].label, of: [settings.parameters, ...(limit ? [limit.parameters] : [])] }]
      : []
  })
  const own = [
    { id: 'element', name: 'Element', of: [element.parameters] },
    ...(element.placing ? [{ id: 'placing', name: 'Place', of: [element.placing.parameters] }] : []),
    { id: 'inputs', name: 'Inputs', of: allOf(element.inputs).map(({ parameters }) => parameters) },
    ...uses,
    { id: 'blend', name: 'Blend', of: [element.blend.parameters] },
  ]
  return own
    .map(({ id, name, of }) => ({
      id: `${element.id} ${id}`,
      name: `${element.name}: ${name}`,
      there: null,
      keyframes: framesOf(of),
    }))
    .filter(({ keyframes }) => keyframes.length > 0)
}

/** Where it shows anything, inside the frames of the shot; null where no file bounds it. */
function thereOf(shot: Shot, element: Element): FrameRange | null {
  const bar = barOf(shot, element)
  if (!bar || (bar.first === -Infinity && bar.last === Infinity && timedInputs(element).length === 0)) return null
  return { first: Math.max(bar.first, shot.frames.first), last: Math.min(bar.last, shot.frames.last) }
}

/** Of glass, sensor or finish: each treatment that has keyframes. */
export function rowsOfShotWide(shot: Shot, kind: ShotWide): TallyRow[] {
  return usesOf(shot, { kind }).flatMap(({ id, treatment, limit }) => {
    const settings = find(shot.treatments, treatment)
    const keyframes = settings ? framesOf([settings.parameters, ...(limit ? [limit.parameters] : [])]) : []
    if (!settings || keyframes.length === 0) return []
    return [{ id, name: `${shotWideWords[kind].name}: ${treatments[settings.kind].label}`, there: null, keyframes }]
  })
}

/** Of a track: how like the pattern each frame is, where it was lost, and the frames that were set by hand as keyframes. */
export function rowsOfTrack(shot: Shot, id: string): TallyRow[] {
  const track = find(shot.tracks, id)
  if (!track) return []
  const { first, last } = shot.frames
  const found = Object.entries(track.points).flatMap(([at, point]) => {
    const [frame, likeness] = [Number(at), 'likeness' in point ? Math.max(0, point.likeness) : null]
    if (frame < first || frame > last || likeness === null) return []
    return [{ frame, share: likeness, says: `${frame}: likeness ${likeness.toFixed(2)}` }]
  })
  const lost = Object.entries(track.lost ?? {}).map(([at, why]) => ({
    ...{ frame: Number(at), share: 0 },
    says: `${at}: lost, ${why}`,
  }))
  const keyframes = handSet(track)
  return [
    { id, name: track.region ? nameOfRegion(track) : track.name, there: null, keyframes, levels: [...found, ...lost] },
  ]
}

/** Of a matte: the frames on which points of its shapes have places, and its other keyframes. */
export function rowsOfMatte(shot: Shot, id: string): TallyRow[] {
  const matte = find(shot.mattes, id)
  if (!matte) return []
  const own = { id, name: matte.name, there: null, keyframes: framesOf([matte.parameters]) }
  if (matte.kind !== 'drawn') return [own]
  const shapes = inOrder(matte.shapes).flatMap((shape): TallyRow[] => {
    const { from = shot.frames.first, to = shot.frames.last } = shape
    const edges = framesOf([shape.parameters])
    const name = `${matte.name}: ${shape.name}`
    return [
      { id: shape.id, name, there: { first: from, last: to }, keyframes: framesOfShape(shape) },
      ...(edges.length > 0 ? [{ id: `${shape.id} edge`, name: `${name}, edge`, there: null, keyframes: edges }] : []),
    ]
  })
  return own.keyframes.length > 0 ? [...shapes, own] : shapes
}

/** @param elements ids, in the order in which they were selected */
export function tallyRows(shot: Shot, elements: readonly string[]): TallyRow[] {
  return elements.flatMap((id) => {
    const element = find(shot.elements, id)
    if (!element) return []
    const own = {
      id: element.id,
      name: element.name,
      there: thereOf(shot, element),
      keyframes: [],
      element: element.id,
    }
    return [own, ...rowsOf(shot, element)]
  })
}
