/** New treatments and landings with every parameter at its initial value. */

import type { Description } from '../treatments'
import { landings, type LandingKind } from '../set/landings'
import { treatments, type TreatmentKind } from '../treatments'
import type { LandingSettings, Parameters, TreatmentSettings } from './types'

export function initialParameters(description: Description): Parameters {
  return Object.fromEntries(description.parameters.map((p) => [p.name, Array<number>(p.channels).fill(p.initial)]))
}

export function newTreatment(kind: TreatmentKind, id: string): TreatmentSettings {
  return { id, kind, enabled: true, parameters: initialParameters(treatments[kind]) }
}

export function newLanding(kind: LandingKind, parameters: Parameters = {}): LandingSettings {
  return { kind, parameters: { ...initialParameters(landings[kind]), ...parameters } }
}
