import { randomOf } from '../test/random'
import type { Element, ReferenceObject } from '../shot'
import type { SeenOnObject } from './on-objects'
import { witnessesOn } from './witnesses-on-objects'

/** Regions of a board of grey patches, photographed with more or less grain, of which some become witnesses. */

const element = { id: 'cg' } as Element
const board: ReferenceObject = {
  ...{ id: 'board', name: 'Board', rank: 'a0' },
  ...{ photographed: 'photo', rendered: 'render', insteadOf: 'cg' },
}
/** Its origin is not that of the frame. */
const window = { x: 211, y: 97, width: 72, height: 48 }
const [patch, frameWidth] = [24, 320]
const lights = [0.02, 0.05, 0.1, 0.3, 0.07, 0.03]

/** Each patch a little lighter towards its right, grain of its own on every frame. */
function pictures(grain: number, { frames = 8, rough = 0 } = {}): SeenOnObject[] {
  return Array.from({ length: frames }, (_, k) => {
    const { normal } = randomOf(k + 1)
    const { normal: same } = randomOf(99)
    const sharp = new Float32Array(window.width * window.height * 4)
    const seen = new Float32Array(sharp.length)
    for (let i = 0; i < sharp.length; i += 4) {
      const [x, y] = [(i / 4) % window.width, Math.floor(i / 4 / window.width)]
      const light = lights[Math.floor(y / patch) * 3 + Math.floor(x / patch)] * (0.8 + (0.4 * (x % patch)) / patch)
      for (let c = i; c < i + 3; c++) {
        sharp[c] = light + rough * same()
        seen[c] = light + grain * normal()
      }
      sharp[i + 3] = seen[i + 3] = 1
    }
    return { window, object: board.id, frame: 1001 + k, sharp, seen }
  })
}

const sidesOf = (grain: number, more?: Parameters<typeof pictures>[1]) =>
  witnessesOn(element, board, pictures(grain, more), frameWidth).kept.map(({ reference }) => reference.width)
/** The darkest comes first. */
const darkest = ([first]: readonly number[]) => first

test('where there is little grain the smallest regions are kept, the darkest and the lightest among them', () => {
  const { small, kept } = witnessesOn(element, board, pictures(0.0002), frameWidth)
  expect(kept).toHaveLength(6)
  expect(small.length).toBeGreaterThan(6)
  for (const { reference, adjusted, on, element } of kept) {
    expect(reference).toEqual(adjusted)
    expect([on, element]).toEqual(['board', 'cg'])
    expect(reference.x).toBeGreaterThan(window.x)
    expect(reference.y + reference.height).toBeLessThan(window.y + window.height)
  }
  expect(kept.slice(0, 2).map(({ reference }) => reference.width)).toEqual([4, 4])
  expect(kept.map(({ name }) => name)).toEqual([1, 2, 3, 4, 5, 6].map((number) => `Board ${number}`))
  expect(new Set(kept.map(({ purpose }) => purpose))).toEqual(new Set(['black', 'mid', 'white']))
})

test('the more grain there is, the larger they are; those that tell a line stay as small', () => {
  const [little, some, much] = [0.0002, 0.002, 0.005].map((grain) => darkest(sidesOf(grain)))
  expect(little).toBe(4)
  expect(some).toBeGreaterThan(little)
  expect(much).toBeGreaterThan(some)
  const { small } = witnessesOn(element, board, pictures(0.005), frameWidth)
  expect(new Set(small.map(({ reference }) => reference.width))).toEqual(new Set([4]))
})

test('a light patch may be smaller than a dark one, since its light may differ by more', () => {
  const { kept } = witnessesOn(element, board, pictures(0.004), frameWidth)
  const side = (wanted: string) => kept.find(({ purpose }) => purpose === wanted)?.reference.width ?? NaN
  expect(side('white')).toBeLessThan(side('black'))
})

test('more frames tell more, so that smaller regions will do', () =>
  expect(darkest(sidesOf(0.002, { frames: 12 }))).toBeLessThan(darkest(sidesOf(0.002, { frames: 2 }))))

test('a render that is rough by itself asks for larger ones as well', () =>
  expect(darkest(sidesOf(0.0002, { rough: 0.004 }))).toBeGreaterThan(darkest(sidesOf(0.0002))))

test('where grain is too strong for all of them the largest are kept', () => {
  const sides = sidesOf(0.2)
  expect(sides.length).toBeGreaterThan(0)
  expect(new Set(sides)).toEqual(new Set([16]))
})

test('of an object that is held by hand only what it shows on every frame is kept', () => {
  const away = 30
  const swayed = pictures(0.0002).map((one, i) =>
    i === 5 ? { ...one, window: { ...window, x: window.x + away } } : one,
  )
  const { kept } = witnessesOn(element, board, swayed, frameWidth)
  expect(kept.length).toBeGreaterThan(0)
  for (const { reference } of kept) expect(reference.x).toBeGreaterThanOrEqual(window.x + away)
})

test('an object that was not seen has none, nor has one of which nothing is covered', () => {
  expect(witnessesOn(element, { ...board, id: 'other' }, pictures(0.001), frameWidth)).toEqual({ small: [], kept: [] })
  const bare = pictures(0.001).map((one) => ({ ...one, sharp: one.sharp.map((value, i) => (i % 4 === 3 ? 0 : value)) }))
  expect(witnessesOn(element, board, bare, frameWidth)).toEqual({ small: [], kept: [] })
})
