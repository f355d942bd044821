/** The worker's side: does its share of the tiles of a picture. Knows neither browser nor Node. */

import { PhaseRunner, tilesOfPhase } from './run-phase'
import { SharedTiles } from './shared-tiles'
import type { FromWorker, ToWorker } from './worker-messages'

/** @returns the listener to feed with messages; `reply` sends to the engine */
export function tileWorker(reply: (message: FromWorker) => void): (message: ToWorker) => void {
  let started: { readonly runner: PhaseRunner; readonly memory: ArrayBufferLike; readonly number: number } | null = null
  return (message) => {
    if (message.kind === 'start') {
      const { module, memory, work, number } = message
      started = { runner: new PhaseRunner(module, memory, work, number), memory: memory.buffer, number }
      reply({ kind: 'ready' })
      return
    }
    const { id, phases, control } = message.job
    try {
      if (!started) throw new Error('The worker was given work before it was started.')
      const { runner, memory, number } = started
      if (control === null) runner.run(phases)
      else
        new SharedTiles(memory, control, phases).work(phases, number, (phase) => {
          const tiles = tilesOfPhase(phase)
          const run = runner.prepare(phase)
          return (tile) => run(tiles[tile])
        })
      reply({ kind: 'done', id })
    } catch (error) {
      reply({ kind: 'failed', id, message: error instanceof Error ? error.message : String(error) })
    }
  }
}
