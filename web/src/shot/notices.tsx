/** What the artist must decide or know: edits that could not be made, and why an undo was not. */

import Alert from '@mui/material/Alert'
import Button from '@mui/material/Button'
import Snackbar from '@mui/material/Snackbar'
import Stack from '@mui/material/Stack'
import { useAppDispatch, useAppSelector } from '../store'
import { shotActions, type Impossible } from '../store/shot-slice'

/** No more than these are shown at once; the others wait behind them. */
const mostShown = 3

function ImpossibleEdit({ id, edit, sentence, rival }: Impossible) {
  const dispatch = useAppDispatch()
  const settle = () => dispatch(shotActions.impossibleSettled(id))
  const useMine = () => {
    settle()
    if (edit.kind !== 'undo') dispatch(shotActions.edited(edit))
  }
  return (
    <Alert
      severity="warning"
      action={
        rival ? (
          <>
            <Button onClick={useMine}>Use mine</Button>
            <Button onClick={settle}>Keep theirs</Button>
          </>
        ) : (
          <Button onClick={settle}>Close</Button>
        )
      }
    >
      {sentence}
    </Alert>
  )
}

export function Notices() {
  const dispatch = useAppDispatch()
  const impossible = useAppSelector((state) => state.shot.impossible)
  const notice = useAppSelector((state) => state.shot.notice)
  if (impossible.length === 0 && notice === null) return null
  return (
    <Snackbar open anchorOrigin={{ vertical: 'top', horizontal: 'center' }}>
      <Stack spacing={1}>
        {notice !== null && (
          <Alert severity="info" action={<Button onClick={() => dispatch(shotActions.noticeRead())}>Close</Button>}>
            {notice}
          </Alert>
        )}
        {impossible.slice(0, mostShown).map((one) => (
          <ImpossibleEdit key={one.id} {...one} />
        ))}
      </Stack>
    </Snackbar>
  )
}
