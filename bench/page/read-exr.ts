/** EXR in the browser: reading beside three's loader. The bench fetches the result from the page. */

import { HalfFloatType } from 'three'
import { EXRLoader } from 'three/examples/jsm/loaders/EXRLoader.js'
import { byteReordering } from '../../core/kernels/byte-planes'
import kernels from '../../dist/kernels/kernels.wasm?url'
import { bytesSource, readExr, streamInflate } from '../../formats/exr'
import { inTurns } from '../row'

async function measure(): Promise<[number, number]> {
  const buffer = await (await fetch('./sample.exr')).arrayBuffer()
  const bytes = new Uint8Array(buffer)
  const reordering = byteReordering(await WebAssembly.compileStreaming(fetch(kernels)))
  return inTurns(
    7,
    () => readExr(bytesSource(bytes, 'sample'), { inflate: streamInflate, reordering }),
    () => new EXRLoader().setDataType(HalfFloatType).parse(buffer),
  )
}

Object.assign(globalThis, { measured: measure() })
