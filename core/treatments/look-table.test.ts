import { localEngine } from '../test/local-engine'
import { someFrame, surroundings } from '../test/steps'
import { packTable } from '../colour/table'
import { lookTable } from './look-table'

const window = { x: 2, y: 1, width: 4, height: 1 }
/** Covered, light without coverage, empty, half covered: a table that lifts black by 0.1 and doubles. */
const pixels = [
  [0.2, 0.2, 0.2, 1],
  [0.2, 0.2, 0.2, 0],
  [0, 0, 0, 0],
  [0.1, 0.1, 0.1, 0.5],
]
const entries = Float32Array.of(0.1, 2.1, 0.1, 2.1, 0.1, 2.1)
const packed = packTable([{ kind: 'axis', size: 2, least: 0, most: 1, entries }])
const nowhere = { x: 0, y: 0, width: packed.length, height: 1 }
const tableFrame = {
  decoded: false,
  dataWindow: nowhere,
  displayWindow: nowhere,
  planes: [{ name: 'table', type: 'float' as const, samples: packed }],
}
const load = async ({ takes }: { takes: string }) =>
  takes === 'table'
    ? tableFrame
    : {
        decoded: false,
        dataWindow: window,
        displayWindow: window,
        planes: ['R', 'G', 'B', 'A'].map((name, c) => ({
          name,
          type: 'float' as const,
          samples: Float32Array.from(pixels, (pixel) => pixel[c]),
        })),
      }

test('light without coverage goes through the table as it is, and what is empty stays empty', async () => {
  const through = someFrame({ source: 'look', path: 'look.cube', takes: 'table' })
  const step = lookTable.build(someFrame(), {}, surroundings({ sources: { table: through } }))
  const out = await localEngine(1, load).light(step, { ...window, x: 0, width: 8 })
  const at = (x: number) => [...out.slice(x * 4, x * 4 + 4)].map((v) => Number(v.toFixed(4)))
  expect([0, 1, 2, 3].map((i) => at(2 + i)[0])).toEqual([0.5, 0.5, 0, 0.25])
  expect([at(0), at(7)]).toEqual([
    [0, 0, 0, 0],
    [0, 0, 0, 0],
  ])
})
