/** EXR in the browser: reading beside three's loader. The bench fetches the result from the page. */

import { HalfFloatType } from 'three'
import { EXRLoader } from 'three/examples/jsm/loaders/EXRLoader.js'
import { bytesSource, readExr, streamInflate } from '../../formats/exr'
import { inTurns } from '../row'

async function measure(): Promise<[number, number]> {
  const buffer = await (await fetch('./sample.exr')).arrayBuffer()
  const bytes = new Uint8Array(buffer)
  return inTurns(
    7,
    () => readExr(bytesSource(bytes, 'sample'), { inflate: streamInflate }),
    () => new EXRLoader().setDataType(HalfFloatType).parse(buffer),
  )
}

Object.assign(globalThis, { measured: measure() })
