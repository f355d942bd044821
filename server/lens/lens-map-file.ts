/** A lens's map as an OpenEXR file: 32 bits, its window in the header. */

import type { Lens, LensLeads } from '../../core/motion/lens'
import { mapOf } from '../../core/lens'
import { writeExr } from '../../formats/exr'
import { packing } from '../media/exr-blocks'

export const lensMapFile = (
  lens: Lens,
  frame: { readonly width: number; readonly height: number },
  leads: LensLeads,
): Promise<Uint8Array> => writeExr([mapOf(lens, frame, leads)], { ...packing, compression: 'zip' })
