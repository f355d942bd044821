/** EXR in Node: reading beside three's loader, writing beside zlib alone. */

import { deflateSync } from 'node:zlib'
import { HalfFloatType } from 'three'
import { EXRLoader } from 'three/examples/jsm/loaders/EXRLoader.js'
import { bytesSource, readExr } from '../formats/exr'
import { unpacking } from '../server/media/exr-blocks'
import { level, samplePlanes, writeSample } from './exr-sample'
import { besidePeer, inTurns, type Row } from './row'

const runs = 7

export async function benchExr(): Promise<Row[]> {
  const planes = samplePlanes()
  const bytes = await writeSample(planes)
  const buffer = bytes.slice().buffer as ArrayBuffer
  const three = () => new EXRLoader().setDataType(HalfFloatType).parse(buffer)
  const name = 'EXR ZIP half RGBA 1920x1080'
  const [product, peer] = await inTurns(runs, () => readExr(bytesSource(bytes, 'sample'), { ...unpacking }), three)

  const blocks: Uint8Array[] = []
  await writeSample(planes, (raw) => {
    blocks.push(raw.slice())
    return deflateSync(raw, { level })
  })
  const [write, zlib] = await inTurns(
    runs,
    () => writeSample(planes),
    () => blocks.forEach((block) => deflateSync(block, { level })),
  )
  return [
    besidePeer(`${name}, read in Node on one thread, beside three's loader`, product, peer, 0.5, 'ms'),
    besidePeer(`${name}, written in Node, beside zlib on the same bytes`, write, zlib, 1.2, 'ms'),
  ]
}
