/** The pixel of a source's file that lies at a pixel of the frame. */

import { fileWindowOf } from '../../core/engine/source-frame'
import { throughMatrix } from '../../core/motion/mapping'
import { fullScaleReading } from '../../core/plan/source'
import type { Shot, Source } from '../../core/shot'
import type { FileWindows } from './picture-files'

/** @param pixel of the frame, full scale @returns in the file's own pixel numbers, once its windows are known */
export function pixelInFile(shot: Shot, source: Source, [x, y]: readonly [number, number]) {
  const { request, mapping } = fullScaleReading(shot, source)
  const [across, down] = (mapping && throughMatrix(mapping.matrix, x + 0.5, y + 0.5)) ?? [x + 0.5, y + 0.5]
  const pixel = { x: Math.floor(across), y: Math.floor(down), width: 1, height: 1 }
  return (file: FileWindows): readonly [x: number, y: number] => {
    const there = fileWindowOf(pixel, file, request)
    return [there.x, there.y]
  }
}
