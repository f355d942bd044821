/** A source at a time: which file, read how. */

import { workingSpaces } from '../colour'
import { frameStep, type Carries, type FrameStep, type Mapping, type Scale } from '../graph/steps'
import type { WantedIds } from '../image/object-ids'
import { byScale, unmoved, composed } from '../motion/mapping'
import { find, framePath, servingFrame, type Shot, type Source } from '../shot'
import { absent, filesIn, type Files } from './catalog'
import { PlanMemo, type Planning } from './memo'
import type { Problem } from './problem'

/** @returns null where the source is gone or does not reach the time */
export function sourceStep(
  planning: Planning,
  id: string,
  part: string | null,
  channels: readonly string[] | null,
  takes: Carries,
  time: number,
  ids?: WantedIds,
): FrameStep | null {
  const { memo } = planning
  const source = memo.read(planning, ({ shot }) => find(shot.sources, id))
  if (!source) return null
  const number = memo.read(planning, ({ files }) =>
    servingFrame(source, time, {
      has: (one) => files.fingerprint(source, one) !== absent,
      before: (one) => files.before(source, one),
    }),
  )
  if (number === undefined || isNotMade(planning, source, number)) return null
  return frameOfSource(planning, source, number, part, channels, takes, ids)
}

const isNotMade = (planning: Planning, source: Source, number: number | null): boolean =>
  source.made !== undefined && planning.memo.read(planning, ({ files }) => files.fingerprint(source, number)) === absent

/** Of a source that is made here and shows nothing at a time: that it is not made yet; null where that is not the reason. */
export function notMadeYet(planning: Planning, source: Source, time: number): Problem | null {
  const number = planning.memo.read(planning, ({ files }) =>
    servingFrame(source, time, { has: () => true, before: (one) => files.before(source, one) }),
  )
  if (number === undefined || !isNotMade(planning, source, number)) return null
  return {
    at: { kind: 'source', id: source.id },
    sentence: `${source.name} is not made yet${number === null ? '' : ` at frame ${time}`}.`,
    remedy: 'Select it among the sources and make it.',
    missing: 'part',
  }
}

function frameOfSource(
  planning: Planning,
  source: Source,
  number: number | null,
  part: string | null,
  channels: readonly string[] | null,
  takes: Carries,
  ids?: WantedIds,
): FrameStep {
  const { memo, scale } = planning
  const workingSpace = memo.read(planning, ({ shot }) => shot.workingSpace)
  const fingerprint = memo.read(planning, ({ files }) => files.fingerprint(source, number))
  const frameSize = memo.read(planning, ({ shot }) => shot.frameSize)
  const aspect = memo.read(planning, ({ shot }) => shot.pixelAspect)
  const { enlarge = 1, framing = 'centred' } = source
  const squeeze = (source.pixelAspect ?? aspect) / aspect
  const reduce = (scale > enlarge ? scale / enlarge : 1) as Scale
  return frameStep(
    {
      source: source.id,
      sourceName: source.name,
      path: framePath(source.path, number),
      frame: number,
      part,
      channels,
      takes,
      claims: source.claims,
      working: workingSpaces[workingSpace],
      reduce: takes === 'table' ? 1 : reduce,
      framing: takes === 'table' ? 'file' : framing,
      frameSize: { width: frameSize.width / enlarge / squeeze, height: frameSize.height / enlarge },
      ...(source.greenUp && takes === 'vec2' ? { greenUp: true } : {}),
      ...(ids ? { ids } : {}),
    },
    fingerprint,
  )
}

/** From the frame's pixels, at the scale of the graph, to those of a source's files as they are read; null: the same. */
export function mappingOf(planning: Planning, source: Source): Mapping | null {
  const { memo, scale } = planning
  const aspect = memo.read(planning, ({ shot }) => shot.pixelAspect)
  const { enlarge = 1 } = source
  // Files are squeezed, the plate never is: the frame has its pixels.
  const squeeze = (source.pixelAspect ?? aspect) / aspect
  const rest = enlarge > scale ? scale / enlarge : 1
  if (squeeze === 1 && rest === 1) return null
  return composed(byScale(rest, rest), byScale(1 / squeeze, 1)) ?? unmoved
}

/** How a source's files are read at full scale, and from the frame's pixels to theirs; null: the same. */
export function fullScaleReading(shot: Shot, source: Source) {
  const planning: Planning = { shot, scale: 1, files: filesIn({}), memo: new PlanMemo() }
  const { request } = frameOfSource(planning, source, null, null, null, 'scalar')
  return { request, mapping: mappingOf(planning, source) }
}

/** The frame of a colour table, to look through. */
export function tableStep(shot: Shot, source: Source, files: Files): FrameStep {
  return frameOfSource({ shot, scale: 1, files, memo: new PlanMemo() }, source, null, null, null, 'table')
}
