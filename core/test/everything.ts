/** For the tests: a graph with a step of every kind, over made-up sources; the browser computes it too. */

import type { SourceFrame } from '../engine/source-frame'
import {
  blend,
  blur,
  colour,
  combine,
  constant,
  made,
  mix,
  outline,
  point,
  resample,
  type Leading,
  type MadePicture,
  type Mapping,
  type Step,
} from '../graph/steps'
import { byField, byMatrix, composed } from '../motion/mapping'
import type { Planes } from '../image/planes'
import type { Window } from '../image/window'
import { someFrame } from './steps'

export const display: Window = { x: 0, y: 0, width: 700, height: 90 }
export const everywhere: Window = { x: -30, y: -20, width: 760, height: 130 }

/** A source of floats, whatever the file is called. */
export function source(
  window: Window,
  names: readonly string[],
  value: (name: string, x: number, y: number) => number,
): Planes {
  return {
    dataWindow: window,
    displayWindow: display,
    planes: names.map((name) => ({
      name,
      type: 'float' as const,
      samples: Float32Array.from({ length: window.width * window.height }, (_, i) =>
        value(name, window.x + (i % window.width), window.y + Math.floor(i / window.width)),
      ),
    })),
  }
}

const texture = (name: string, x: number, y: number) =>
  0.4 + 0.3 * Math.sin(x * 1.7 + name.charCodeAt(0)) * Math.cos(y * 0.9 + x * 0.05)
const sources: Record<string, () => Planes> = {
  plate: () => source(display, ['R', 'G', 'B'], texture),
  step: () => source(display, ['R', 'G', 'B'], (_n, x) => (x < 350 ? 0 : 1)),
  dot: () =>
    source({ x: 300, y: 40, width: 9, height: 9 }, ['R', 'G', 'B', 'A'], (_n, x, y) => (x === 304 && y === 44 ? 1 : 0)),
  cg: () =>
    source({ x: -15, y: 10, width: 500, height: 60 }, ['R', 'G', 'B', 'A'], (n, x, y) =>
      n === 'A' ? 0.5 : texture(n, y, x) * 0.5,
    ),
  // Fields: how far from each pixel, across and down.
  still: () => source(display, ['R', 'G'], () => 0),
  shift: () => source(display, ['R', 'G'], (n) => (n === 'R' ? 3 : 2)),
  bend: () => source(display, ['R', 'G'], (n, x, y) => (n === 'R' ? 4 * Math.sin(y / 9) : 3 * Math.cos(x / 40))),
  matte: () =>
    source({ x: 200, y: 5, width: 300, height: 70 }, ['Y'], (_n, x, y) => 0.5 + 0.7 * Math.sin(x / 30 + y / 7)),
}
export const load = async ({ source: name }: { source: string }): Promise<SourceFrame> => ({
  ...sources[name](),
  decoded: false,
})
const takes = (name: string) =>
  ['still', 'shift', 'bend'].includes(name) ? 'vec2' : name === 'matte' ? 'scalar' : 'rgba'
export const from = (name: string) => someFrame({ source: name, path: name, takes: takes(name) })
const draw = { seed: 'small', frame: 7 }

/** A turn about a point of the frame, shrinking on the way. */
export const turned: Mapping = byMatrix([1.4, -0.5, -60, 0.3, 1.9, -40, 0.0002, 0.0001, 1])

/** Bent, twisted and moved a little farther each time. */
const waved = (i: number): Leading => ({
  matrix: [0.9, 0.1, 20 + i * 1.7, -0.1, 0.9, 5 + i * 0.6, 0, 0, 1],
  warp: {
    middle: [250, 40],
    half: [200, 40],
    bow: 6 + i,
    twist: 0.3 + i * 0.05,
    then: [1.1, 0, 3, 0, 1.1, -2, 0, 0, 1],
  },
})
const drawnCurves = {
  ...{ luma: [0.2, 0.3], red: [0.5, 0.4], green: [], blue: [0, 0.05] },
  ...{ encoding: [1], weights: [0.2126, 0.7152, 0.0722] },
}
const clouds: MadePicture = {
  ...{ made: 'noise', pixel: [0.2, 0.2, 0.25, 0.5], size: [60, 30], octaves: 4, middle: 0.5, contrast: 1.2 },
  ...{ drift: [3.5, -1], change: 0.4, seed: 'small' },
}
const rise: MadePicture = {
  ...{ made: 'gradient', shape: 'radial', start: [600, 40], end: [700, 60] },
  stops: [
    { at: 0, pixel: [0.3, 0.2, 0.1, 0.4] },
    { at: 0.7, pixel: [0, 0, 0, 0.1] },
    { at: 1, pixel: [0, 0, 0, 0] },
  ],
}

/** A soft star that crosses itself, twice a little apart, which reaches out of the picture. */
const star = outline(
  {
    lines: [0, 5].map((by) =>
      Float64Array.from(
        [0, 2, 4, 1, 3].flatMap((i) => {
          const angle = (i * 2 * Math.PI) / 5
          return [610 + by + 130 * Math.sin(angle), 50.3 - 90 * Math.cos(angle), 2, 5.5]
        }),
      ),
    ),
    grow: 1.25,
    profile: 'smooth',
  },
  { x: 470, y: -55, width: 290, height: 210 },
  'star',
)

/** Everything at once: rebuilt, softened, bent CG over a grainy plate with a glow, limits, and a shadow of itself. */
export function everything(): Step {
  const plate = from('plate')
  const cg = colour(from('cg'), [{ do: 'power', exponent: [0.8, 0.9, 1.1] }])
  const rebuilt = combine('product', [combine('sum', [cg, from('plate')]), from('dot')])
  const lit = combine('alpha-of', [combine('sum', [cg, rebuilt]), cg])
  const bending = composed(byField(from('bend')), turned) ?? turned
  const bent = blur(resample(lit, bending, 'catmull-rom'), 1.3, 4.2, { frame: display })
  const limited = mix(bent, colour(bent, [{ do: 'fade', amount: 0.5 }]), from('matte'), 0.8, true)
  const shadowed = blend(plate, blur(from('cg'), 3.3, 3.3, 'empty'), null, 'shadow', 1, {
    ratio: [0.4, 0.5, 0.6],
    veil: [0, 0, 0],
  })
  const over = blend(shadowed, limited, null, 'over', 1, {})
  const front = blend(over, from('dot'), plate, 'reveal', 1, {})
  const tinted = blend(
    front,
    constant([0.1, 0, 0, 0.2], { x: 500, y: -10, width: 90, height: 60 }),
    null,
    'over',
    1,
    {},
  )
  const placed = resample(from('cg'), { field: null, ...waved(0) }, 'catmull-rom', [0, 1, 2].map(waved))
  const drawn = point(placed, 'curves', 1, drawnCurves, draw)
  const misty = blend(blend(tinted, drawn, null, 'over', 1, {}), made(clouds, display), null, 'over', 1, {})
  const faded = blend(misty, made(rise, display), null, 'over', 1, {})
  const starred = mix(faded, constant([0.9, 0.1, 0.4, 1], display), star, 0.9)
  const bright = colour(starred, [{ do: 'light-above', threshold: 0.4, knee: 0.1 }])
  const glowing = blend(faded, blur(bright, 21, 21, 'extend'), null, 'plus-lighter', 1, { amount: [0.5, 0.5, 0.5] })
  const grained = point(glowing, 'grain', 2, { shot: [1, 1, 1], read: [2, 2, 2] }, draw)
  // As the sensor has it: soft where it is not the plate, with the grain that is missing beside the plate's own.
  const recorded = combine('where-changed', [grained, blur(grained, 0.8, 0.8, 'extend'), plate])
  const left = blend(constant([1, 1, 1, 1], display), from('dot'), null, 'over', 1, {})
  return point(recorded, 'grain', 2, { shot: [3, 3, 3], read: [1, 1, 1] }, draw, [plate, left])
}
