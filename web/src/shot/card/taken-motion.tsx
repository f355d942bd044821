/** Whose motion a treatment takes out of the picture, or follows, and the border that this brings into the frame. */

import Button from '@mui/material/Button'
import Stack from '@mui/material/Stack'
import Typography from '@mui/material/Typography'
import { useStore } from 'react-redux'
import { createSelector } from '@reduxjs/toolkit'
import { valueAt } from '../../../../core/motion/curve'
import { motionModels } from '../../../../core/motion/fitted-motion'
import { borderOf } from '../../../../core/plan/border'
import type { Pin, TreatmentSettings } from '../../../../core/shot'
import { useAppDispatch, useAppSelector } from '../../store'
import { planningOf } from '../../store/plans'
import { selectCatalog, selectDocument } from '../../store/selectors'
import { shotActions } from '../../store/shot-slice'
import type { RootState } from '../../store/state'
import { PinFields } from './pin'

/** By the document as it is kept: while a number is dragged it is not counted anew for every frame. */
const selectBorder = createSelector([selectDocument, selectCatalog], (shot, catalog) =>
  shot && catalog ? borderOf(planningOf(shot, 1, catalog)) : null,
)

const takenWords = (pin: Pin | undefined) => ({
  label: 'Taken motion',
  title: pin ? `Motion of these, still as on ${pin.frame}` : 'Motion of which tracks?',
  none: 'To take the sway out of the picture, track points first (Shift T).',
  by: 'Takes their',
})

const followingWords = (pin: Pin | undefined) => ({
  label: 'Filling follows',
  title: pin ? `The filling follows these; offset as on ${pin.frame}` : 'The filling follows which tracks?',
  none: 'To let the filling follow a camera that moves, track points first (Shift T).',
  by: 'Follows their',
})

export function TakenMotion({ settings: { id, kind, pin, parameters } }: { settings: TreatmentSettings }) {
  const dispatch = useAppDispatch()
  const store = useStore<RootState>()
  const frameNow = () => store.getState().view.playing.frame
  const set = (next: Pin | null) => dispatch(shotActions.edited({ kind: 'pin-treatment', treatment: id, pin: next }))
  return (
    <>
      <PinFields
        {...(kind === 'patch' ? followingWords(pin) : takenWords(pin))}
        pin={pin ?? null}
        models={motionModels}
        onSet={set}
        here={{ text: 'Still as on this frame', act: () => pin && set({ ...pin, frame: frameNow() }) }}
        unpin="None"
      />
      {pin && kind === 'steady' && <BorderWords treatment={id} scale={valueAt(parameters.scale[0], frameNow())} />}
    </>
  )
}

function BorderWords({ treatment, scale }: { treatment: string; scale: number }) {
  const dispatch = useAppDispatch()
  const store = useStore<RootState>()
  const border = useAppSelector(selectBorder)
  if (!border) return null
  if (border.pixels === 0)
    return (
      <Typography variant="caption" color="textSecondary">
        The picture fills the frame on every frame.
      </Typography>
    )
  // Rounded up to the thousandth, so that it does fill it.
  const filling = Math.ceil(scale * border.filledBy * 1000) / 1000
  return (
    <Stack direction="row" sx={{ alignItems: 'center', justifyContent: 'space-between' }}>
      <Typography variant="caption">
        Its border comes in by {border.pixels.toFixed(1)} px at most (frame {border.frame}).
      </Typography>
      <Button
        sx={{ minWidth: 0, px: 0.6, py: 0, flexShrink: 0 }}
        onClick={() =>
          dispatch(
            shotActions.edited({
              kind: 'set-parameter',
              at: { owner: { kind: 'treatment', id: treatment }, parameter: 'scale', channel: 0 },
              frame: store.getState().view.playing.frame,
              value: filling,
            }),
          )
        }
      >
        Fill by × {filling.toFixed(3)}
      </Button>
    </Stack>
  )
}
