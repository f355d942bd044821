/** Parameters at a time, as steps take them. */

import type { ParameterValues } from '../graph/steps'
import { valueAt } from '../motion/curve'
import type { Parameters } from '../shot'

export function valuesAt(parameters: Parameters, time: number): ParameterValues {
  return Object.fromEntries(
    Object.entries(parameters).map(([name, curves]) => [name, curves.map((curve) => valueAt(curve, time))]),
  )
}
