/** Small pictures of the composite along the frame axis, made while nothing else is wanted. */

import Box from '@mui/material/Box'
import { useEffect, useRef, useState } from 'react'
import { planFrame } from '../../../../core/plan/plan'
import type { Shot } from '../../../../core/shot'
import { useEngine } from '../../engine/engine-context'
import { filesIn } from '../../../../core/plan/catalog'
import { useAppSelector } from '../../store'
import { selectDocument, selectReadyFrames } from '../../store/selectors'

const count = 10
const width = 89
const height = 50
const idleMs = 1500

function thumbnailFrames(shot: Shot): number[] {
  const { first, last } = shot.frames
  const total = last - first + 1
  return Array.from(
    { length: Math.min(count, total) },
    (_, i) => first + Math.floor(((i + 0.5) * total) / Math.min(count, total)),
  )
}

export function Thumbnails() {
  const shot = useAppSelector(selectDocument)
  return (
    <Box sx={{ display: 'flex', height: 54, alignItems: 'center', justifyContent: 'space-around', overflow: 'hidden' }}>
      {shot && thumbnailFrames(shot).map((frame) => <Thumbnail key={frame} frame={frame} shot={shot} />)}
    </Box>
  )
}

function Thumbnail({ frame, shot }: { frame: number; shot: Shot }) {
  const engine = useEngine()
  const catalog = useAppSelector((state) => state.shot.catalog)
  const ready = useAppSelector(selectReadyFrames).has(frame)
  const canvas = useRef<HTMLCanvasElement>(null)
  const [shownKey, setShownKey] = useState('')
  useEffect(() => {
    if (!ready) return
    const timer = setTimeout(() => {
      const { composite } = planFrame(shot, frame, 4, filesIn(catalog))
      if (!composite || composite.key === shownKey) return
      const window = {
        x: 0,
        y: 0,
        width: Math.ceil(shot.frameSize.width / 4),
        height: Math.ceil(shot.frameSize.height / 4),
      }
      engine
        .view(composite, window, { exposure: 1, channel: 'all', encoding: 'srgb' }, { idle: true, once: true })
        .then(
          async (bytes) => {
            const bitmap = await createImageBitmap(
              new ImageData(new Uint8ClampedArray(bytes.buffer), window.width, window.height),
              { resizeWidth: width, resizeHeight: height, resizeQuality: 'medium' },
            )
            canvas.current?.getContext('2d')?.drawImage(bitmap, 0, 0)
            setShownKey(composite.key)
          },
          // A frame that cannot be read says so when it is looked at.
          () => undefined,
        )
    }, idleMs)
    return () => clearTimeout(timer)
  }, [engine, shot, frame, catalog, ready, shownKey])
  return (
    <canvas
      ref={canvas}
      width={width}
      height={height}
      style={{ opacity: shownKey === '' ? 0 : 1, flexShrink: 1, minWidth: 0 }}
      role="img"
      aria-label={`Frame ${frame}`}
    />
  )
}
