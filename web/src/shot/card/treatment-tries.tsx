/** Tries of one treatment: kept settings that are stepped through while looking at the picture. */

import Button from '@mui/material/Button'
import Stack from '@mui/material/Stack'
import Typography from '@mui/material/Typography'
import { inOrder, newId, nextTreatmentTryName, usedTry, type TreatmentSettings } from '../../../../core/shot'
import { useAppDispatch } from '../../store'
import { shotActions } from '../../store/shot-slice'
import { stepTry } from './step-try'

const narrow = { minWidth: 0, px: 0.6, py: 0 } as const

export function TreatmentTries({ settings, name }: { settings: TreatmentSettings; name: string }) {
  const dispatch = useAppDispatch()
  const { id } = settings
  const tries = settings.tries ? inOrder(settings.tries) : []
  const used = usedTry(settings)
  const keep = () =>
    dispatch(
      shotActions.edited({
        kind: 'keep-treatment-try',
        treatment: id,
        id: newId(),
        name: nextTreatmentTryName(settings),
      }),
    )
  const step = (by: 1 | -1) => {
    const edit = stepTry(settings, by)
    if (edit) dispatch(shotActions.edited(edit))
  }
  return (
    <Stack direction="row" role="group" aria-label={`Tries of ${name}`} sx={{ alignItems: 'center', ml: -0.6 }}>
      {tries.length > 0 && (
        <>
          <Button sx={narrow} aria-label={`The try before, of ${name}`} onClick={() => step(-1)}>
            ‹
          </Button>
          <Typography variant="caption" sx={{ px: 0.5 }}>
            {used ? `try ${used.name}` : 'not kept'} of {tries.length}
          </Typography>
          <Button sx={narrow} aria-label={`The next try of ${name}`} onClick={() => step(1)}>
            ›
          </Button>
        </>
      )}
      {!used && (
        <Button sx={narrow} aria-label={`Keep these settings of ${name} as a try`} onClick={keep}>
          {tries.length === 0 ? 'Keep as a try' : 'Keep'}
        </Button>
      )}
      {used && (
        <Button
          sx={{ ...narrow, ml: 'auto' }}
          aria-label={`Forget try ${used.name} of ${name}`}
          onClick={() => dispatch(shotActions.edited({ kind: 'remove-treatment-try', treatment: id, id: used.id }))}
        >
          Forget it
        </Button>
      )}
    </Stack>
  )
}
