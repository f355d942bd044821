/** Pins the card of the selected element below, to compare with that of another. */

import Button from '@mui/material/Button'
import { useAppDispatch, useAppSelector } from '../../store'
import { selectElementId, selectPinned } from '../../store/selectors'
import { viewChanged } from '../../store/view'

export function PinButton() {
  const dispatch = useAppDispatch()
  const selected = useAppSelector(selectElementId)
  const pinned = useAppSelector((state) => selectPinned(state) !== null)
  if (selected === null || pinned) return null
  return (
    <Button
      sx={{ minWidth: 0, px: 0.6 }}
      title="Keep this card below while something else is selected"
      onClick={() => dispatch(viewChanged({ screen: { pinned: selected } }))}
    >
      Pin
    </Button>
  )
}
