/** Keyframes of many curves changed at once: moved, copied, given another way, taken away. */

import { array, lazy, mixed, object, string } from 'yup'
import { settingsOf, type BeyondKeyframes, type Curve, type StoredKeyframe } from '../../motion/curve'
import { ImpossibleEditError } from '../impossible-edit'
import { parameterOf, rangeSentence } from '../parameters'
import { beyondSchema, keyframeSchema, keyframesSchema } from '../schema'
import type { ParameterAddress } from '../types'
import { writeCurve } from './curves'
import { checkGroups } from './elements'
import { editKind } from './kind'
import { channelAddress, nameOfParameter } from './parameters'

export interface KeyframeChanges {
  readonly at: ParameterAddress & { readonly channel: number }
  /** null: there is none on this frame any more */
  readonly keyframes: Readonly<Record<string, StoredKeyframe | null>>
  /** null: level beyond them */
  readonly beyond?: BeyondKeyframes | null
}
export interface SetKeyframes {
  readonly kind: 'set-keyframes'
  readonly curves: readonly KeyframeChanges[]
}

const mostCurves = 2_000
const fields = (shape: Parameters<typeof object>[0]) => object(shape).noUnknown().strict().required()
const keyframeOrNone = lazy((value: unknown) => (value === null ? mixed().nullable() : keyframeSchema)) as never

/** The keyframes that stay and those that come; when none is left, the number that the last one held. */
function changed(curve: Curve, { keyframes, beyond }: KeyframeChanges): Curve {
  const next: Record<string, StoredKeyframe> = typeof curve === 'number' ? {} : { ...curve.keyframes }
  let held = typeof curve === 'number' ? curve : undefined
  for (const [frame, value] of Object.entries(keyframes)) {
    if (value !== null) next[frame] = value
    else {
      if (Object.hasOwn(next, frame)) held ??= settingsOf(next[frame]).value
      delete next[frame]
    }
  }
  if (Object.keys(next).length === 0) return held ?? 0
  const kept = typeof curve === 'number' ? undefined : curve.beyond
  const goesOn = beyond === undefined ? kept : (beyond ?? undefined)
  return { keyframes: next, ...(goesOn === undefined ? {} : { beyond: goesOn }) }
}

export const setKeyframes = editKind<SetKeyframes>({
  kind: 'set-keyframes',
  schema: fields({
    kind: string().required(),
    curves: array(
      fields({
        at: channelAddress(),
        keyframes: keyframesSchema(keyframeOrNone),
        beyond: beyondSchema().nullable(),
      }),
    )
      .min(1)
      .max(mostCurves)
      .required(),
  }),
  apply(draft, { curves }) {
    for (const changes of curves) {
      const { at } = changes
      const { known, curves: all } = parameterOf(draft, at.owner, at.parameter)
      const writable = all as Curve[]
      if (at.channel >= writable.length) throw new ImpossibleEditError(`${known.label} has no channel ${at.channel}.`)
      for (const value of Object.values(changes.keyframes)) {
        const number = value === null ? known.initial : settingsOf(value).value
        if (!(number >= known.least && number <= known.most))
          throw new ImpossibleEditError(`${rangeSentence(known, number)}.`)
      }
      writeCurve(writable, at.channel, changed(writable[at.channel], changes))
    }
    if (curves.some(({ at }) => at.owner.kind === 'element')) checkGroups(draft)
  },
  sentence(shot, { curves }) {
    const first = nameOfParameter(shot, curves[0].at)
    const frames = new Set(curves.flatMap(({ keyframes }) => Object.keys(keyframes))).size
    const what = frames === 0 ? 'Beyond the keyframes' : frames === 1 ? 'Keyframe' : 'Keyframes'
    return curves.length === 1 ? `${what} of ${first}` : `${what} of ${first}, and ${curves.length - 1} more`
  },
})
