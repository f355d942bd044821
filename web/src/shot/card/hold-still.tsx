/** Holds the picture still on what the selected thing is, or moves with: a moving thing can be drawn round as if it stood. */

import Checkbox from '@mui/material/Checkbox'
import FormControlLabel from '@mui/material/FormControlLabel'
import Stack from '@mui/material/Stack'
import Tooltip from '@mui/material/Tooltip'
import { useAppDispatch, useAppSelector } from '../../store'
import { selectHeld, selectHolding } from '../../store/selectors'
import { viewChanged } from '../../store/view'

/** Nothing where there is nothing to hold it on. */
export function HoldStill() {
  const dispatch = useAppDispatch()
  const held = useAppSelector(selectHeld)
  const holding = useAppSelector(selectHolding)
  if (!holding) return null
  const on = held?.tracks.join() === holding.tracks.join()
  return (
    <Stack direction="row">
      <Tooltip
        describeChild
        title="Only what you see is moved (Z): this stays where it is on this frame. Nothing that is delivered changes."
      >
        <FormControlLabel
          sx={{ my: -0.5 }}
          slotProps={{ typography: { variant: 'body2' } }}
          control={
            <Checkbox
              size="small"
              checked={on}
              onChange={() => dispatch(viewChanged({ framing: { held: on ? null : holding } }))}
            />
          }
          label="Hold the picture still on it"
        />
      </Tooltip>
    </Stack>
  )
}
