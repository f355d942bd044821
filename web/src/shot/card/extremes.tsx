/** Where a placed element comes over the range, and where it leaves the frame's edge uncovered. */

import Button from '@mui/material/Button'
import Stack from '@mui/material/Stack'
import Typography from '@mui/material/Typography'
import { createSelector } from '@reduxjs/toolkit'
import { useMemo } from 'react'
import { coveringScale, wayOf, type Element } from '../../../../core/shot'
import { useAppDispatch, useAppSelector } from '../../store'
import { selectDocument } from '../../store/selectors'
import { shotActions } from '../../store/shot-slice'
import type { RootState } from '../../store/state'
import { viewChanged } from '../../store/view'
import { Section } from './section'

const narrow = { minWidth: 0, px: 0.6, py: 0 } as const

function framesText(frames: readonly number[]): string {
  const [first, last] = [frames[0], frames[frames.length - 1]]
  return last - first + 1 === frames.length ? `${first} to ${last}` : `${frames.length} frames from ${first} to ${last}`
}

export function Extremes({ element }: { element: Element }) {
  // What lies in a draft is looked at when the hand lets go.
  const select = useMemo(
    () => createSelector([selectDocument], (shot) => shot && wayOf(shot, element.id)),
    [element.id],
  )
  const way = useAppSelector((state: RootState) => select(state))
  const dispatch = useAppDispatch()
  const shot = useAppSelector(selectDocument)
  const frame = useAppSelector((state) => state.view.playing.frame)
  if (!way || !shot) return null
  const go = (to: number) => dispatch(viewChanged({ playing: { frame: to } }))
  const { highest, lowest, leftmost, rightmost, leaves, gap } = way
  const lines = [
    ['Highest', highest],
    ['Lowest', lowest],
    ['Leftmost', leftmost],
    ['Rightmost', rightmost],
  ] as const
  const close = () => {
    const cure = coveringScale(shot, element.id, frame)
    if (cure) dispatch(shotActions.edited(cure.edit))
    else dispatch(shotActions.noticed(`No scale up to 4 covers the frame’s edge with ${element.name}.`))
  }
  return (
    <>
      {gap && (
        <Stack role="status">
          <Typography variant="caption">
            It does not cover the {gap.sides.join(', ')} of the frame on {framesText(gap.frames)}:{' '}
            {gap.pixels.toFixed(1)} px of overscan are wanting.
          </Typography>
          <Button sx={{ ...narrow, alignSelf: 'flex-start', ml: -0.6 }} onClick={close}>
            Scale it until it covers
          </Button>
        </Stack>
      )}
      <Section name="On its way" summary={leaves === null ? `highest at ${highest.frame}` : `leaves at ${leaves}`}>
        {lines.map(([name, { frame: at, spot }]) => (
          <Button key={name} sx={{ ...narrow, alignSelf: 'flex-start', ml: -0.6 }} onClick={() => go(at)}>
            {name} at frame {at}: {Math.round(spot[0])}, {Math.round(spot[1])}
          </Button>
        ))}
        <Typography variant="caption" color="textSecondary">
          {leaves === null ? 'It does not leave the frame.' : `Nothing of its box is in the frame from ${leaves} on.`}
        </Typography>
      </Section>
    </>
  )
}
