import { applyEdit } from '../shot'
import { smallShot } from '../test/small-shot'
import type { Triple } from '../measure/element-facts'
import { checkNames, checkRows, type CheckName } from './check-rows'
import type { FactsOfElement, FrameFacts } from './frame-facts'

/** What stands out on a frame is named by its own check, on that frame, and by no other. */

const sound = (frame: number): FactsOfElement => ({
  ...{ covered: 1000, area: 1200, fine: 0.5, print: `element ${frame}`, outline: 0.01 },
  black: [0.02, 0.025, 0.03],
  mean: [0.1 + 0.001 * (frame - 1000), 0.08, 0.06],
  centre: { x: 100 + frame, y: 50 },
  plate: { black: [0.02, 0.025, 0.03], mean: [0.05, 0.05, 0.06], print: `plate ${frame}` },
  shadow: 0.5,
})
const numbers = Array.from({ length: 12 }, (_, i) => 1001 + i)
const bad = 1006
const scaled = (light: Triple | null, by: number): Triple | null =>
  light && [light[0] * by, light[1] * by, light[2] * by]

function rowsWith(change: (one: FactsOfElement) => Partial<FactsOfElement>, on: readonly number[] = [bad]) {
  const facts = numbers.map((frame): readonly [number, FrameFacts] => {
    const one = sound(frame)
    const element = on.includes(frame) ? { ...one, ...change(one) } : one
    return [frame, { problems: [], notNumbers: 0, belowZero: 0, clipped: 0, elements: { cg: element } }]
  })
  return checkRows(smallShot, new Map(facts))
}
const drifting = (rows: ReturnType<typeof checkRows>) =>
  rows.flatMap(({ check, cells }) =>
    cells.filter(({ verdict }) => verdict === 'drifts').map(({ frame }) => [check, frame] as const),
  )

test('where everything goes on evenly all checks agree, each in a row of its own', () => {
  const rows = rowsWith(() => ({}))
  // Nothing is keyed here.
  expect(rows.map(({ check }) => check)).toEqual(checkNames.filter((name) => name !== 'keyframes'))
  expect(drifting(rows)).toEqual([])
})

test.each<readonly [CheckName, (one: FactsOfElement) => Partial<FactsOfElement>]>([
  ['black', ({ black }) => ({ black: black && [black[0] + 0.006, black[1], black[2]] })],
  ['colour', ({ mean }) => ({ mean: mean && [mean[0] * 1.02, mean[1] * 0.98, mean[2]] })],
  ['sharpness', () => ({ fine: 0.35 })],
  ['shadow', () => ({ shadow: 0.45 })],
  ['flicker', ({ mean }) => ({ mean: scaled(mean, 1.05) })],
  ['flicker', ({ plate }) => ({ plate: { ...plate, mean: scaled(plate.mean, 0.93) } })],
  ['coverage', () => ({ area: 1150 })],
  ['place', ({ centre }) => ({ centre: centre && { x: centre.x + 1, y: centre.y } })],
  ['outline', () => ({ outline: 0.15 })],
])('%s that steps on one frame', (check, change) => {
  expect(drifting(rowsWith(change))).toEqual([[check, bad]])
})

test('light that changes on plate and element alike is no flicker', () => {
  const both = ({ mean, plate }: FactsOfElement) => ({
    mean: scaled(mean, 1.1),
    plate: { ...plate, mean: scaled(plate.mean, 1.1) },
  })
  expect(drifting(rowsWith(both))).toEqual([])
})

test('where the plate’s own black steps, the element’s may step with it', () => {
  const lifted = (black: Triple | null): Triple | null =>
    black && [black[0] + 0.006, black[1] + 0.006, black[2] + 0.006]
  const alone = ({ black }: FactsOfElement) => ({ black: lifted(black) })
  const together = ({ black, plate }: FactsOfElement) => ({
    black: lifted(black),
    plate: { ...plate, black: lifted(plate.black) },
  })
  expect(drifting(rowsWith(alone))).toEqual([['black', bad]])
  expect(drifting(rowsWith(together))).toEqual([])
})

test('a frame that is there twice is named, of the element and of the plate', () => {
  const again = { print: `element ${bad - 1}` }
  expect(drifting(rowsWith(() => again))).toEqual([['repeated', bad]])
  const plateAgain = ({ plate }: FactsOfElement) => ({ plate: { ...plate, print: `plate ${bad - 1}` } })
  expect(drifting(rowsWith(plateAgain))).toEqual([['repeated', bad]])
})

test('a keyed value that pops is named on its frame, with what it is', () => {
  const at = { owner: { kind: 'element', id: 'cg' }, parameter: 'opacity', channel: 0 } as const
  const keyframes = Object.fromEntries(
    [1, 1, 0.4, 1, 1].map((value, i) => [bad - 2 + i, { value, to: 'straight' as const }]),
  )
  const { shot } = applyEdit(smallShot, { kind: 'set-keyframes', curves: [{ at, keyframes }] })
  const facts = new Map(
    numbers.map((frame): readonly [number, FrameFacts] => [
      frame,
      { problems: [], notNumbers: 0, belowZero: 0, clipped: 0, elements: { cg: sound(frame) } },
    ]),
  )
  const rows = checkRows(shot, facts)
  expect(drifting(rows)).toEqual([['keyframes', bad]])
  expect(rows.at(-1)?.cells.find(({ frame }) => frame === bad)?.says).toBe('CG: opacity leaves its way and comes back')
})
