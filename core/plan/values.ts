/** Parameters at a time, as steps take them: held to their ranges, which a curve may leave between two keyframes. */

import type { ParameterValues } from '../graph/steps'
import { valueAt } from '../motion/curve'
import type { Parameters, Point, Table } from '../shot'
import type { ParameterDescription, PointValues } from '../treatments'

export function valuesAt(
  described: readonly ParameterDescription[],
  parameters: Parameters,
  time: number,
): ParameterValues {
  return Object.fromEntries(
    Object.entries(parameters).map(([name, curves]) => [
      name,
      // A plain number cannot leave its range: it was checked at the door.
      curves.map((curve) => (typeof curve === 'number' ? curve : heldTo(described, name, valueAt(curve, time)))),
    ]),
  )
}

function heldTo(described: readonly ParameterDescription[], name: string, value: number): number {
  const { least = -Infinity, most = Infinity } = described.find((one) => one.name === name) ?? {}
  return Math.min(most, Math.max(least, value))
}

/** Points at a time, by their ids, so that equal ones are made of in the same order. */
export function pointsAt(
  described: readonly ParameterDescription[],
  { byId }: Table<Point>,
  time: number,
): readonly PointValues[] {
  return Object.values(byId)
    .sort((a, b) => (a.id < b.id ? -1 : 1))
    .map(({ set, parameters }) => ({
      ...(set === undefined ? {} : { set }),
      values: valuesAt(described, parameters, time),
    }))
}
