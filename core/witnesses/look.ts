/** What reading and matching ask of an engine, and of plans. */

import type { Scale, Step } from '../graph/steps'
import type { Window } from '../image/window'
import type { Wanted, WindowReading } from '../measure/window-statistics'
import type { FramePlan } from '../plan/plan'
import type { Rgb } from '../match'
import { valueAt } from '../motion/curve'
import { errorsOf, find, onlyWith, onReferenceObject, type Shot, type TrackPoint } from '../shot'

export interface Look {
  /** in the order of the windows: the files that they are made of are read once for all of them */
  measure(step: Step, windows: readonly Window[], wanted: Wanted): Promise<readonly WindowReading[]>
  /**
   * Premultiplied scene-linear RGBA of the window. What is asked for of one window at the same time is made together.
   *
   * @param options `once`: by itself, and nothing that is made on the way is kept
   */
  light(step: Step, window: Window, options?: { readonly once: true }): Promise<Float32Array>
  /** where its pixels lie at most */
  bounds(step: Step): Promise<Window>
}

export interface Point {
  readonly x: number
  readonly y: number
}

/** What was found again by what it shows has an error, in pixels. */
export interface Shifted extends Point {
  readonly error?: number
}

export interface Plans {
  /** of the shot, at full scale */
  readonly frame: Window
  /** of the shot itself, or with a reference object in its place; null where that is gone */
  at(on: string | null, frame: number, scale: Scale): FramePlan | null
  /** the plate with nothing but one element over it; null where that shows nothing */
  over(on: string | null, frame: number, element: string, scale: Scale): Step | null
  /** the same as the sensor records it */
  recorded(on: string | null, frame: number, element: string, scale: Scale): Step | null
  /** how far a track goes from one frame to another, in pixels; null where it is gone, or not known on one of them */
  wayOf(track: string, from: number, to: number): Shifted | null
  /** light that no shadow of the element takes away */
  veil(element: string, frame: number): Rgb
}

/** Root mean square of both axes, as distances are told here. */
const errorOf = (point: TrackPoint) => Math.hypot(...errorsOf(point)) / Math.SQRT2

export function plansOf(shot: Shot, plan: (shot: Shot, frame: number, scale: Scale) => FramePlan): Plans {
  const seenOn = (on: string | null) => (on === null ? shot : onReferenceObject(shot, on))
  return {
    frame: { x: 0, y: 0, ...shot.frameSize },
    at(on, frame, scale) {
      const seen = seenOn(on)
      return seen && plan(seen, frame, scale)
    },
    over(on, frame, element, scale) {
      const seen = seenOn(on)
      const alone = seen && onlyWith(seen, element)
      return alone && plan(alone, frame, scale).composite
    },
    recorded(on, frame, element, scale) {
      const seen = seenOn(on)
      const alone = seen && onlyWith(seen, element, ['finish'])
      return alone && plan(alone, frame, scale).composite
    },
    wayOf(id, from, to) {
      const points = find(shot.tracks, id)?.points as Readonly<Record<string, TrackPoint | undefined>> | undefined
      const [then, now] = [points?.[from], points?.[to]]
      if (!then || !now) return null
      return { x: now.x - then.x, y: now.y - then.y, error: Math.hypot(errorOf(then), errorOf(now)) }
    },
    veil(element, frame) {
      const curves = find(shot.elements, element)?.blend.parameters.veil
      return [0, 1, 2].map((c) => (curves?.[c] ? valueAt(curves[c], frame) : 0)) as unknown as Rgb
    },
  }
}
