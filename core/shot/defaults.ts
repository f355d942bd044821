/** New treatments and blends with every parameter at its initial value. */

import type { Description } from '../treatments'
import { blends, type BlendKind } from '../set/blends'
import { treatments, type TreatmentKind } from '../treatments'
import type { BlendSettings, Parameters, TreatmentSettings } from './types'

export function initialParameters(description: Description): Parameters {
  return Object.fromEntries(description.parameters.map((p) => [p.name, Array<number>(p.channels).fill(p.initial)]))
}

export function newTreatment(kind: TreatmentKind, id: string): TreatmentSettings {
  return { id, kind, enabled: true, parameters: initialParameters(treatments[kind]) }
}

export function newBlend(kind: BlendKind, parameters: Parameters = {}): BlendSettings {
  return { kind, parameters: { ...initialParameters(blends[kind]), ...parameters } }
}
