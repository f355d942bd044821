/** Every tool by its name, and what lies on the picture to be taken hold of. */

import { shotActions } from '../../store/shot-slice'
import type { Point, ToolName } from '../../store/view'
import { screenOf, type Placement } from '../picture/placement'
import { areaTool } from './area-tool'
import { handlesOfSelected, type Drawn } from './drawings'
import { lineTool } from './line-tool'
import { brushTool } from './brush-tool'
import { outlineTool } from './outline-tool'
import { pointsTool } from './points-tool'
import { objectTool } from './object-tool'
import { noteTool } from './note-tool'
import { lookTool } from './look-tool'
import { regionTool } from './region-tool'
import { splitHandles, splitTool } from './split-tool'
import { trackTool } from './track-tool'
import { cornersTool, placeTool, snapReach } from './placing-tool'
import type { Gesture, Handle, Pointed, Tool } from './tool'

export const tools: Readonly<Record<ToolName, Tool>> = {
  look: lookTool,
  split: splitTool,
  area: areaTool,
  place: placeTool,
  corners: cornersTool,
  note: noteTool,
  track: trackTool,
  line: lineTool,
  region: regionTool,
  outline: outlineTool,
  points: pointsTool,
  brush: brushTool,
  object: objectTool,
}

/** What can be taken hold of on the picture: what compares, and what is selected. */
export const handlesOf = (drawn: Drawn): Handle[] => [...splitHandles(drawn.view), ...handlesOfSelected(drawn)]

/** Screen pixels. */
const reach = 9

/** The handle under a place on the screen, the nearest one first. */
export function handleAt(of: Drawn, placement: Placement, screen: Point): Handle | null {
  const near = handlesOf(of)
    .map((handle) => {
      const at = screenOf(placement, handle.at)
      return { handle, away: Math.hypot(at.x - screen.x, at.y - screen.y) }
    })
    .filter(({ away }) => away <= reach)
    .sort((a, b) => a.away - b.away)
  return near.length > 0 ? near[0].handle : null
}

/** @param zoom screen pixels of one of the picture */
export function dragHandle(handle: Handle, zoom: number): Gesture {
  const { move, edit, press } = handle
  if (move) return { move: ({ point }) => move(point), up: () => null }
  const reach = snapReach / zoom
  const draft = ({ point, shift, control }: Pointed) => edit(point, { shift, control, reach })
  return {
    move: () => null,
    draft,
    up: (at, moved) => {
      if (!moved) return press ? press(at) : null
      const change = draft(at)
      return change && shotActions.edited(change)
    },
  }
}

export { isPick } from './tool'
export { outlinesOfSelected } from './drawings'
export type { Gesture, Handle, Pointed, Tool } from './tool'
