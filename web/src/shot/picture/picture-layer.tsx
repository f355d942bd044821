/** One picture in its place; several can lie over each other. */

import { useRef, type CSSProperties } from 'react'
import type { Looked } from '../../../../core/look/looking'
import type { Scale } from '../../../../core/graph/steps'
import { pictureInSight, type Placement, type Size } from './placement'
import { usePicture } from './use-picture'

interface PictureLayerProps {
  readonly looked: Looked | null
  readonly place: Size
  readonly frame: Size
  readonly placement: Placement
  readonly scale: Scale
  readonly clipPath?: string
  readonly onProblem?: (problem: string | null) => void
}

export function PictureLayer({ looked, place, frame, placement, scale, clipPath, onProblem }: PictureLayerProps) {
  const canvas = useRef<HTMLCanvasElement>(null)
  const { shown } = usePicture(canvas, pictureInSight(place, placement, scale), looked, onProblem)
  const style: CSSProperties = {
    position: 'absolute',
    left: placement.left,
    top: placement.top,
    width: frame.width * placement.zoom,
    height: frame.height * placement.zoom,
    imageRendering: placement.zoom * scale >= 1 ? 'pixelated' : 'auto',
    visibility: shown ? 'visible' : 'hidden',
    clipPath,
  }
  return <canvas ref={canvas} width={1} height={1} style={style} />
}
