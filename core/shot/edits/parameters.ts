/** Edits of numbers: anything that has parameters, by its owner's address. */

import { lazy, number, object, string, array, type Schema } from 'yup'
import { valueAt, withKeyframe, withoutKeyframe, withValue, type Curve } from '../../motion/curve'
import { ImpossibleEditError } from '../impossible-edit'
import { ownedBy, parameterOf, rangeSentence } from '../parameters'
import { id } from '../schema'
import type { Owner, ParameterAddress, Shot } from '../types'
import type { ParameterDescription } from '../../treatments'
import { checkGroups } from './elements'
import { writeCurve } from './curves'
import { editKind } from './kind'
import { pointOwner } from './points'
import type { Draft } from 'immer'

/** on a keyed curve this sets the keyframe at `frame` */
export interface SetParameter {
  readonly kind: 'set-parameter'
  readonly at: ParameterAddress
  readonly frame: number
  readonly value: number
}
/** one value a channel */
export interface SetChannels {
  readonly kind: 'set-channels'
  readonly at: Omit<ParameterAddress, 'channel'>
  readonly frame: number
  readonly values: readonly number[]
}
export interface ResetParameter {
  readonly kind: 'reset-parameter'
  readonly at: ParameterAddress
}
export interface AddKeyframe {
  readonly kind: 'add-keyframe'
  readonly at: ParameterAddress
  readonly frame: number
}
export interface RemoveKeyframe {
  readonly kind: 'remove-keyframe'
  readonly at: ParameterAddress
  readonly frame: number
}

const fields = (shape: Parameters<typeof object>[0]) => object(shape).noUnknown().strict().required()
const ids: Readonly<Record<Owner['kind'], readonly string[]>> = {
  element: ['id'],
  blend: ['element'],
  input: ['element', 'id'],
  treatment: ['id'],
  limit: ['use'],
  placing: ['element'],
  shutter: [],
  matte: ['id'],
  shape: ['matte', 'id'],
  point: ['id'],
}
const owner = lazy((value: { kind?: string } | undefined) => {
  const kinds = Object.keys(ids) as Owner['kind'][]
  const kind = kinds.find((known) => known === value?.kind)
  return fields({
    ...(kind === 'point' ? { of: pointOwner } : {}),
    kind: string().strict().oneOf(kinds).required(),
    ...Object.fromEntries((kind ? ids[kind] : []).map((name) => [name, id()])),
  })
})
const parameterName = () => string().strict().max(64).required()
const address = () =>
  fields({ owner, parameter: parameterName(), channel: number().strict().integer().min(0).nullable().defined() })
/** The address of one channel's curve. */
export const channelAddress = () =>
  fields({ owner, parameter: parameterName(), channel: number().strict().integer().min(0).required() })
const finite = () =>
  number()
    .strict()
    .test('finite', '${path} must be a finite number', (value) => value === undefined || Number.isFinite(value))
    .required()
const frame = () => number().strict().integer().min(-1e8).max(1e8).required()
const keyframeSchema = (kind: string): Schema =>
  fields({ kind: string().oneOf([kind]).required(), at: address(), frame: frame() })

function changeCurves(
  draft: Draft<Shot>,
  at: ParameterAddress,
  next: (curve: Curve, known: ParameterDescription) => Curve,
): void {
  const { known, curves, owned } = parameterOf(draft, at.owner, at.parameter)
  if (at.channel !== null && at.channel >= known.channels)
    throw new ImpossibleEditError(
      `${owned.description.label} has no parameter "${at.parameter}" with a channel ${at.channel}.`,
    )
  const writable = curves as Curve[]
  writable.forEach((curve, channel) => {
    if (at.channel === null || at.channel === channel) writeCurve(writable, channel, next(plainCurve(curve), known))
  })
  // A group whose opacity changes may become a picture of its own.
  if (at.owner.kind === 'element') checkGroups(draft)
}

/** Curves are remembered by what they are, which a draft is not. */
function plainCurve(curve: Curve): Curve {
  return typeof curve === 'number' ? curve : { ...curve, keyframes: { ...curve.keyframes } }
}

function inRange(known: ParameterDescription, value: number): number {
  if (value >= known.least && value <= known.most) return value
  throw new ImpossibleEditError(`${rangeSentence(known, value)}.`)
}

const channelNames = ['red', 'green', 'blue']

/** @returns "Veil red of Bell" */
export function nameOfParameter(
  shot: Shot,
  at: Omit<ParameterAddress, 'channel'> & { readonly channel?: number | null },
): string {
  const owned = ownedBy(shot, at.owner)
  const known = owned?.description.parameters.find((p) => p.name === at.parameter)
  const channel =
    at.channel !== null && at.channel !== undefined && known?.channels === 3 ? ` ${channelNames[at.channel]}` : ''
  return `${known?.label ?? at.parameter}${channel} of ${owned?.name() ?? 'what is gone'}`
}

export const setParameter = editKind<SetParameter>({
  kind: 'set-parameter',
  schema: fields({ kind: string().required(), at: address(), frame: frame(), value: finite() }),
  apply: (draft, { at, frame: when, value }) =>
    changeCurves(draft, at, (curve, known) => withValue(curve, when, inRange(known, value), known.way)),
  sentence: (shot, { at }) => nameOfParameter(shot, at),
})

export const setChannels = editKind<SetChannels>({
  kind: 'set-channels',
  schema: fields({
    kind: string().required(),
    at: fields({ owner, parameter: parameterName() }),
    frame: frame(),
    values: array(finite()).min(1).max(3).required(),
  }),
  apply: (draft, { at, frame: when, values }) =>
    values.forEach((value, channel) =>
      changeCurves(draft, { ...at, channel }, (curve, known) =>
        withValue(curve, when, inRange(known, value), known.way),
      ),
    ),
  sentence: (shot, { at }) => nameOfParameter(shot, at),
})

export const resetParameter = editKind<ResetParameter>({
  kind: 'reset-parameter',
  schema: fields({ kind: string().required(), at: address() }),
  apply: (draft, { at }) => changeCurves(draft, at, (_curve, known) => known.initial),
  sentence: (shot, { at }) => `Reset ${nameOfParameter(shot, at)}`,
})

export const addKeyframe = editKind<AddKeyframe>({
  kind: 'add-keyframe',
  schema: keyframeSchema('add-keyframe'),
  apply: (draft, { at, frame: when }) =>
    changeCurves(draft, at, (curve, known) => withKeyframe(curve, when, valueAt(curve, when), known.way)),
  sentence: (shot, { at, frame: when }) => `Keyframe at ${when} for ${nameOfParameter(shot, at)}`,
})

export const removeKeyframe = editKind<RemoveKeyframe>({
  kind: 'remove-keyframe',
  schema: keyframeSchema('remove-keyframe'),
  apply: (draft, { at, frame: when }) => changeCurves(draft, at, (curve) => withoutKeyframe(curve, when)),
  sentence: (shot, { at, frame: when }) => `Remove keyframe at ${when} from ${nameOfParameter(shot, at)}`,
})
