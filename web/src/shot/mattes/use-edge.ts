/** Reads the plate beside an outline: how far its edge lies from it, on a frame or on all, and the outline brought onto it. */

import { useRef, useState } from 'react'
import { useStore } from 'react-redux'
import type { Engine } from '../../../../core/engine/engine'
import { fewestKeyframes, type Outline } from '../../../../core/outline'
import {
  framesOfShape,
  isThere,
  placedAsSeen,
  seenOutline,
  type SetShapePlaces,
  type Shape,
  type ShapeNow,
} from '../../../../core/shot'
import { brightnessOf, edgeOffsets, pulledOutline, type Departure } from '../../../../core/track'
import { useEngine } from '../../engine/engine-context'
import { planOf } from '../../store/plans'
import { selectCatalog, selectShapeInDocument } from '../../store/selectors'
import type { RootState } from '../../store/state'

/** Pixels around what is looked at, for the softened slopes. */
const margin = 6

interface Beside {
  readonly departure: Departure
  /** the outline in the pixels that were read, and where those begin */
  readonly outline: Outline
  readonly x: number
  readonly y: number
}

/** @returns null where the plate is not there, or the outline lies outside the frame */
async function beside(engine: Engine, state: RootState, now: ShapeNow, reach: number): Promise<Beside | null> {
  const { plate } = planOf(now.shot, now.frame, 1, selectCatalog(state))
  const seen = seenOutline(now)
  const { width, height } = now.shot.frameSize
  const around = reach + margin
  const [xs, ys] = [seen.map(({ x }) => x), seen.map(({ y }) => y)]
  const left = Math.max(0, Math.floor(Math.min(...xs) - around))
  const top = Math.max(0, Math.floor(Math.min(...ys) - around))
  const right = Math.min(width, Math.ceil(Math.max(...xs) + around))
  const bottom = Math.min(height, Math.ceil(Math.max(...ys) + around))
  if (!plate || right - left < 8 || bottom - top < 8) return null
  const window = { x: left, y: top, width: right - left, height: bottom - top }
  const picture = brightnessOf(await engine.light(plate, window), window)
  const outline = seen.map((place) => ({ ...place, x: place.x - left, y: place.y - top }))
  return { departure: edgeOffsets(picture, outline, reach), outline, x: left, y: top }
}

/** The outline brought onto the edge, in pixels of the frame; null where there is none. */
const pulledIn = ({ outline, departure, x, y }: Beside): Outline | null =>
  pulledOutline(outline, departure)?.map((place) => ({ ...place, x: place.x + x, y: place.y + y })) ?? null

export interface PulledEdge {
  readonly edit: SetShapePlaces
  readonly departure: Departure
}

export interface CarriedEdge {
  readonly edit: SetShapePlaces
  /** frames that were read, and keyframes that came of them */
  readonly frames: number
  readonly keyframes: number
  /** why it ended before the shot does; null: it did not */
  readonly ended: string | null
}

/** Pixels that keyframes may leave the carried outline between them. */
const keyframeTolerance = 0.5

export interface EdgeOfPicture {
  /** what is being read, or what came of it, in words */
  readonly says: string | null
  readonly busy: boolean
  /** pixels from the edge, by frame; of the shape that was measured last */
  readonly departures: Readonly<Record<number, number | null>>
  pull(reach: number): Promise<PulledEdge | null>
  /** from this frame on, each frame's outline pulled from the one before; as few keyframes as stay within half a pixel */
  carry(reach: number): Promise<CarriedEdge | null>
  /** reads every frame of the shot on which the shape is there */
  measure(reach: number): Promise<Readonly<Record<number, number | null>>>
  stop(): void
}

export function useEdge(): EdgeOfPicture {
  const engine = useEngine()
  const store = useStore<RootState>()
  const [says, setSays] = useState<string | null>(null)
  const [busy, setBusy] = useState(false)
  const [measured, setMeasured] = useState<{ shape: unknown; departures: Record<number, number | null> } | null>(null)
  const stopped = useRef(false)
  const now = selectShapeInDocument(store.getState())
  const act = async <T>(of: (now: ShapeNow) => Promise<T>, otherwise: T): Promise<T> => {
    const here = selectShapeInDocument(store.getState())
    if (!here) return otherwise
    setBusy(true)
    stopped.current = false
    try {
      return await of(here)
    } catch (error) {
      setSays(error instanceof Error ? error.message : String(error))
      return otherwise
    } finally {
      setBusy(false)
    }
  }
  return {
    says,
    busy,
    departures: measured && measured.shape === now?.shape.keyframes ? measured.departures : {},
    stop: () => {
      stopped.current = true
    },
    pull: (reach) =>
      act(async (here): Promise<PulledEdge | null> => {
        const read = await beside(engine, store.getState(), here, reach)
        const pulled = read && pulledIn(read)
        const edit = pulled && placedAsSeen(here, pulled, 'Pull to the edge:')
        if (!read || !edit) {
          setSays(`There is no edge within ${reach} px of most of it.`)
          return null
        }
        setSays(null)
        return { edit, departure: read.departure }
      }, null),
    carry: (reach) =>
      act(async (here): Promise<CarriedEdge | null> => {
        const { last } = here.shot.frames
        const found: { readonly frame: number; readonly outline: Outline; readonly edit: SetShapePlaces }[] = []
        let now: ShapeNow = here
        let ended: string | null = null
        for (let frame = here.frame; frame <= last && !stopped.current; frame++) {
          setSays(`Following the edge on frame ${frame} …`)
          now = { ...now, frame }
          const read = await beside(engine, store.getState(), now, reach)
          const seen = read && pulledIn(read)
          const edit = seen && placedAsSeen(now, seen, 'Carry along:')
          if (!seen || !edit) {
            ended = `There is no edge within ${reach} px of most of it on frame ${frame}.`
            break
          }
          found.push({ frame, outline: seen, edit })
          // The next frame begins from here.
          const places = edit.frames[frame] as Shape['keyframes'][string]
          now = { ...now, shape: { ...now.shape, keyframes: { [frame]: places } } }
        }
        setSays(null)
        if (found.length === 0) {
          setSays(ended)
          return null
        }
        const kept = fewestKeyframes(found, keyframeTolerance)
        const until = found[found.length - 1].frame
        // Keyframes that were there before would draw the outline away from what was followed.
        const before = framesOfShape(here.shape).filter((frame) => frame >= here.frame && frame <= until)
        const frames: Record<string, SetShapePlaces['frames'][string]> = Object.fromEntries(
          before.map((frame) => [frame, null]),
        )
        for (const { frame, edit } of found) if (kept.includes(frame)) frames[frame] = edit.frames[frame]
        return {
          edit: { ...found[0].edit, frames },
          ...{ frames: found.length, keyframes: kept.length, ended },
        }
      }, null),
    measure: (reach) =>
      act(async (here) => {
        const { first, last } = here.shot.frames
        const departures: Record<number, number | null> = {}
        for (let frame = first; frame <= last && !stopped.current; frame++) {
          if (!isThere(here.shape, frame)) continue
          setSays(`Reading the plate on frame ${frame} …`)
          const read = await beside(engine, store.getState(), { ...here, frame }, reach)
          departures[frame] = read?.departure.median ?? null
        }
        setMeasured({ shape: here.shape.keyframes, departures })
        setSays(null)
        return departures
      }, {}),
  }
}
