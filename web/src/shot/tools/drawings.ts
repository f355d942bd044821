/** What each kind of thing draws on the picture while it is selected: handles to be taken hold of, and outlines. */

import { cornersOf, type Spot } from '../../../../core/motion/placing'
import {
  cornersOfRegion,
  find,
  trackAt,
  type Box,
  type Change,
  type Shot,
  type Track,
  type Witness,
} from '../../../../core/shot'
import type { PlacesRead } from '../../../../core/witnesses'
import type { Selected } from '../../store/shot-slice'
import type { ViewState } from '../../store/view'
import { gradientHandles } from './gradient-handles'
import { patchHandles, patchOutlines } from './patch-handles'
import { shapeHandles } from './shape-handles'
import { cornerHandles, outlineOf, placedNow, placingHandles } from './placing-tool'
import type { Handle } from './tool'

/** What drawings are made of. */
export interface Drawn {
  readonly view: ViewState
  readonly shot: Shot | null
  /** what is selected */
  readonly selected: Selected | null
  /** where the sides of the selected witness were read on this frame, when they were */
  readonly sides?: PlacesRead
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
    const { frame } = view.playing
    return [...gradientHandles(shot, id, frame), ...patchHandles(shot, id, frame), ...placing]
  },
  outlines(id, drawn) {
    const now = placed(id, drawn)
    const { shot, view } = drawn
    return [...patchOutlines(shot, id, view.playing.frame), ...(now ? [outlineOf(now)] : [])]
  },
}

/** Its sides, and where the ground is in the light: taken hold of at the upper left they are moved, at the lower right made larger or smaller. */
const witness: Drawing = {
  handles(id, { shot, sides, view }) {
    const found = shot && find(shot.witnesses, id)
    return found ? sidesOf(found, sides).flatMap((side) => sideHandles(found, side, view.playing.frame, sides)) : []
  },
  outlines(id, { shot, sides }) {
    const found = shot && find(shot.witnesses, id)
    return found ? sidesOf(found, sides).map(({ box }) => cornersOf(box)) : []
  },
}

const sideNames = {
  reference: 'plate’s side',
  adjusted: 'element’s side',
  lit: 'ground in the light',
} as const
const sideLabels = { reference: 'plate', adjusted: 'element', lit: 'in the light' } as const
interface SideSeen {
  readonly name: keyof typeof sideNames
  /** where it is on the frame that is looked at */
  readonly box: Box
}

const sidesOf = ({ reference, adjusted, lit, purpose }: Witness, seen: PlacesRead | undefined): readonly SideSeen[] => [
  { name: 'reference', box: seen?.reference ?? reference },
  { name: 'adjusted', box: seen?.adjusted ?? adjusted },
  ...(purpose === 'shadow' && lit ? [{ name: 'lit' as const, box: seen?.lit ?? lit }] : []),
]

const leastSide = 2

/** Moved as far as it was moved on the frame that is looked at. */
function back({ lit }: Witness, seen: Box, to: Box): Box {
  const from = lit ?? seen
  return { ...to, x: from.x + to.x - seen.x, y: from.y + to.y - seen.y }
}

function sideHandles(of: Witness, { name, box }: SideSeen, frame: number, seen: PlacesRead | undefined): Handle[] {
  const { x, y, width, height } = box
  const changed = (to: Box): Change => {
    // Ground in the light goes along as the plate's side does: it is put where it lay when that was drawn.
    if (name === 'lit') return { kind: 'set-witness', witness: of.id, changes: { lit: back(of, box, to) } }
    // What follows goes on from where it was put.
    const { follows, along: track } = of[name]
    const side =
      follows === undefined ? to : { ...to, follows: frame, ...(track === undefined ? {} : { along: track }) }
    const along = name === 'reference' && seen?.lit ? { lit: seen.lit } : {}
    return { kind: 'set-witness', witness: of.id, changes: { [name]: side, ...along } }
  }
  const whole = (value: number) => Math.round(value)
  return [
    {
      name: `Move the ${sideNames[name]}`,
      label: of.purpose === 'shadow' && name === 'reference' ? 'plate’s shadow' : sideLabels[name],
      at: { x, y },
      edit: (to) => changed({ x: whole(to.x), y: whole(to.y), width, height }),
    },
    {
      name: `Size of the ${sideNames[name]}`,
      at: { x: x + width, y: y + height },
      edit: (to) =>
        changed({
          ...{ x, y },
          ...{ width: Math.max(leastSide, whole(to.x - x)), height: Math.max(leastSide, whole(to.y - y)) },
        }),
    },
  ]
}

/** Where it is on the frame that is looked at; nowhere where it is not known there. */
function trackSeen({ view, shot }: Drawn, id: string): { readonly track: Track; readonly at: Spot } | null {
  const track = shot && find(shot.tracks, id)
  const { frame } = view.playing
  return track && Object.hasOwn(track.points, frame) ? { track, at: trackAt(track, frame) } : null
}

const hundredth = (value: number) => Math.round(value * 100) / 100

/** Its pattern around its place; the place is taken hold of, and is then set by hand. */
const track: Drawing = {
  handles(id, drawn) {
    const seen = trackSeen(drawn, id)
    if (!seen) return []
    const { region } = seen.track
    const corners = region && drawn.shot ? cornersOfRegion(drawn.shot, region.id) : null
    const held = corners?.map((one) => trackSeen(drawn, one.id)).filter((one) => one !== null) ?? [seen]
    return held.map(({ track: { id: of, name }, at: [x, y] }) => ({
      name: region ? `Place of ${name}` : 'Place of the track',
      at: { x, y },
      hollow: true,
      edit: (to) => placedByHand(of, drawn.view.playing.frame, hundredth(to.x), hundredth(to.y)),
    }))
  },
  outlines(id, drawn) {
    const seen = trackSeen(drawn, id)
    if (!seen) return []
    const { region } = seen.track
    if (region) {
      const corners = drawn.shot ? cornersOfRegion(drawn.shot, region.id) : null
      const places = corners?.map((corner) => trackSeen(drawn, corner.id)?.at)
      return places?.every((place) => place !== undefined) ? [places] : []
    }
    const { radius } = seen.track
    const side = 2 * radius + 1
    return [cornersOf({ x: seen.at[0] - side / 2, y: seen.at[1] - side / 2, width: side, height: side })]
  },
}

export const placedByHand = (id: string, frame: number, x: number, y: number): Change => ({
  ...{ kind: 'set-track-points', track: id },
  points: { [frame]: { x, y, byHand: true } },
})

const drawings: Readonly<Record<Selected['kind'], Drawing>> = {
  element,
  source: nothing,
  witness,
  track,
  // Its outlines are curves, which it draws itself.
  matte: { handles: shapeHandles, outlines: () => [] },
  glass: nothing,
  sensor: nothing,
  finish: nothing,
}

export const handlesOfSelected = (drawn: Drawn): Handle[] =>
  drawn.selected ? drawings[drawn.selected.kind].handles(drawn.selected.id, drawn) : []

export const outlinesOfSelected = (drawn: Drawn): readonly (readonly Spot[])[] =>
  drawn.selected ? drawings[drawn.selected.kind].outlines(drawn.selected.id, drawn) : []
