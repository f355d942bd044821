/** What the stand-in camera can make, and how long that takes. */

export interface DemoShot {
  readonly name: string
  /** what can be tried on it */
  readonly about: string
  readonly size: { readonly width: number; readonly height: number }
  readonly frames: number
  /** changes camera, noise, lens and veil */
  readonly seed: number
}

export const demoShots: readonly DemoShot[] = [
  {
    name: 'quay-010',
    about:
      'A brass diving bell on wet stones at dusk: shadow, contact and reflection, a bollard and a rope in front, lifted blacks, grain.',
    size: { width: 1280, height: 720 },
    frames: 48,
    seed: 1,
  },
]

/** Seconds for a million pixels on two threads, as measured: what is made once, and each frame. */
const secondsOnce = 30
const secondsAFrame = 3.5

/** @param threads that make it */
export function secondsToMake({ size, frames }: DemoShot, threads: number): number {
  const megapixels = (size.width * size.height) / 1e6
  return Math.ceil((megapixels * (secondsOnce + frames * secondsAFrame) * 2) / threads)
}

/** A demo shot that is not made yet. */
export interface OfferedShot extends DemoShot {
  readonly seconds: number
}
