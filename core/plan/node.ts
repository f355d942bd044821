/** What can be looked at by itself: a source or a pass of it, an element up to some treatment, a matte. */

import { resample, type Step } from '../graph/steps'
import { find } from '../shot'
import { alphaOf } from './alpha'
import { elementAt, type UpTo } from './element'
import type { Planning } from './memo'
import { mappingOf, sourceStep } from './source'

export type Node =
  | {
      readonly kind: 'source'
      readonly id: string
      readonly part: string | null
      readonly channels?: readonly string[]
    }
  | { readonly kind: 'element'; readonly id: string; readonly upTo: UpTo }
  /** what limits the use of a treatment */
  | { readonly kind: 'matte'; readonly use: string }

/** @returns null where it shows nothing at that time */
export function nodeAt(planning: Planning, node: Node, time: number): Step | null {
  switch (node.kind) {
    case 'source':
      return sourceNode(planning, node.id, node.part, node.channels, time)
    case 'element':
      return elementAt(planning, node.id, time, undefined, node.upTo).step
    case 'matte': {
      const matte = find(planning.shot.uses, node.use)?.limit?.matte
      if (!matte) return null
      if (matte.kind === 'source')
        return sourceNode(
          planning,
          matte.source,
          matte.part,
          matte.channel === null ? undefined : [matte.channel],
          time,
        )
      const step = elementAt(planning, matte.element, time).step
      return step && alphaOf(step)
    }
  }
}

function sourceNode(
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
