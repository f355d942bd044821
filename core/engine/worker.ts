/** The worker's side: takes tiles of a job until none is left or the job is called off. Knows neither browser nor Node. */

import { pixelCount, tilesOf, type Window } from '../image/window'
import type { Kernels } from '../kernels/kernels'
import { typescriptKernels } from '../kernels/typescript-kernels'
import { Evaluator } from './evaluate'
import { tileHeight, tileWidth, type FromWorker, type TileJob, type ToWorker } from './worker-messages'

/** @returns the listener to feed with messages; `reply` sends to the engine */
export function tileWorker(reply: (message: FromWorker) => void): (message: ToWorker) => void {
  let kernels: Kernels | null = null
  let evaluator: Evaluator | null = null
  let tileAddress = 0
  return (message) => {
    if (message.kind === 'start') {
      kernels = typescriptKernels(message.memory.buffer)
      tileAddress = message.scratch
      const tileBytes = tileWidth * tileHeight * 16
      evaluator = new Evaluator(kernels, message.scratch + tileBytes, message.scratchBytes - tileBytes)
      reply({ kind: 'ready' })
      return
    }
    const { job } = message
    try {
      if (!kernels || !evaluator) throw new Error('The worker was given a job before it was started.')
      runTiles(job, kernels, evaluator, tileAddress)
      reply({ kind: 'done', id: job.id })
    } catch (error) {
      reply({ kind: 'failed', id: job.id, message: error instanceof Error ? error.message : String(error) })
    }
  }
}

function runTiles(job: TileJob, kernels: Kernels, evaluator: Evaluator, tileAddress: number): void {
  const control = new Int32Array(kernels.memory, job.control, 2)
  const tiles = tilesOf(job.window, tileWidth, tileHeight)
  for (;;) {
    if (Atomics.load(control, 1) !== 0) return
    const index = Atomics.add(control, 0, 1)
    if (index >= tiles.length) return
    const tile = tiles[index]
    evaluator.evaluate(job.step, tile, job.frames, tileAddress)
    store(job, tile, kernels, tileAddress)
  }
}

function store(job: TileJob, tile: Window, kernels: Kernels, from: number): void {
  const { window, output, address } = job
  const bytesPerPixel = output.kind === 'view' ? 4 : 16
  if (output.kind === 'view') kernels.view(from, from, pixelCount(tile), output.view)
  const bytes = new Uint8Array(kernels.memory)
  const rowBytes = tile.width * bytesPerPixel
  for (let row = 0; row < tile.height; row++) {
    const to = address + ((tile.y + row - window.y) * window.width + tile.x - window.x) * bytesPerPixel
    bytes.copyWithin(to, from + row * rowBytes, from + (row + 1) * rowBytes)
  }
}
