/** What each kind of thing draws on the picture while it is selected: handles to be taken hold of, and outlines. */

import { cornersOf, type Spot } from '../../../../core/motion/placing'
import { find, type Box, type Shot } from '../../../../core/shot'
import type { Selected } from '../../store/shot-slice'
import type { ViewState } from '../../store/view'
import { gradientHandles } from './gradient-handles'
import { cornerHandles, outlineOf, placedNow, placingHandles } from './placing-tool'
import type { Handle } from './tool'

/** What drawings are made of. */
export interface Drawn {
  readonly view: ViewState
  readonly shot: Shot | null
  /** what is selected */
  readonly selected: Selected | null
  /** where the sides of the selected witness were read on this frame, when they were */
  readonly sides?: readonly Box[]
}

interface Drawing {
  handles(id: string, drawn: Drawn): Handle[]
  /** closed lines, in pixels of the frame */
  outlines(id: string, drawn: Drawn): readonly (readonly Spot[])[]
}

/** It lies nowhere in particular. */
const nothing: Drawing = { handles: () => [], outlines: () => [] }

const placed = (id: string, { view, shot }: Drawn) => {
  const { tool } = view.screen
  return tool === 'place' || tool === 'corners' ? placedNow(shot, id, view.playing.frame) : null
}

const element: Drawing = {
  handles(id, drawn) {
    const { view, shot } = drawn
    const now = placed(id, drawn)
    const placing = now ? (view.screen.tool === 'place' ? placingHandles(now) : cornerHandles(now)) : []
    return [...gradientHandles(shot, id, view.playing.frame), ...placing]
  },
  outlines(id, drawn) {
    const now = placed(id, drawn)
    return now ? [outlineOf(now)] : []
  },
}

/** Both of its sides. */
const witness: Drawing = {
  handles: () => [],
  outlines(id, { shot, sides }) {
    const found = shot && find(shot.witnesses, id)
    return found ? (sides ?? [found.reference, found.adjusted]).map(cornersOf) : []
  },
}

const drawings: Readonly<Record<Selected['kind'], Drawing>> = {
  element,
  source: nothing,
  witness,
  glass: nothing,
  sensor: nothing,
  finish: nothing,
}

export const handlesOfSelected = (drawn: Drawn): Handle[] =>
  drawn.selected ? drawings[drawn.selected.kind].handles(drawn.selected.id, drawn) : []

export const outlinesOfSelected = (drawn: Drawn): readonly (readonly Spot[])[] =>
  drawn.selected ? drawings[drawn.selected.kind].outlines(drawn.selected.id, drawn) : []
