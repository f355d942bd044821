/** Edits of what there may be several of, or what is chosen by name: points of a curve, stops, picks, an encoding. */

import { lazy, mixed, object, string } from 'yup'
import { ImpossibleEditError } from '../impossible-edit'
import { find } from '../find'
import { beyondPoints, withPoints } from '../parameters'
import { faultOf, id, pointSchemaOf } from '../schema'
import type { Point, PointOwner, Shot, Table } from '../types'
import { editKind, put, take } from './kind'
import type { Draft } from 'immer'

export interface AddPoint {
  readonly kind: 'add-point'
  readonly of: PointOwner
  readonly point: Point
}
export interface RemovePoint {
  readonly kind: 'remove-point'
  readonly of: PointOwner
  readonly point: string
}
export interface SetChoice {
  readonly kind: 'set-choice'
  readonly of: PointOwner
  readonly name: string
  readonly value: string
}

const fields = (shape: Parameters<typeof object>[0]) => object(shape).noUnknown().strict().required()

export const pointOwner = lazy((value: { kind?: unknown } | undefined) =>
  value?.kind === 'input'
    ? fields({ kind: string().required(), element: id(), id: id() })
    : fields({ kind: string().strict().oneOf(['treatment', 'input']).required(), id: id() }),
)

interface Writable {
  points?: Draft<Table<Point>>
  choices?: Record<string, string>
}

/** What has the points, to be changed in place. @throws ImpossibleEditError when it is gone */
function writableOf(draft: Draft<Shot>, of: PointOwner) {
  const known = withPoints(draft, of)
  if (!known) throw new ImpossibleEditError('What this belongs to is not in this shot any more.')
  const { points, choices } = (
    of.kind === 'treatment' ? draft.treatments.byId[of.id] : draft.elements.byId[of.element].inputs.byId[of.id]
  ) as Writable
  return { known, points, choices }
}

const called = (shot: Shot, of: PointOwner) => withPoints(shot, of)?.name() ?? 'what is gone'

export const addPoint = editKind<AddPoint>({
  kind: 'add-point',
  schema: fields({ kind: string().required(), of: pointOwner, point: mixed().required() }),
  apply(draft, { of, point }) {
    const { known, points } = writableOf(draft, of)
    const fault = faultOf(pointSchemaOf(known.description), point)
    if (fault !== null || !points)
      throw new ImpossibleEditError(`It cannot be added: ${fault ?? 'there are no points'}.`)
    put(points, point, known.description.points?.label.toLowerCase() ?? 'point')
    const [beyond] = beyondPoints(known.description, points as Table<Point>)
    if (beyond !== undefined) throw new ImpossibleEditError(`${beyond}.`)
  },
  sentence(shot, { of }) {
    const label = withPoints(shot, of)?.description.points?.label.toLowerCase() ?? 'point'
    return `Add a ${label} to ${called(shot, of)}`
  },
})

export const removePoint = editKind<RemovePoint>({
  kind: 'remove-point',
  schema: fields({ kind: string().required(), of: pointOwner, point: id() }),
  apply(draft, { of, point }) {
    const { known, points } = writableOf(draft, of)
    if (!points || !find(points as Table<Point>, point))
      throw new ImpossibleEditError(`It is not in ${called(draft as Shot, of)} any more.`)
    take(points, point)
    const [beyond] = beyondPoints(known.description, points as Table<Point>)
    if (beyond !== undefined) throw new ImpossibleEditError(`${beyond}.`)
  },
  sentence(shot, { of }) {
    const label = withPoints(shot, of)?.description.points?.label.toLowerCase() ?? 'point'
    return `Remove a ${label} of ${called(shot, of)}`
  },
})

export const setChoice = editKind<SetChoice>({
  kind: 'set-choice',
  schema: fields({
    kind: string().required(),
    of: pointOwner,
    name: string().strict().max(64).required(),
    value: string().strict().max(64).required(),
  }),
  apply(draft, { of, name, value }) {
    const { known, choices } = writableOf(draft, of)
    const choice = known.description.choices?.find((one) => one.name === name)
    if (!choice || !choices) throw new ImpossibleEditError(`${known.description.label} has no choice "${name}".`)
    if (!choice.options.some((one) => one.name === value))
      throw new ImpossibleEditError(`${choice.label} of ${known.name()} cannot be "${value}".`)
    choices[name] = value
  },
  sentence(shot, { of, name }) {
    const label = withPoints(shot, of)?.description.choices?.find((one) => one.name === name)?.label ?? name
    return `${label} of ${called(shot, of)}`
  },
})
