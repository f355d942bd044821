/** What the stand-in camera can make, and how long that takes. */

export interface DemoShot {
  readonly name: string
  /** what can be tried on it */
  readonly about: string
  readonly size: { readonly width: number; readonly height: number }
  readonly frames: number
  /** changes camera, noise, lens and veil */
  readonly seed: number
  /** it can be had small, to try things on */
  readonly small?: { readonly size: DemoShot['size']; readonly frames: number }
  /** seconds for a million pixels on two threads, as measured: what is made once, and each frame; absent: as quay-010 */
  readonly pace?: { readonly once: number; readonly aFrame: number }
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
  {
    name: 'quay-020',
    about:
      'The bell crosses fast before a camera that moves: parallax, a camera file with points and planes, motion vectors, a real shutter.',
    size: { width: 1280, height: 720 },
    frames: 48,
    seed: 1,
    small: { size: { width: 320, height: 180 }, frames: 12 },
    // Ball and chart are 16 frames more.
    pace: { once: 16 * 26, aFrame: 26 },
  },
]

/** The same shot at its small size. @throws RangeError for one that has none */
export function atSmallSize(shot: DemoShot): DemoShot {
  if (!shot.small) throw new RangeError(`${shot.name} has no small size`)
  return { ...shot, ...shot.small }
}

const usualPace = { once: 30, aFrame: 3.5 }

/** @param threads that make it */
export function secondsToMake({ size, frames, pace = usualPace }: DemoShot, threads: number): number {
  const megapixels = (size.width * size.height) / 1e6
  return Math.ceil((megapixels * (pace.once + frames * pace.aFrame) * 2) / threads)
}

/** A demo shot that is not made yet. */
export interface OfferedShot extends DemoShot {
  readonly seconds: number
  /** at its small size */
  readonly smallSeconds?: number
}
