import type { Phase } from './program'
import { SharedTiles, sharedTilesBytes } from './shared-tiles'

const phase = (tiles: number): Phase => ({
  phase: 'output',
  rows: { node: 'nothing' },
  placed: [{ output: { kind: 'light' }, address: 0 }],
  window: { x: 0, y: 0, width: 8 * tiles, height: 8 },
  tileWidth: 8,
  tileHeight: 8,
})

function shared(...counts: number[]) {
  const phases = counts.map(phase)
  const memory = new SharedArrayBuffer(sharedTilesBytes(phases))
  const names: string[] = []
  const tiles = new SharedTiles(memory, 0, phases)
  /** @param after called with the number of tiles done so far */
  const work = (worker: number, after: (sofar: number) => void = () => undefined) =>
    tiles.work(phases, worker, (_phase, index) => (tile) => {
      names.push(`${index}.${tile}`)
      after(names.length)
    })
  return { tiles, names, work, words: new Int32Array(memory) }
}

test('one worker does every tile of every phase once, in order', () => {
  const { names, work } = shared(3, 1, 2)
  work(0)
  expect(names).toEqual(['0.0', '0.1', '0.2', '1.0', '2.0', '2.1'])
})

test('a second worker finds nothing left', () => {
  const { names, work } = shared(3, 2)
  work(0)
  work(1)
  expect(names).toHaveLength(5)
})

test('a phase without tiles is passed', () => {
  const { names, work } = shared(0, 1)
  work(0)
  expect(names).toEqual(['1.0'])
})

test('called off, no further tile is begun', () => {
  const { tiles, names, work } = shared(3, 3)
  work(0, (sofar) => sofar === 2 && tiles.stop())
  expect(names).toEqual(['0.0', '0.1'])
})

test('what a worker had begun when it died is done by its successor', () => {
  const { names, work } = shared(3, 2)
  const die = (sofar: number) => {
    if (sofar === 2) throw new Error('dead')
  }
  expect(() => work(1, die)).toThrow('dead')
  work(1)
  expect(names).toEqual(['0.0', '0.1', '0.1', '0.2', '1.0', '1.1'])
})

test('a tile whose number was drawn but not written down by a worker that died is done by the next who comes', () => {
  const { names, work, words } = shared(3)
  words[1] = 1
  work(0)
  expect(names.sort()).toEqual(['0.0', '0.1', '0.2'])
})

test('a worker sleeps until the others have done their tiles of its phase', () => {
  const { names, work, words, tiles } = shared(2, 1)
  words[1] = 2
  words[3] = 1
  words[4] = 3
  words[2] = 1
  // Tile 0.1 is worker 1's and never ends: worker 0 waits, and looks up now and then whether it is called off.
  const wait = jest.spyOn(Atomics, 'wait').mockImplementation(() => {
    tiles.stop()
    return 'timed-out'
  })
  work(0)
  expect(wait).toHaveBeenCalledTimes(1)
  expect(names).toEqual([])
  wait.mockRestore()
})

test('a worker that died between a tile and its count holds nobody up', () => {
  const { names, work, words } = shared(3, 2)
  const die = (sofar: number) => {
    if (sofar === 4) throw new Error('dead')
  }
  expect(() => work(0, die)).toThrow('dead')
  // All three tiles of the first phase are done; one of them was not counted.
  expect(words[2]).toBe(3)
  words[2] = 2
  work(0)
  expect(names).toEqual(['0.0', '0.1', '0.2', '1.0', '1.0', '1.1'])
})
