/** Every tool by its name, and what lies on the picture to be taken hold of. */

import type { Shot } from '../../../../core/shot'
import { shotActions } from '../../store/shot-slice'
import type { Point, ToolName, ViewState } from '../../store/view'
import type { Placement } from '../picture/placement'
import { areaTool } from './area-tool'
import { gradientHandles } from './gradient-handles'
import { lookTool } from './look-tool'
import { splitHandles, splitTool } from './split-tool'
import { cornerHandles, cornersTool, placedNow, placeTool, placingHandles, snapReach } from './placing-tool'
import type { Gesture, Handle, Pointed, Tool } from './tool'

export const tools: Readonly<Record<ToolName, Tool>> = {
  look: lookTool,
  split: splitTool,
  area: areaTool,
  place: placeTool,
  corners: cornersTool,
}

/** What handles are made of. */
export interface HandlesOf {
  readonly view: ViewState
  readonly shot: Shot | null
  readonly selected: string | null
}

export function handlesOf({ view, shot, selected }: HandlesOf): Handle[] {
  const { tool } = view.screen
  const now = tool === 'place' || tool === 'corners' ? placedNow(shot, selected, view.playing.frame) : null
  const placing = now ? (tool === 'place' ? placingHandles(now) : cornerHandles(now)) : []
  return [...splitHandles(view), ...gradientHandles(shot, selected, view.playing.frame), ...placing]
}

/** Screen pixels. */
const reach = 9

/** The handle under a place on the screen, the nearest one first. */
export function handleAt(of: HandlesOf, { left, top, zoom }: Placement, screen: Point): Handle | null {
  const near = handlesOf(of)
    .map((handle) => ({
      handle,
      away: Math.hypot(left + handle.at.x * zoom - screen.x, top + handle.at.y * zoom - screen.y),
    }))
    .filter(({ away }) => away <= reach)
    .sort((a, b) => a.away - b.away)
  return near.length > 0 ? near[0].handle : null
}

/** @param zoom screen pixels of one of the picture */
export function dragHandle(handle: Handle, zoom: number): Gesture {
  const { move, edit } = handle
  if (move) return { move: ({ point }) => move(point), up: () => null }
  const reach = snapReach / zoom
  const draft = ({ point, shift, control }: Pointed) => edit(point, { shift, control, reach })
  return {
    move: () => null,
    draft,
    up: (at, moved) => {
      const change = moved ? draft(at) : null
      return change && shotActions.edited(change)
    },
  }
}

export { isPick } from './tool'
export { outlineOf, placedNow } from './placing-tool'
export type { Gesture, Handle, Pointed, Tool } from './tool'
