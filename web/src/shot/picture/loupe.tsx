/** The paired loupe: the pointer's neighbourhood of the picture and of the other, enlarged side by side. */

import Box from '@mui/material/Box'
import Typography from '@mui/material/Typography'
import { useEffect, useRef } from 'react'
import type { Looked } from '../../../../core/look/looking'
import { useEngine } from '../../engine/engine-context'
import { useNewest } from '../../engine/use-newest'
import { useAppSelector } from '../../store'
import { selectLooked, selectOtherLooked, selectScale } from '../../store/selectors'
import { otherText } from '../other-text'
import type { Point } from '../../store/view'

const pixels = 24
const enlarged = 7
const side = pixels * enlarged

function Half({ looked, at, name }: { looked: Looked | null; at: Point; name: string }) {
  const engine = useEngine()
  const canvas = useRef<HTMLCanvasElement>(null)
  const scale = useAppSelector(selectScale)
  const show = useNewest()
  const [x, y] = [Math.floor(at.x / scale) - pixels / 2, Math.floor(at.y / scale) - pixels / 2]
  useEffect(() => {
    if (!looked) return
    show(async () => {
      try {
        const bytes = await engine.view(looked.step, { x, y, width: pixels, height: pixels }, looked.view)
        const image = new ImageData(new Uint8ClampedArray(bytes.buffer), pixels, pixels)
        canvas.current?.getContext('2d')?.putImageData(image, 0, 0)
      } catch {
        // The picture says what is wrong.
      }
    })
  }, [engine, looked, x, y, show])
  return (
    <Box>
      <canvas
        ref={canvas}
        width={pixels}
        height={pixels}
        style={{ width: side, height: side, imageRendering: 'pixelated', display: 'block' }}
      />
      <Typography variant="caption" sx={{ px: 0.5 }}>
        {name}
      </Typography>
    </Box>
  )
}

/** @param at the pointer's pixel @param screen where it is on the picture's place */
export function Loupe({ at, screen, place }: { at: Point; screen: Point; place: { width: number; height: number } }) {
  const looked = useAppSelector(selectLooked)
  const other = useAppSelector(selectOtherLooked)
  const words = useAppSelector(otherText)
  const left = screen.x + 24 + 2 * side > place.width ? screen.x - 24 - 2 * side : screen.x + 24
  const top = Math.min(Math.max(8, screen.y - side / 2), place.height - side - 30)
  return (
    <Box
      role="group"
      aria-label="Loupe"
      sx={{
        position: 'absolute',
        left: Math.max(4, left),
        top,
        display: 'flex',
        bgcolor: 'background.paper',
        border: 1,
        borderColor: 'divider',
        pointerEvents: 'none',
      }}
    >
      <Half looked={looked} at={at} name="picture" />
      <Half looked={other} at={at} name={words} />
    </Box>
  )
}
