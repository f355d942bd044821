/** The worker's side: takes tiles of a phase until none is left or it is called off. Knows neither browser nor Node. */

import { tilesOf } from '../image/window'
import { kernelScratchBytes, kernelsOn, type Kernels } from '../kernels/kernels'
import { WorkMemory } from './row-maker'
import { prepare, windowOf } from './run-phase'
import { controlWords, tileDone, workBytes, type FromWorker, type PhaseJob, type ToWorker } from './worker-messages'

/** @returns the listener to feed with messages; `reply` sends to the engine */
export function tileWorker(reply: (message: FromWorker) => void): (message: ToWorker) => void {
  let kernels: Kernels | null = null
  let work: WorkMemory | null = null
  return (message) => {
    if (message.kind === 'start') {
      kernels = kernelsOn(message.module, message.memory, message.work)
      work = new WorkMemory(message.work + kernelScratchBytes, workBytes - kernelScratchBytes)
      reply({ kind: 'ready' })
      return
    }
    const { job } = message
    try {
      if (!kernels || !work) throw new Error('The worker was given work before it was started.')
      runTiles(job, kernels, work)
      reply({ kind: 'done', id: job.id })
    } catch (error) {
      reply({ kind: 'failed', id: job.id, message: error instanceof Error ? error.message : String(error) })
    }
  }
}

function runTiles({ phase, control, redo }: PhaseJob, kernels: Kernels, work: WorkMemory): void {
  const tiles = tilesOf(windowOf(phase), phase.tileWidth, phase.tileHeight)
  const words = new Int32Array(kernels.memory, control, controlWords + tiles.length)
  const run = prepare(phase, kernels, work)
  const stopped = () => Atomics.load(words, 1) !== 0
  const one = (index: number) => {
    Atomics.store(words, controlWords + index, 1)
    run(tiles[index])
    Atomics.store(words, controlWords + index, tileDone)
  }
  for (const index of redo) {
    if (stopped()) return
    one(index)
  }
  for (;;) {
    if (stopped()) return
    const index = Atomics.add(words, 0, 1)
    if (index >= tiles.length) return
    one(index)
  }
}
