/** Every tool by its name, and what lies on the picture to be taken hold of. */

import type { Point, ToolName, ViewState } from '../../store/view'
import type { Placement } from '../picture/placement'
import { areaTool } from './area-tool'
import { lookTool } from './look-tool'
import { splitHandles, splitTool } from './split-tool'
import type { Gesture, Handle, Tool } from './tool'

export const tools: Readonly<Record<ToolName, Tool>> = { look: lookTool, split: splitTool, area: areaTool }

export const handlesOf = (view: ViewState): Handle[] => splitHandles(view)

/** Screen pixels. */
const reach = 9

/** The handle under a place on the screen, the nearest one first. */
export function handleAt(view: ViewState, { left, top, zoom }: Placement, screen: Point): Handle | null {
  const near = handlesOf(view)
    .map((handle) => ({
      handle,
      away: Math.hypot(left + handle.at.x * zoom - screen.x, top + handle.at.y * zoom - screen.y),
    }))
    .filter(({ away }) => away <= reach)
    .sort((a, b) => a.away - b.away)
  return near.length > 0 ? near[0].handle : null
}

export const dragHandle = (handle: Handle): Gesture => ({ move: ({ point }) => handle.move(point), up: () => null })

export { isPick } from './tool'
export type { Gesture, Handle, Pointed, Tool } from './tool'
