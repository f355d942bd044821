/** What a delivery keeps from the plate's files: rate, time code, pixel aspect, chromaticities, and what samples hold them. */

import { primaries, workingSpaces, type PrimariesName } from '../../core/colour'
import type { OutputEncoding } from '../../core/delivery'
import { framePath, plateSource, sourceFrame, type Shot } from '../../core/shot'
import { readExrHeader, standardAttributes, type StandardAttributes } from '../../formats/exr'
import { withFile } from '../media/file-source'
import { formatOf } from '../media/picture-files'
import { pathInside, type MediaPlace } from '../media/read-frame'

export interface PlateFacts {
  /** attributes of a file in that encoding */
  standardFor(encoding: OutputEncoding): StandardAttributes
  /** samples that hold everything the plate's own do, in that encoding */
  samplesFor(encoding: OutputEncoding): 'half' | 'float'
}

interface AtFrame {
  readonly shot: Shot
  readonly place: MediaPlace
  readonly frame: number
}

export async function aboutPlate({ shot, place, frame }: AtFrame): Promise<PlateFacts> {
  const source = plateSource(shot)
  const from = source && sourceFrame(source, frame)
  const working = workingSpaces[shot.workingSpace]
  const primariesOf: Readonly<Record<OutputEncoding, PrimariesName>> = {
    linear: working,
    plate: source?.claims.primaries ?? working,
    view: 'rec709',
  }
  if (!source || from === undefined)
    return { standardFor: (encoding) => chromaticitiesOf(primariesOf[encoding]), samplesFor: () => 'float' }
  const name = framePath(source.path, from)
  const found = await withFile(await pathInside(place, name), name, async (file) => {
    if ((await formatOf(file)) !== 'exr') return { standard: {}, halves: false }
    const [part] = (await readExrHeader(file)).parts
    return { standard: standardAttributes(part), halves: part.channels.every(({ type }) => type === 'half') }
  })
  const kept = { framesPerSecond: shot.rate, pixelAspectRatio: shot.pixelAspect, ...found.standard }
  return {
    standardFor: (encoding) => ({ ...kept, ...chromaticitiesOf(primariesOf[encoding]) }),
    // Half floats of another encoding are more light than half floats hold, until they are encoded again.
    samplesFor: (encoding) =>
      found.halves && (encoding === 'plate' || source.claims.encoding === 'linear') ? 'half' : 'float',
  }
}

/** Rec.709 is what a file without chromaticities holds; the plate's own word is kept then. */
function chromaticitiesOf(name: PrimariesName): StandardAttributes {
  if (name === 'rec709') return {}
  const { red, green, blue, white } = primaries[name]
  return { chromaticities: { red, green, blue, white } }
}
