import type { FrameRequest } from '../graph/steps'
import { frameAtScale } from '../engine/source-frame'
import { floatToHalf } from '../image/half'
import { planInPlate } from '../plan/plan'
import { find, tableOf, type ReferenceObject, type Shot, type Source } from '../shot'
import { localEngine } from '../test/local-engine'
import { allThere, frameSize, madeUpFrame, smallShot, withElement } from '../test/small-shot'
import { matchVeilAndGain } from './match-veil-and-gain'
import { ShotBeingMatched } from './matching'
import { seenOnAll } from './on-objects'

/** A board of patches that was rendered, and photographed with a veil and a gain that are known. */

const veil = [0.02, 0.03, 0.04]
const gain = [1.25, 1, 0.8]
const [left, top] = [40, 30]

interface Board {
  /** in pixels */
  readonly patch: number
  readonly across: number
  readonly down: number
  /** light of each patch as it is rendered, and as it is before what is photographed has veil and gain */
  readonly rendered: (number: number) => number
  readonly real: (number: number) => number
}

const display = { x: 0, y: 0, ...frameSize }
const names = ['R', 'G', 'B', 'A'] as const

/** Outside of it there is nothing rendered, and grey ground is photographed. */
function picture({ patch, across, down, rendered, real }: Board, source: string) {
  const photographed = source === 'photo'
  const planes = names.slice(0, photographed ? 3 : 4).map((name, c) => {
    const samples = new Uint16Array(frameSize.width * frameSize.height)
    for (let i = 0; i < samples.length; i++) {
      const [x, y] = [(i % frameSize.width) - left, Math.floor(i / frameSize.width) - top]
      const inside = x >= 0 && y >= 0 && x < across * patch && y < down * patch
      const number = Math.floor(y / patch) * across + Math.floor(x / patch)
      const light = photographed ? (inside ? veil[c] + gain[c] * real(number) : 0.2) : inside ? rendered(number) : 0
      samples[i] = floatToHalf(name === 'A' ? Number(inside) : light)
    }
    return { name, type: 'half' as const, samples }
  })
  return { dataWindow: display, displayWindow: display, planes }
}

const engineOf = (board: Board) =>
  localEngine(1, (request: FrameRequest) => {
    const own = request.source === 'photo' || request.source === 'render'
    return Promise.resolve(frameAtScale(own ? picture(board, request.source) : madeUpFrame(request), request))
  })

const object: ReferenceObject = {
  ...{ id: 'board', name: 'Board', rank: 'a0' },
  ...{ photographed: 'photo', rendered: 'render', insteadOf: 'cg' },
}
const frames = { first: 1001, last: 1004 }
const sources: Source[] = (['photo', 'render'] as const).map((id) => ({
  ...{ id, name: id, path: `${id}.####.exr`, frames },
  claims: { encoding: 'linear', primaries: 'rec709', alpha: id === 'photo' ? 'none' : 'premultiplied' },
}))
const open = withElement(withElement(smallShot, 'front', { visible: false }), 'shadow', { visible: false })
const shot: Shot = {
  ...open,
  sources: { byId: { ...open.sources.byId, ...tableOf(sources).byId } },
  referenceObjects: tableOf([object]),
}
const plan = (seen: Shot, frame: number, scale: 1 | 2 | 4) => planInPlate(seen, frame, scale, allThere())

async function matchedBy(board: Board) {
  const element = find(shot.elements, 'cg')
  if (!element) throw new Error('There is no element.')
  const matched = new ShotBeingMatched(shot, engineOf(board), plan)
  await matchVeilAndGain(matched, element, [object], [], () => seenOnAll(matched, element, [object]))
  const valuesOf = (what: 'veil' | 'gain') => matched.parts.find((one) => one.what === what)?.values ?? []
  return { matched, veil: valuesOf('veil'), gain: valuesOf('gain') }
}

const light = (number: number) => 0.01 + 0.05 * ((number * 7) % 11)
const of =
  (...lights: number[]) =>
  (number: number) =>
    lights[number]

test('on every pixel of a board with many patches, some of which become witnesses', async () => {
  const found = await matchedBy({ patch: 12, across: 6, down: 4, rendered: light, real: light })
  found.veil.forEach(({ value }, c) => expect(value).toBeCloseTo(veil[c], 3))
  found.gain.forEach(({ value }, c) => expect(value).toBeCloseTo(gain[c], 3))
  expect([found.veil.length, found.gain.length, found.matched.left]).toEqual([3, 3, []])
  expect(found.matched.witnesses).toHaveLength(6)
  const { x, y, width, height } = found.matched.witnesses[0].reference
  expect([x >= left, y >= top, x + width <= left + 72, y + height <= top + 48]).not.toContain(false)
})

test('of a board that is too small for it by regions', async () => {
  const found = await matchedBy({ patch: 8, across: 2, down: 2, rendered: light, real: light })
  found.veil.forEach(({ value, bar }, c) => expect(Math.abs(value - veil[c])).toBeLessThan(bar + 0.001))
  found.gain.forEach(({ value, bar }, c) => expect(Math.abs(value - gain[c])).toBeLessThan(bar + 0.001))
  expect(found.matched.left).toEqual([])
})

test('two patches that no veil and gain can satisfy tell nothing, however many pixels they have', async () => {
  const { matched } = await matchedBy({ patch: 24, across: 1, down: 2, rendered: of(0.1, 0.3), real: of(0.4, 0.2) })
  const why = 'what was read of its regions contradicts itself'
  expect(matched.parts).toEqual([])
  expect(matched.left).toEqual((['veil', 'gain'] as const).map((what) => ({ element: 'cg', what, why })))
})

test('an object of one patch tells neither', async () => {
  const { matched } = await matchedBy({ patch: 24, across: 1, down: 1, rendered: of(0.1), real: of(0.1) })
  const why = 'what was shot has too few regions that could tell it'
  expect(matched.left).toEqual((['veil', 'gain'] as const).map((what) => ({ element: 'cg', what, why })))
})
