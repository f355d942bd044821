/**
 * Who does which tile of which phase: words in shared memory by which workers share the tiles of phases that follow each
 * other, without the engine's thread between them.
 *
 * Nobody enters a phase before all tiles of the one before are done. A word per tile tells who took it, so what a worker
 * leaves undone when it dies is found, and done first, by its successor.
 */

import type { Phase } from './program'
import { tilesOfPhase } from './run-phase'

/** The first word says stop; then, for each phase, the next tile to take, how many are done, and one word a tile. */
const wordsBefore = 1
const wordsOfPhase = 2

/** A tile's word: 0 untouched, 1 done, else two more than the number of the worker that took it. */
const done = 1
const takenBy = (worker: number) => worker + 2

/** A sleeping worker looks up so often: it may have been called off. ms */
const longestSleep = 20

export function sharedTilesBytes(phases: readonly Phase[]): number {
  return 4 * phases.reduce((sum, phase) => sum + wordsOfPhase + tilesOfPhase(phase).length, wordsBefore)
}

export class SharedTiles {
  private readonly words: Int32Array

  /** @param address `sharedTilesBytes(phases)` bytes, zero at the start */
  constructor(memory: ArrayBufferLike, address: number, phases: readonly Phase[]) {
    this.words = new Int32Array(memory, address, sharedTilesBytes(phases) / 4)
  }

  clear(): void {
    this.words.fill(0)
  }

  stop(): void {
    Atomics.store(this.words, 0, 1)
  }

  stopped(): boolean {
    return Atomics.load(this.words, 0) !== 0
  }

  /**
   * Does tiles as worker number `worker`, phase after phase, until all are done or it is called off.
   *
   * @param prepare makes ready for a phase; what it returns does the tile of that number
   */
  work(
    phases: readonly Phase[],
    worker: number,
    prepare: (phase: Phase, index: number) => (tile: number) => void,
  ): void {
    let first = wordsBefore
    phases.forEach((phase, index) => {
      const count = tilesOfPhase(phase).length
      const last = index === phases.length - 1
      if (!this.stopped()) this.workOnPhase(first, count, worker, last, () => prepare(phase, index))
      first += wordsOfPhase + count
    })
  }

  private workOnPhase(
    first: number,
    count: number,
    worker: number,
    last: boolean,
    prepare: () => (tile: number) => void,
  ): void {
    const { words } = this
    const [next, finished, tiles] = [first, first + 1, first + wordsOfPhase]
    let run: ((tile: number) => void) | null = null
    const doTile = (tile: number) => {
      run ??= prepare()
      run(tile)
      Atomics.store(words, tiles + tile, done)
      if (Atomics.add(words, finished, 1) + 1 === count) Atomics.notify(words, finished)
    }
    const take = (tile: number) => Atomics.compareExchange(words, tiles + tile, 0, takenBy(worker)) === 0
    // What a dead worker had taken, or was about to take.
    for (let tile = 0; tile < Math.min(count, Atomics.load(words, next)); tile++) {
      if (this.stopped()) return
      if (Atomics.load(words, tiles + tile) === takenBy(worker) || take(tile)) doTile(tile)
    }
    for (;;) {
      if (this.stopped()) return
      const tile = Atomics.add(words, next, 1)
      if (tile >= count) break
      if (take(tile)) doTile(tile)
    }
    if (last) return
    for (;;) {
      const sofar = Atomics.load(words, finished)
      if (sofar >= count || this.stopped()) return
      // A worker that died between a tile and its count left the count short: the tiles themselves say so.
      if (Atomics.wait(words, finished, sofar, longestSleep) === 'timed-out' && this.areDone(tiles, count)) return
    }
  }

  private areDone(first: number, count: number): boolean {
    for (let tile = 0; tile < count; tile++) if (Atomics.load(this.words, first + tile) !== done) return false
    return true
  }
}
