/** A thread that calls plain kernels as often as it is told, on strips of its own. */

import { readFileSync } from 'node:fs'
import { parentPort } from 'node:worker_threads'
import { writeProgram } from '../core/kernels/colour-program'
import { firstFreeByte, kernelScratchBytes, kernelsOn, stripBytes, stripPixels } from '../core/kernels/kernels'

if (!parentPort) throw new Error('This file runs as a thread of the bench.')
const port = parentPort
const memory = new WebAssembly.Memory({ initial: 64, maximum: 64, shared: true })
const module = new WebAssembly.Module(readFileSync('dist/kernels/kernels.wasm'))
const kernels = kernelsOn(module, memory, firstFreeByte)
const behind = firstFreeByte + kernelScratchBytes
const element = behind + stripBytes
const program = element + stripBytes
new Float32Array(memory.buffer, behind, (2 * stripBytes) / 4).fill(0.5)
writeProgram(memory.buffer, program, [
  { do: 'power', exponent: [0.9, 0.95, 1.05] },
  { do: 'affine', gain: [0.9, 0.9, 0.9], veil: [0.05, 0.05, 0.05] },
])

port.on('message', (calls: number) => {
  for (let i = 0; i < calls; i++) {
    kernels.colourProgram(element, stripPixels, program)
    kernels.over(behind, element, stripPixels)
  }
  port.postMessage('done')
})
