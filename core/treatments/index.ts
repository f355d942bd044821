/** All treatments. A new one is its file, its test, and a line here. */

import { backingKey } from './backing-key'
import { channelCopy } from './channel-copy'
import { clamp } from './clamp'
import { contrast } from './contrast'
import { curves } from './curves'
import { edge } from './edge'
import { exposure } from './exposure'
import { fringe } from './fringe'
import { glow } from './glow'
import { grain } from './grain'
import { hardLightContrast } from './hard-light'
import { holdout } from './holdout'
import { hueRanges } from './hue-ranges'
import { lens } from './lens'
import { lensMap } from './lens-map'
import { lightWrap } from './light-wrap'
import { lookTable } from './look-table'
import { patch } from './patch'
import { reframe } from './reframe'
import { saturation } from './saturation'
import { soften } from './soften'
import { spill } from './spill'
import { steady } from './steady'
import { tint } from './tint'
import type { Treatment } from './treatment'
import { veilAndGain } from './veil-and-gain'
import { vignette } from './vignette'
import { whiteBalance } from './white-balance'

const all = [
  backingKey,
  spill,
  veilAndGain,
  exposure,
  contrast,
  curves,
  saturation,
  hueRanges,
  tint,
  whiteBalance,
  hardLightContrast,
  channelCopy,
  clamp,
  soften,
  holdout,
  edge,
  patch,
  lens,
  lensMap,
  fringe,
  steady,
  reframe,
  vignette,
  glow,
  lightWrap,
  grain,
  lookTable,
] as const

export type TreatmentKind = (typeof all)[number]['kind']

export const treatments: Readonly<Record<TreatmentKind, Treatment>> = Object.fromEntries(
  all.map((treatment) => [treatment.kind, treatment]),
) as unknown as Record<TreatmentKind, Treatment>

export const treatmentKinds: readonly TreatmentKind[] = all.map((treatment) => treatment.kind)

export { backingChannels } from './backing-key'
export { lensOf } from './lens'
export type {
  Followed,
  MappingTreatment,
  PointValues,
  ParameterValues,
  PictureTreatment,
  PointRun,
  Station,
  Surroundings,
  Treatment,
} from './treatment'
export type {
  ChoiceDescription,
  Description,
  ParameterDescription,
  PointsDescription,
  SourceDescription,
} from './description'
