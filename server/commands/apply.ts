/** `enkrasis apply`: one treatment on an EXR file or sequence. */

import { apply } from './apply-treatment'
import { anywhere, startEngine, type EngineOptions } from './start-engine'

export interface ApplyOptions extends EngineOptions {
  readonly in: string
  readonly out: string
  readonly frames?: { first: number; last: number }
  readonly set: readonly string[]
  readonly source: readonly string[]
}

export async function applyTreatment(treatment: string, options: ApplyOptions): Promise<void> {
  const { set: settings, source: sources, in: input, out: output, frames = null } = options
  const { engine, close } = await startEngine(options, anywhere, input.includes('#'))
  try {
    for await (const path of apply(engine, { treatment, input, output, frames, settings, sources })) console.log(path)
  } finally {
    await close()
  }
}
