/** A source, or a pass of it, as it lies in the frame. */

import { resample, type Step } from '../graph/steps'
import { find } from '../shot'
import type { Planning } from './memo'
import { mappingOf, sourceStep } from './source'

/** @returns null where it shows nothing at that time */
export function sourceNode(
  planning: Planning,
  id: string,
  part: string | null,
  channels: readonly string[] | undefined,
  time: number,
): Step | null {
  const takes = channels?.length === 1 ? 'scalar' : 'rgba'
  const step = sourceStep(planning, id, part, channels ?? null, takes, time)
  const source = find(planning.shot.sources, id)
  const mapping = source && mappingOf(planning, source)
  return step && mapping ? resample(step, mapping, 'catmull-rom') : step
}
