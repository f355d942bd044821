/** Planes cut to a part of their window. */

import type { Plane } from './planes'
import type { Window } from './window'

/** @param to inside `from` @returns the planes as they are when nothing is cut off */
export function croppedPlanes(planes: readonly Plane[], from: Window, to: Window): readonly Plane[] {
  if (to.width === from.width && to.height === from.height) return planes
  return planes.map((plane): Plane => {
    const samples = new (plane.samples.constructor as Float32ArrayConstructor)(to.width * to.height)
    for (let y = 0; y < to.height; y++) {
      const at = (to.y - from.y + y) * from.width + to.x - from.x
      samples.set(plane.samples.subarray(at, at + to.width), y * to.width)
    }
    return { ...plane, samples } as Plane
  })
}
