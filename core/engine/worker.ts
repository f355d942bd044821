/** The worker's side: takes tiles of a phase until none is left or it is called off. Knows neither browser nor Node. */

import { PhaseRunner, tilesOfPhase } from './run-phase'
import { controlWords, tileDone, type FromWorker, type PhaseJob, type ToWorker } from './worker-messages'

/** @returns the listener to feed with messages; `reply` sends to the engine */
export function tileWorker(reply: (message: FromWorker) => void): (message: ToWorker) => void {
  let started: { readonly runner: PhaseRunner; readonly memory: ArrayBufferLike } | null = null
  return (message) => {
    if (message.kind === 'start') {
      const { module, memory, work } = message
      started = { runner: new PhaseRunner(module, memory, work), memory: memory.buffer }
      reply({ kind: 'ready' })
      return
    }
    const { job } = message
    try {
      if (!started) throw new Error('The worker was given work before it was started.')
      runTiles(job, started.runner, started.memory)
      reply({ kind: 'done', id: job.id })
    } catch (error) {
      reply({ kind: 'failed', id: job.id, message: error instanceof Error ? error.message : String(error) })
    }
  }
}

function runTiles({ phases, control, redo }: PhaseJob, runner: PhaseRunner, memory: ArrayBufferLike): void {
  const shared = phases.length === 1
  const tiles = shared ? tilesOfPhase(phases[0]) : []
  const count = shared ? tiles.length : 1
  const words = new Int32Array(memory, control, controlWords + count)
  const stopped = () => Atomics.load(words, 1) !== 0
  const run = shared ? runner.prepare(phases[0]) : null
  const one = (index: number) => {
    Atomics.store(words, controlWords + index, 1)
    if (run) run(tiles[index])
    else runner.run(phases)
    Atomics.store(words, controlWords + index, tileDone)
  }
  for (const index of redo) {
    if (stopped()) return
    one(index)
  }
  for (;;) {
    if (stopped()) return
    const index = Atomics.add(words, 0, 1)
    if (index >= count) return
    one(index)
  }
}
