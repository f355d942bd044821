/** For the tests: a graph with a step of every kind, over made-up sources; the browser computes it too. */

import type { SourceFrame } from '../engine/source-frame'
import { blur, colour, disc, blend, point, warp, type Step } from '../graph/steps'
import type { Planes } from '../image/planes'
import type { Window } from '../image/window'
import { someFrame } from './steps'

export const display: Window = { x: 0, y: 0, width: 700, height: 90 }
export const whole: Window = { x: -30, y: -20, width: 760, height: 130 }

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
  identity: () => source(display, ['R', 'G'], (n, x, y) => (n === 'R' ? (x + 0.5) / 700 : (y + 0.5) / 90)),
  shift: () => source(display, ['R', 'G'], (n, x, y) => (n === 'R' ? (x + 3.5) / 700 : (y + 2.5) / 90)),
  bend: () =>
    source(display, ['R', 'G'], (n, x, y) =>
      n === 'R' ? (x + 0.5 + 4 * Math.sin(y / 9)) / 700 : (y + 0.5 + 3 * Math.cos(x / 40)) / 90,
    ),
}
export const load = async ({ source: name }: { source: string }): Promise<SourceFrame> => ({
  ...sources[name](),
  decoded: false,
})
export const from = (name: string) =>
  someFrame({ source: name, path: name, takes: ['identity', 'shift', 'bend'].includes(name) ? 'map' : 'rgba' })
export const frame = { width: 700, height: 90 }
const place = { shot: 'small', frame: 7 }

/** Everything at once: rebuilt, softened, bent CG over a grainy plate with a glow, and a shadow of itself. */
export function everything(): Step {
  const plate = from('plate')
  const cg = colour(from('cg'), [{ do: 'power', exponent: [0.8, 0.9, 1.1] }])
  const rebuilt = blend(cg, from('plate'), cg, 'plus-lighter', 1, { amount: [0.1, 0.1, 0.1] })
  const bent = warp(blur(rebuilt, 1.3, 4.2, 'empty'), from('bend'), frame, 'catmull-rom')
  const shadowed = blend(plate, disc(from('cg'), 3.3, 'empty'), plate, 'shadow', 1, {
    ratio: [0.4, 0.5, 0.6],
    veil: [0, 0, 0],
  })
  const over = blend(shadowed, bent, plate, 'over', 1, {})
  const front = blend(over, from('dot'), plate, 'reveal', 1, {})
  const bright = colour(front, [{ do: 'light-above', threshold: 0.4, knee: 0.1 }])
  const glowing = blend(front, blur(bright, 21, 21, 'extend'), front, 'plus-lighter', 1, { amount: [0.5, 0.5, 0.5] })
  return point(glowing, 'grain', 1, { shot: [1, 1, 1], read: [2, 2, 2] }, place)
}
