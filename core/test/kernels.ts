/** For the tests: the built kernels over a memory of their own. */

import { readFileSync } from 'node:fs'
import { writeProgram, type ColourStep } from '../kernels/colour-program'
import { firstFreeByte, kernelScratchBytes, kernelsOn, planeBytes, stripBytes, type Kernels } from '../kernels/kernels'

let module: WebAssembly.Module | null = null

/** The module that `npm run build` made. */
export function builtKernels(): WebAssembly.Module {
  module ??= new WebAssembly.Module(readFileSync('dist/kernels/kernels.wasm'))
  return module
}

export function sharedMemory(megabytes: number): WebAssembly.Memory {
  return new WebAssembly.Memory({ initial: megabytes * 16, maximum: megabytes * 16, shared: true })
}

export interface Bench {
  readonly kernels: Kernels
  /** the whole memory */
  readonly floats: Float32Array
  /** first address, divisible by 64, that is free for the test */
  readonly free: number
}

export function kernelBench(megabytes = 4): Bench {
  const memory = sharedMemory(megabytes)
  const kernels = kernelsOn(builtKernels(), memory, firstFreeByte)
  return { kernels, floats: new Float32Array(memory.buffer), free: firstFreeByte + kernelScratchBytes }
}

/** Writes pixels into a strip. */
export function putStrip({ floats }: Bench, strip: number, pixels: readonly (readonly number[])[]): void {
  pixels.forEach((pixel, i) => pixel.forEach((value, c) => (floats[(strip + c * planeBytes) / 4 + i] = value)))
}

export function getStrip({ floats }: Bench, strip: number, count: number): number[][] {
  return Array.from({ length: count }, (_, i) => [0, 1, 2, 3].map((c) => floats[(strip + c * planeBytes) / 4 + i]))
}

/** Runs a colour program over pixels and returns what becomes of them. */
export function throughProgram(
  bench: Bench,
  steps: readonly ColourStep[],
  pixels: readonly (readonly number[])[],
): number[][] {
  const program = bench.free + stripBytes
  writeProgram(bench.kernels.memory, program, steps)
  putStrip(bench, bench.free, pixels)
  bench.kernels.colourProgram(bench.free, pixels.length, program)
  return getStrip(bench, bench.free, pixels.length)
}

/** As the kernels' precision is promised: 4e-6 of the magnitude, or 1e-7. */
export function expectClose(found: number, expected: number, magnitude = Math.abs(expected)): void {
  if (Object.is(found, expected) || (Number.isNaN(found) && Number.isNaN(expected))) return
  const slack = Math.max(4e-6 * magnitude, 1e-7)
  if (!(Math.abs(found - expected) <= slack)) throw new Error(`${found} is not ${expected} to within ${slack}`)
}
