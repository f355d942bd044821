/** `enkrasis convert`: format, bit depth, encoding, primaries of files. */

import type { EncodingName, PrimariesName } from '../../core/colour'
import { convert } from './convert-files'
import { anywhere, startEngine, type EngineOptions } from './start-engine'

export interface ConvertOptions extends EngineOptions {
  readonly from?: EncodingName
  readonly to?: EncodingName
  readonly fromPrimaries?: PrimariesName
  readonly toPrimaries?: PrimariesName
  readonly bits?: number
  readonly frames?: { first: number; last: number }
}

export async function convertFiles(input: string, output: string, options: ConvertOptions): Promise<void> {
  const { from = null, to = null, fromPrimaries = null, toPrimaries = null, bits, frames = null } = options
  const { engine, close } = await startEngine(options, anywhere, input.includes('#'))
  const request = { input, output, frames, from, to, fromPrimaries, toPrimaries, bits }
  try {
    for await (const path of convert(engine, request)) console.log(path)
  } finally {
    await close()
  }
}
