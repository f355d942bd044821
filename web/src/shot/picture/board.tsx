/** The inspection board: the frame in every way that shows what the usual one hides; a click looks that way. */

import Box from '@mui/material/Box'
import ButtonBase from '@mui/material/ButtonBase'
import Typography from '@mui/material/Typography'
import { useEffect, useRef } from 'react'
import type { BoardPicture } from '../../../../core/look/looking'
import { plainLook } from '../../../../core/look/looking'
import { useEngine } from '../../engine/engine-context'
import { useNewest } from '../../engine/use-newest'
import { useAppDispatch, useAppSelector } from '../../store'
import { boardScale, selectBoard, selectDocument } from '../../store/selectors'
import { viewChanged } from '../../store/view'
import { cellsIn, type Size } from './placement'

function BoardCell({ picture, size }: { picture: BoardPicture; size: { width: number; height: number } }) {
  const engine = useEngine()
  const dispatch = useAppDispatch()
  const canvas = useRef<HTMLCanvasElement>(null)
  const show = useNewest()
  const { looked, name, looking } = picture
  const { width, height } = size
  useEffect(() => {
    show(async () => {
      try {
        const bytes = await engine.view(looked.step, { x: 0, y: 0, width, height }, looked.view)
        const image = new ImageData(new Uint8ClampedArray(bytes.buffer), width, height)
        canvas.current?.getContext('2d')?.putImageData(image, 0, 0)
        if (canvas.current) canvas.current.dataset.key = looked.step.key
      } catch {
        // The picture says what is wrong.
      }
    })
  }, [engine, looked, width, height, show])
  return (
    <ButtonBase
      onClick={() =>
        dispatch(viewChanged({ looking: looking ? { ...plainLook, ...looking, board: false } : { board: false } }))
      }
      sx={{ display: 'block', textAlign: 'left', '&:hover': { outline: '1px solid', outlineColor: 'text.secondary' } }}
    >
      <canvas ref={canvas} width={width} height={height} style={{ width: '100%', display: 'block' }} />
      <Typography variant="caption" sx={{ px: 0.5 }}>
        {name}
      </Typography>
    </ButtonBase>
  )
}

const room = { gap: 8, caption: 22 } as const

/** @param place what the board covers, in screen pixels */
export function Board({ place }: { place: Size }) {
  const board = useAppSelector(selectBoard)
  const frame = useAppSelector((state) => selectDocument(state)?.frameSize)
  if (!board || !frame) return null
  const size = { width: Math.ceil(frame.width / boardScale), height: Math.ceil(frame.height / boardScale) }
  const { columns, width } = cellsIn(place, frame, board.length, room)
  return (
    <Box
      role="group"
      aria-label="Inspection board"
      // The picture below takes presses for panning.
      onPointerDown={(event) => event.stopPropagation()}
      onPointerUp={(event) => event.stopPropagation()}
      sx={{
        position: 'absolute',
        inset: 0,
        p: 1,
        bgcolor: 'background.default',
        overflow: 'auto',
        display: 'grid',
        gridTemplateColumns: `repeat(${columns}, ${width}px)`,
        gap: 1,
        alignContent: 'center',
        justifyContent: 'center',
      }}
    >
      {board.map((picture) => (
        <BoardCell key={picture.name} picture={picture} size={size} />
      ))}
    </Box>
  )
}
