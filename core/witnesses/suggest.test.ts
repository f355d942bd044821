import type { Step } from '../graph/steps'
import { cutWindow } from '../image/cut'
import type { Window } from '../image/window'
import { erf } from '../kernels/gaussian'
import { randomOf } from '../test/random'
import { measureWindow } from '../measure/window-statistics'
import type { FramePlan } from '../plan/plan'
import { find, type Element, type Shot } from '../shot'
import { smallShot } from '../test/small-shot'
import type { Look } from './look'
import { suggestWitnesses, type Suggested } from './suggest'

/**
 * A plate that sways, with a dark square on the left and a lit one on the right, seen softly and with noise; and a box that
 * moves by three pixels a frame, dark on its left and lit on its right, less soft.
 */

const shot: Shot = { ...smallShot, frames: { first: 1001, last: 1003 }, frameSize: { width: 320, height: 180 } }
const element = find(shot.elements, 'cg') as Element
const middle = 1002
const [plateSigma, elementSigma] = [0.8, 0.5]

interface Scene {
  /** light of the box's dark side on a frame */
  readonly dark: (frame: number) => number
  /** coverage inside the box */
  readonly alpha: number
  /** light of its lit side */
  readonly lit: number
  /** light that the plate's lit square has beyond what lies around it; absent: always the same */
  readonly plateLit?: (frame: number) => number
  /** how far it has moved since the middle frame */
  readonly moves: (frame: number) => number
}
const usual: Scene = { dark: () => 0.03, alpha: 1, lit: 0.22, moves: (frame) => 3 * (frame - middle) }
const swayOf = (frame: number) => Math.round(2 * Math.sin(frame))
/** It stands on the plate. */
const standing: Scene = { ...usual, moves: (frame) => swayOf(frame) - swayOf(middle) }

/** A step far from which nothing more is to be computed. */
const rise = (at: number, sigma: number) =>
  at > 6 * sigma ? 1 : at < -6 * sigma ? 0 : (1 + erf(at / (Math.SQRT2 * sigma))) / 2
const box = (x: number, y: number, sigma: number, { left, top, side }: { left: number; top: number; side: number }) =>
  rise(x - left, sigma) * rise(left + side - x, sigma) * rise(y - top, sigma) * rise(top + side - y, sigma)
const darkSquare = { left: 30.5, top: 70.5, side: 44 }
const litSquare = { left: 240.5, top: 70.5, side: 44 }
const boxOf = (frame: number, moves = usual.moves) => ({ left: 130.5 + moves(frame), top: 60.5, side: 60 })

/** Drawn once; every frame begins at another place of it. */
const { normal } = randomOf(7919)
const grain = Float64Array.from({ length: 4093 }, () => 0.001 * normal())
const grainAt = (pixel: number, frame: number) => {
  let next = (pixel * 3 + (frame % 97) * 7001) % grain.length
  return () => grain[next++ % grain.length]
}

const plates = new Map<string, Float32Array>()

function lookAt({ dark, alpha, lit: bright, moves, plateLit }: Scene): Look {
  const pixel = (what: string, frame: number, noise: () => number, x: number, y: number): readonly number[] => {
    if (what === 'plate') {
      const sway = swayOf(frame)
      const [darkness, light] = [darkSquare, litSquare].map((one) => box(x - sway, y, plateSigma, one))
      const value = 0.1 - 0.07 * darkness + (plateLit?.(frame) ?? 0.12) * light
      return [value + noise(), value + noise(), value + noise(), 1]
    }
    const { left, top, side } = boxOf(frame, moves)
    const cover = alpha * box(x, y, elementSigma, { left, top, side })
    const lit = rise(x - left - side / 2, elementSigma)
    const value = (dark(frame) * (1 - lit) + bright * lit) * cover
    return [value, value, value, cover]
  }
  // The plate is the same in nearly all scenes.
  const own = new Map<string, Float32Array>()
  const around = 64
  /** The whole frame and some way around it, made once. */
  const picture = (key: string, { width, height }: { width: number; height: number }) => {
    const [what, frame, scale] = key.split(' ')
    const pictures = what === 'plate' && !plateLit ? plates : own
    const known = pictures.get(key)
    if (known) return known
    const out = new Float32Array(width * height * 4)
    for (let i = 0; i < width * height; i++) {
      const at = (one: number) => (one - around + 0.5) * Number(scale) - 0.5
      const [x, y] = [at(i % width), at(Math.floor(i / width))]
      out.set(pixel(what, Number(frame), grainAt(i, Number(frame)), x, y), 4 * i)
    }
    pictures.set(key, out)
    return out
  }
  const light: Look['light'] = async ({ key }: Step, window: Window) => {
    const reduced = Number(key.split(' ')[2])
    const size = { width: 320 / reduced + 2 * around, height: 180 / reduced + 2 * around }
    return cutWindow(picture(key, size), { x: -around, y: -around, ...size }, window)
  }
  return {
    light,
    measure: async (step, windows, wanted) =>
      Promise.all(windows.map(async (window) => measureWindow(await light(step, window), window, wanted))),
    bounds: async ({ key }) => {
      const { left, top, side } = boxOf(Number(key.split(' ')[1]), moves)
      return { x: Math.floor(left) - 4, y: Math.floor(top) - 4, width: side + 8, height: side + 8 }
    },
  }
}

function plan(_shot: Shot, frame: number, scale: number): FramePlan {
  const step = (what: string) => ({ key: `${what} ${frame} ${scale}` }) as Step
  const elements = new Map([['cg', step('box')]])
  return {
    frame,
    plate: step('plate'),
    reference: step('plate'),
    elements,
    composite: step('plate'),
    problems: [],
  } as unknown as FramePlan
}
const suggested = (scene: Scene = usual) => suggestWitnesses(shot, lookAt(scene), plan, element)
const inside = ({ x, y, width, height }: Window, square: { left: number; top: number; side: number }) =>
  x >= square.left &&
  y >= square.top &&
  x + width <= square.left + square.side &&
  y + height <= square.top + square.side

let usually: Suggested
beforeAll(async () => {
  usually = await suggested()
})

test('dark places lie in the dark of both sides, and follow them', () => {
  const { suggestions, not } = usually
  // The box moves by itself.
  expect(not.map(({ purpose }) => purpose)).toEqual(['registration'])
  const [{ witness, reference, adjusted, error }] = suggestions.filter((one) => one.witness.purpose === 'black')
  expect(inside(witness.reference, darkSquare)).toBe(true)
  expect(inside(witness.adjusted, boxOf(middle))).toBe(true)
  expect(witness.adjusted.follows).toBe(middle)
  expect(reference.light[0]).toBeCloseTo(0.03, 3)
  expect(adjusted.light[0]).toBeCloseTo(0.03, 6)
  expect(error).toBeLessThan(0.001)
})

test('lit places of like light are paired', () => {
  const { suggestions } = usually
  const [{ witness }] = suggestions.filter((one) => one.witness.purpose === 'mid')
  expect(inside(witness.reference, litSquare)).toBe(true)
  expect(witness.adjusted.x).toBeGreaterThan(boxOf(middle).left + 30)
})

test('edges tell how soft each side is', () => {
  const { suggestions } = usually
  const edges = suggestions.filter(({ witness }) => witness.purpose === 'sharpness')
  expect(edges.length).toBeGreaterThan(0)
  for (const { reference, adjusted } of edges) {
    expect(reference.edge?.sigma).toBeCloseTo(plateSigma, 1)
    expect(adjusted.edge?.sigma).toBeCloseTo(elementSigma, 1)
  }
})

test('a dark side that lights up over the frames is not suggested, and that is said', async () => {
  const { suggestions, not } = await suggested({ ...usual, dark: (frame) => 0.02 + 0.02 * (frame - 1001) })
  expect(suggestions.filter(({ witness }) => witness.purpose === 'black')).toEqual([])
  expect(not).toContainEqual({
    purpose: 'black',
    why: 'No dark place was found on both sides that holds still over the frames.',
  })
})

test('lit places that are unlike are not suggested', async () => {
  const { not } = await suggested({ ...usual, lit: 0.17 })
  expect(not.map(({ purpose }) => purpose)).toEqual(['mid', 'registration'])
})

test('where nothing lit holds still on the plate, dark places and edges are suggested all the same', async () => {
  const { suggestions, not } = await suggested({ ...usual, plateLit: (frame) => 0.1 + 0.05 * (frame - 1001) })
  expect(not.map(({ purpose }) => purpose)).toEqual(['mid', 'registration'])
  expect(new Set(suggestions.map(({ witness }) => witness.purpose))).toEqual(new Set(['black', 'sharpness']))
})

test('of an element that is matched only what agrees by now is suggested, on every frame that is looked at', async () => {
  const agreeing = async (scene: Scene) => {
    const options = { purposes: ['black', 'mid', 'sharpness'], agreeing: true } as const
    const { suggestions } = await suggestWitnesses(shot, lookAt(scene), plan, element, options)
    return new Set(suggestions.map(({ witness }) => witness.purpose))
  }
  // Its edges are sharper than the plate's by more than is usual; else both are alike.
  expect(await agreeing(usual)).toEqual(new Set(['black', 'mid']))
  // Without being matched it is suggested all the same.
  const darker = { ...usual, dark: () => 0.024 }
  const { suggestions } = await suggested(darker)
  expect(suggestions.some(({ witness }) => witness.purpose === 'black')).toBe(true)
  expect(await agreeing(darker)).toEqual(new Set(['mid']))
  // On one of the frames it is off by more than on the others, though it holds still.
  const once = { ...usual, dark: (frame: number) => (frame === 1003 ? 0.0278 : 0.0287) }
  expect((await suggested(once)).suggestions.some(({ witness }) => witness.purpose === 'black')).toBe(true)
  expect(await agreeing(once)).toEqual(new Set(['mid']))
})

test('texture of what stands on the plate is suggested; of what moves by itself it is not, and that is said', async () => {
  const { suggestions, not } = await suggested(standing)
  const [texture] = suggestions.filter(({ witness }) => witness.purpose === 'registration')
  expect([texture.witness.reference.follows, texture.witness.adjusted.follows]).toEqual([middle, middle])
  expect(texture.error).toBeLessThan(0.1)
  expect(not).toEqual([])
  expect(usually.not[0].why).toBe(
    'No texture was found on both sides that can be followed on every frame and stays together.',
  )
})

test('of an element that covers half nowhere is its light alone: only its outline is left, if that', async () => {
  const { suggestions } = await suggested({ ...usual, alpha: 0.5 })
  expect(suggestions.filter(({ witness }) => witness.purpose !== 'sharpness')).toEqual([])
})

test('where the element is not there in the middle of the shot, that is said of every purpose', async () => {
  const nowhere = (...of: Parameters<typeof plan>) => ({ ...plan(...of), elements: new Map() }) as FramePlan
  const { suggestions, not } = await suggestWitnesses(shot, lookAt(usual), nowhere, element)
  expect(suggestions).toEqual([])
  expect(not).toHaveLength(4)
  expect(not[0].why).toBe('The element shows nothing on frame 1002, in the middle of the shot.')
})
