/** Where on the plate elements pass, so that one draws only there, and on which frames they come to what is drawn. */

import Checkbox from '@mui/material/Checkbox'
import FormControlLabel from '@mui/material/FormControlLabel'
import Stack from '@mui/material/Stack'
import Typography from '@mui/material/Typography'
import { boxOfOutline } from '../../../../core/outline'
import { framesThrough } from '../../../../core/measure/swept-area'
import { seenOutline, type ShapeNow } from '../../../../core/shot'
import { useAppDispatch, useAppSelector } from '../../store'
import { selectDocument, selectShapeNow } from '../../store/selectors'
import { sweepActions } from '../../store/sweep'
import { useSweep } from './use-sweep'

export function WhereElementsPass({ matte }: { matte: string }) {
  const dispatch = useAppDispatch()
  const on = useAppSelector(({ sweep }) => sweep.matte === matte)
  const text = useWords()
  useSweep(matte)
  return (
    <>
      <Stack direction="row">
        <FormControlLabel
          sx={{ my: -0.5 }}
          slotProps={{ typography: { variant: 'body2' } }}
          control={
            <Checkbox size="small" checked={on} onChange={() => dispatch(sweepActions.wanted(on ? null : matte))} />
          }
          label="Where elements pass"
        />
      </Stack>
      {on && (
        <Typography variant="caption" role="status" color="textSecondary">
          {text}
        </Typography>
      )}
    </>
  )
}

function useWords(): string {
  const { done, passings, problem } = useAppSelector(({ sweep }) => sweep)
  const frames = useAppSelector((state) => selectDocument(state)?.frames)
  const now = useAppSelector(selectShapeNow)
  if (!frames) return ''
  if (problem !== null) return problem
  const all = frames.last - frames.first + 1
  if (done < all) return `Looking where elements pass: ${done} of ${all} frames.`
  if (!passings.some(({ box }) => box)) return 'No element is seen on any frame.'
  if (!now) return 'Elements pass inside the dotted line on the picture; nothing has to be covered outside it.'
  return shapeWords(now, passings, all)
}

/** Of the outline as it lies on this frame. */
function shapeWords(now: ShapeNow, passings: Parameters<typeof framesThrough>[0], all: number): string {
  const through = framesThrough(passings, boxOfOutline(seenOutline(now)))
  if (through.length === 0) return `No element comes near ${now.shape.name} where it lies now.`
  if (through.length === all) return `Elements come to ${now.shape.name} on every frame.`
  const [first, last] = [through[0].frame, through[through.length - 1].frame]
  return `Elements come to ${now.shape.name}, where it lies now, on ${first === last ? `frame ${first}` : `frames ${first} to ${last}`}: it has to be right only there.`
}
