/**
 * Named edits: the only way a shot document changes. The browser and the server apply them with this same code, and every
 * door reads this one table.
 */

import { enablePatches, produceWithPatches, type Draft, type Patch } from 'immer'
import { array, lazy, mixed, object, string, type Schema } from 'yup'
import { ImpossibleEditError } from '../impossible-edit'
import type { Shot } from '../types'
import {
  addElement,
  describeElement,
  moveElement,
  removeElement,
  setBlend,
  setInputs,
  setOwnGlass,
  setReveal,
  showElement,
} from './elements'
import { setLines } from './lines'
import { setKeyframes } from './keyframes'
import type { EditKind } from './kind'
import { addMatte, pinMatte, removeMatte, setMatte } from './mattes'
import { addMarker, drawStroke, removeMarker, removeStrokes, setMarker } from './markers'
import { addKeyframe, removeKeyframe, resetParameter, setChannels, setParameter } from './parameters'
import { placeElement, removePlacing, setPlacing } from './placing'
import { addPoint, removePoint, setChoice } from './points'
import { keepSample, removeSample, setSample } from './samples'
import { returnTo, setShot } from './shot'
import { addSource, removeSource, setClaims, setSource } from './sources'
import { addShape, addShapePoint, removeShape, removeShapePoints, setShape, setShapePlaces } from './shapes'
import { setStrokes } from './strokes'
import { setTiming } from './timing'
import { keepTreatmentTry, removeTreatmentTry, useTreatmentTry } from './treatment-tries'
import {
  addTreatment,
  pinTreatment,
  removeTreatment,
  setLimit,
  setTreatmentSource,
  shareTreatment,
  turnTreatment,
} from './treatments'
import { keepTry, removeTry, useTry } from './tries'
import { addReferenceObject, removeReferenceObject } from './reference-objects'
import { addTrack, removeTrack, setTrack, setTrackPoints } from './tracks'
import { addWitness, removeWitness, setWitness } from './witnesses'

enablePatches()

const kinds = [
  setParameter,
  setChannels,
  resetParameter,
  addKeyframe,
  removeKeyframe,
  setKeyframes,
  addTreatment,
  shareTreatment,
  removeTreatment,
  turnTreatment,
  setTreatmentSource,
  setLimit,
  setLines,
  pinTreatment,
  addElement,
  removeElement,
  showElement,
  describeElement,
  setBlend,
  setInputs,
  setOwnGlass,
  setReveal,
  moveElement,
  placeElement,
  removePlacing,
  setPlacing,
  setTiming,
  addPoint,
  removePoint,
  setChoice,
  addSource,
  removeSource,
  setClaims,
  setSource,
  keepTry,
  useTry,
  removeTry,
  keepTreatmentTry,
  useTreatmentTry,
  removeTreatmentTry,
  keepSample,
  setSample,
  removeSample,
  addMarker,
  setMarker,
  removeMarker,
  drawStroke,
  removeStrokes,
  addWitness,
  setWitness,
  removeWitness,
  addReferenceObject,
  removeReferenceObject,
  addTrack,
  setTrack,
  setTrackPoints,
  removeTrack,
  addMatte,
  setMatte,
  pinMatte,
  removeMatte,
  addShape,
  setShape,
  setShapePlaces,
  addShapePoint,
  removeShapePoints,
  removeShape,
  setStrokes,
  setShot,
  returnTo,
] as const

type EditOf<K> = K extends EditKind<infer E> ? E : never
/** An edit of one thing. */
export type SingleChange = EditOf<(typeof kinds)[number]>
/** Several changes that are made, and taken back, as one. */
export interface Together {
  readonly kind: 'together'
  readonly changes: readonly SingleChange[]
  /** what they are for, when that is more than the first of them: "Duplicate Bell" */
  readonly label?: string
}
/** An edit of the document itself. */
export type Change = SingleChange | Together
/** Takes back what another edit did, if everything still is as that edit left it. Redo takes back an undo. */
export interface Undo {
  readonly kind: 'undo'
  /** id of the edit that is taken back */
  readonly edit: string
}
export type Edit = Change | Undo

const mostTogether = 2000

/** The table every door reads. */
export const editKinds: Readonly<Record<Change['kind'], EditKind<Change>>> = Object.fromEntries(
  [...kinds, together()].map((kind) => [kind.kind, kind]),
) as never

/** Either all of them are possible, or none is made. */
function together(): EditKind<Together> {
  const single = lazy((value: { kind?: unknown } | undefined) => {
    const known = kinds.find(({ kind }) => kind === value?.kind)
    return known?.schema ?? mixed().test('kind', '${path}.kind is not a known edit', () => false)
  })
  return {
    kind: 'together',
    schema: object({
      kind: string().required(),
      changes: array(single as never)
        .min(1)
        .max(mostTogether)
        .required(),
      label: string().strict().trim().min(1).max(200).optional(),
    })
      .noUnknown()
      .strict()
      .required(),
    apply(draft, { changes }) {
      // A copy: what one change brings into the document the next may change, and the edit may be made again.
      for (const change of changes) editKinds[change.kind].apply(draft, JSON.parse(JSON.stringify(change)) as Change)
    },
    sentence(shot, { changes, label }) {
      if (label !== undefined) return label
      const [first, ...more] = changes
      const own = editKinds[first.kind].sentence(shot, first)
      return more.length === 0 ? own : `${own}, and ${more.length} more`
    },
  }
}

const undoSchema = mixed<Undo>().test(
  'undo',
  'edit must name the edit that is taken back',
  (value) =>
    value !== null &&
    typeof value === 'object' &&
    Object.keys(value).length === 2 &&
    typeof value.edit === 'string' &&
    value.edit.length > 0 &&
    value.edit.length <= 64,
)

/** The shape of any edit. */
export const editSchema = lazy((value: { kind?: unknown } | undefined) => {
  const kind = typeof value === 'object' && value !== null ? value.kind : undefined
  if (kind === 'undo') return undoSchema.required()
  if (typeof kind === 'string' && Object.hasOwn(editKinds, kind)) return editKinds[kind as Change['kind']].schema
  return mixed().test('kind', 'edit.kind is not a known edit', () => false)
}) as unknown as Schema<Edit>

/** What an edit did: enough to take it back. Patches name things by their ids, never by their places in lists. */
export interface Made {
  readonly label: string
  readonly patches: readonly Patch[]
  readonly inverse: readonly Patch[]
}

export interface Edited extends Made {
  readonly shot: Shot
}

/** @throws ImpossibleEditError when what it names is gone, or it would break a rule */
export function applyEdit(shot: Shot, edit: Change): Edited {
  const { apply, sentence } = editKinds[edit.kind]
  const label = sentence(shot, edit)
  const [next, patches, inverse] = produceWithPatches(shot, (draft: Draft<Shot>) => apply(draft, edit))
  return { shot: next, label, patches, inverse }
}

/** What an edit does, in words. */
export const describeEdit = (shot: Shot, edit: Change): string => editKinds[edit.kind].sentence(shot, edit)

/** @returns the first place that both changes write to, or null when they do not meet */
export function overlap(a: readonly Patch[], b: readonly Patch[]): string | null {
  for (const one of a) {
    for (const other of b) {
      const shorter = Math.min(one.path.length, other.path.length)
      if (one.path.slice(0, shorter).every((step, i) => step === other.path[i])) return one.path.join('.')
    }
  }
  return null
}

export { ImpossibleEditError }
export type { Patch }
export type { SourceChanges } from './sources'
export type { DescribeElement } from './elements'
export type { ShotChanges } from './shot'
export { nextTryName } from './tries'
export { nextTreatmentTryName, usedTry } from './treatment-tries'
export type { SetSample } from './samples'
export type { SetLines } from './lines'
export type { SetTrack, SetTrackPoints } from './tracks'
export type { KeyframeChanges } from './keyframes'
export type { SetMatte } from './mattes'
export type { SetShape, SetShapePlaces } from './shapes'
export type { SetTiming } from './timing'
export type { SetWitness } from './witnesses'
export type { SetPlacing } from './placing'
