/** All treatments. A new one is its file, its test, and a line here. */

import { glow } from './glow'
import { grain } from './grain'
import { lensMap } from './lens-map'
import { lookTable } from './look-table'
import { saturation } from './saturation'
import { soften } from './soften'
import type { Treatment } from './treatment'
import { veilAndGain } from './veil-and-gain'

const all = [veilAndGain, saturation, soften, lensMap, glow, grain, lookTable] as const

export type TreatmentKind = (typeof all)[number]['kind']

export const treatments: Readonly<Record<TreatmentKind, Treatment>> = Object.fromEntries(
  all.map((treatment) => [treatment.kind, treatment]),
) as unknown as Record<TreatmentKind, Treatment>

export const treatmentKinds: readonly TreatmentKind[] = all.map((treatment) => treatment.kind)

export type {
  MappingTreatment,
  ParameterValues,
  PictureTreatment,
  PointRun,
  Station,
  Surroundings,
  Treatment,
} from './treatment'
export type { Description, ParameterDescription, SourceDescription } from './description'
