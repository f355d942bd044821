/** What the artist must decide or know: conflicts with another tab, pictures that could not be made. */

import Alert from '@mui/material/Alert'
import Button from '@mui/material/Button'
import Snackbar from '@mui/material/Snackbar'
import { useAppDispatch, useAppSelector } from '../store'
import { shotActions } from '../store/shot-slice'

export function Notices() {
  const dispatch = useAppDispatch()
  const conflict = useAppSelector((state) => state.shot.conflict)
  if (!conflict) return null
  const useMine = () => {
    dispatch(shotActions.conflictSettled())
    dispatch(shotActions.edited(conflict.edit))
  }
  return (
    <Snackbar open anchorOrigin={{ vertical: 'top', horizontal: 'center' }}>
      <Alert
        severity="warning"
        data-testid="conflict"
        action={
          <>
            <Button onClick={useMine}>Use mine</Button>
            <Button onClick={() => dispatch(shotActions.conflictSettled())}>Keep theirs</Button>
          </>
        }
      >
        {conflict.message}
      </Alert>
    </Snackbar>
  )
}
