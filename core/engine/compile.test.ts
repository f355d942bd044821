import { blend, colour, grow, type Step } from '../graph/steps'
import { someFrame } from '../test/steps'
import { compile, type Storage } from './compile'
import { tilesFor, type Rows } from './program'

const window = { x: 0, y: 0, width: 64, height: 32 }
const frame = { dataWindow: window, bounds: window, takes: 'rgba' as const, decode: [], planes: [] }

const someSource = (name: string) => someFrame({ source: name, path: `${name}.exr` })

/** @param before keys of the picture before */
function compiled(root: Step, before: readonly string[]): Rows {
  const storage: Storage = {
    frames: new Map(['plate', 'cg', 'near'].map((source) => [someSource(source).key, frame])),
    frameBounds: () => window,
    find: () => null,
    make: (_key, wanted) => ({ address: 0, window: wanted }),
    madeBefore: (key) => before.includes(key),
    mapBlocks: () => {
      throw new Error('no map here')
    },
  }
  return compile([root], window, storage).rows[0]
}

const plate = someSource('plate')
const gain = (input: Step, by: number) => colour(input, [{ do: 'affine', gain: [by, by, by], veil: [0, 0, 0] }])
const over = (behind: Step, element: Step) => blend(behind, element, null, 'over', 1, {})
const behind = over(plate, someSource('near'))
const composite = (by: number) => over(behind, gain(someSource('cg'), by))
const behindOf = (rows: Rows) => (rows.node === 'blend' ? rows.behind.node : 'not a blend')

test('what lies behind a change is kept in a buffer from the second change on', () => {
  const first = composite(1)
  expect(behindOf(compiled(first, []))).toBe('blend')
  expect(behindOf(compiled(composite(2), [first.key, behind.key, plate.key]))).toBe('buffer')
})

test('nothing is kept where nothing changed, nor of what is only read', () => {
  const root = composite(1)
  expect(behindOf(compiled(root, [root.key, behind.key, plate.key]))).toBe('blend')
  const other = over(plate, gain(someSource('cg'), 3))
  expect(behindOf(compiled(other, [plate.key]))).toBe('frame')
})

test('tiles are wide where all is read in order, also beyond a strip, and not where a step looks around', () => {
  const wide = { tileWidth: 2048, tileHeight: 4 }
  const square = { tileWidth: 512, tileHeight: 16 }
  const read = compiled(composite(1), [])
  expect(tilesFor(read, { ...window, width: 1920 })).toEqual(wide)
  expect(tilesFor(read, { ...window, width: 32 }).tileHeight).toBe(16)
  expect(tilesFor(read, { ...window, width: 1280 }).tileHeight).toBe(6)
  expect(tilesFor(read, { ...window, width: 9000 })).toEqual(wide)
  const grown = compiled(grow(someSource('cg'), 2, 'empty'), [])
  expect(grown.node).toBe('grow')
  expect(tilesFor(grown, window)).toEqual(square)
  const around = { touches: window, shown: null, kind: 'over', values: {} } as const
  expect(tilesFor({ node: 'blend', behind: read, element: grown, ...around }, window)).toEqual(square)
  expect(tilesFor({ node: 'blend', behind: read, element: read, ...around, shown: grown }, window)).toEqual(square)
  const point = { node: 'point', kind: 'holdout', values: {}, draw: { seed: '', frame: 0 } } as const
  expect(tilesFor({ ...point, input: read, others: [grown] }, window)).toEqual(square)
  expect(tilesFor({ ...point, input: read, others: [] }, { ...window, width: 1920 })).toEqual(wide)
  expect(tilesFor({ node: 'clip', input: grown, bounds: window }, window)).toEqual(square)
})
