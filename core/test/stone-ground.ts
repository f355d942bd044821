/** For the tests: ground with stones and a shadow of its own, a soft disc over it, and a matte. */

import { frameAtScale, type SourceFrame } from '../engine/source-frame'
import type { FrameRequest } from '../graph/steps'
import type { Planes } from '../image/planes'
import type { Window } from '../image/window'
import { randomOf } from './random'

const { exp, sin } = Math
const size = { width: 300, height: 150 }
export const veilOfGround = 0.01
/** What the plate's own shadow leaves of the light. */
export const leftInShadow = 0.4

/** What happens on a frame. */
export interface Ground {
  readonly plateMoves?: (frame: number) => number
  readonly elementMoves?: (frame: number) => number
  readonly elementLight?: (frame: number) => number
  readonly plateLight?: (frame: number) => number
}

const pattern = (x: number, y: number) => 1 + 0.25 * sin(x / 3.1) * sin(y / 2.7) + 0.2 * sin((x + 2 * y) / 5.3)

/** Ground of one colour with the plate's own shadow on its right, stones at its lower left; a soft disc; a matte. */
export function loadGround({ plateMoves, elementMoves, elementLight, plateLight }: Ground) {
  return async (request: FrameRequest): Promise<SourceFrame> => {
    const frame = request.frame ?? 0
    const { normal } = randomOf(frame * 7 + 1)
    const made = (window: Window, names: readonly string[], value: (name: string, x: number, y: number) => number) => ({
      dataWindow: window,
      displayWindow: { x: 0, y: 0, ...size },
      planes: names.map((name) => ({
        ...{ name, type: 'float' as const },
        samples: Float32Array.from({ length: window.width * window.height }, (_, i) =>
          value(name, window.x + (i % window.width), window.y + Math.floor(i / window.width)),
        ),
      })),
    })
    const whole = { x: 0, y: 0, ...size }
    const tone = { R: 0.2, G: 0.16, B: 0.11 } as Record<string, number>
    const [dx, ex] = [plateMoves?.(frame) ?? 0, elementMoves?.(frame) ?? 0]
    const planes: Planes =
      request.source === 'plate'
        ? made(whole, ['R', 'G', 'B'], (name, x, y) => {
            const stones = x < 140 && y > 90 ? pattern(x - dx, y) : 1
            const light = tone[name] * stones * (x >= 200 ? leftInShadow : 1) * (plateLight?.(frame) ?? 1)
            return veilOfGround + light + 0.001 * normal()
          })
        : request.source === 'matte'
          ? made(whole, ['Y'], (_name, x, y) => (x < 60 && y < 60 ? 1 : 0))
          : made(whole, ['R', 'G', 'B', 'A'], (name, x, y) => {
              const a = 1 / (1 + exp(Math.hypot(x - 100 - ex, y - 60) - 24))
              return name === 'A' ? a : a * tone[name] * pattern(x - ex, y + 40) * (elementLight?.(frame) ?? 1)
            })
    return frameAtScale(planes, request)
  }
}
