/** All treatments. A new one is its file, its kernel, its test, and a line here. */

import type { Treatment } from './treatment'
import { veilAndGain } from './veil-and-gain'

const all = [veilAndGain] as const

export type TreatmentKind = (typeof all)[number]['kind']

export const treatments: Readonly<Record<TreatmentKind, Treatment>> = Object.fromEntries(
  all.map((treatment) => [treatment.kind, treatment]),
) as Record<TreatmentKind, Treatment>

export const treatmentKinds: readonly TreatmentKind[] = all.map((treatment) => treatment.kind)

export type { Treatment, ParameterValues, Station } from './treatment'
export type { Description, ParameterDescription } from './description'
