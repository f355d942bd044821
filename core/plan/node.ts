/** What can be looked at by itself: a source or a pass of it, an element up to some treatment, a matte. */

import type { Step } from '../graph/steps'
import { find } from '../shot'
import { lensOf, treatments } from '../treatments'
import { alphaOf } from '../graph/alpha-of'
import { elementAt, frameWindow, matteOf, type UpTo } from './element'
import type { Planning } from './memo'
import { planFrame, togetherAt } from './plan'
import { sourceNode } from './source-node'
import { straightened } from './straight'
import { valuesAt } from './values'

export type Node =
  | {
      readonly kind: 'source'
      readonly id: string
      readonly part: string | null
      readonly channels?: readonly string[]
    }
  | { readonly kind: 'element'; readonly id: string; readonly upTo: UpTo }
  /** several elements blended with each other: over the plate where it is one of them, else over nothing */
  | { readonly kind: 'elements'; readonly ids: readonly string[] }
  /** the picture, or a source, as it is without the lens whose settings these are */
  | { readonly kind: 'straight'; readonly treatment: string; readonly source: string | null }
  /** what limits the use of a treatment */
  | { readonly kind: 'limit'; readonly use: string }
  /** a matte of the shot */
  | { readonly kind: 'matte'; readonly matte: string }

/** @returns null where it shows nothing at that time */
export function nodeAt(planning: Planning, node: Node, time: number): Step | null {
  switch (node.kind) {
    case 'source':
      return sourceNode(planning, node.id, node.part, node.channels, time)
    case 'element':
      return elementAt(planning, node.id, time, undefined, node.upTo).step
    case 'elements':
      return togetherAt(planning, node.ids, time)
    case 'straight': {
      const settings = find(planning.shot.treatments, node.treatment)
      const picture =
        node.source === null
          ? planFrame(planning.shot, time, planning.scale, planning.files, planning.memo).composite
          : sourceNode(planning, node.source, null, undefined, time)
      if (settings?.kind !== 'lens' || !picture) return picture
      const frame = frameWindow(planning)
      const values = valuesAt(treatments.lens.parameters, settings.parameters, time)
      return straightened(picture, lensOf(values, frame, planning.scale), frame)
    }
    case 'matte':
      return matteOf(planning, node.matte, time).step
    case 'limit': {
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
      if (matte.kind === 'matte') return matteOf(planning, matte.matte, time).step
      const step = elementAt(planning, matte.element, time).step
      return step && alphaOf(step)
    }
  }
}
