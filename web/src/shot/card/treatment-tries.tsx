/** Tries of one treatment: kept settings that are stepped through while looking at the picture. */

import Button from '@mui/material/Button'
import Stack from '@mui/material/Stack'
import Typography from '@mui/material/Typography'
import { memo } from 'react'
import { useStore } from 'react-redux'
import {
  find,
  newId,
  nextTreatmentTryName,
  usedTry,
  type SingleChange,
  type TreatmentSettings,
} from '../../../../core/shot'
import { useAppDispatch } from '../../store'
import { selectDocument } from '../../store/selectors'
import { shotActions } from '../../store/shot-slice'
import type { RootState } from '../../store/state'
import { stepTry } from './step-try'

const narrow = { minWidth: 0, px: 0.6, py: 0 } as const

interface TreatmentTriesProps {
  /** id of the settings */
  readonly treatment: string
  readonly name: string
  readonly count: number
  /** name of the try that the settings are; null where they are not kept */
  readonly used: string | null
}

/** Not drawn again while a number is dragged. */
export const TreatmentTries = memo(function TreatmentTries({ treatment, name, count, used }: TreatmentTriesProps) {
  const dispatch = useAppDispatch()
  const store = useStore<RootState>()
  const withSettings = (make: (settings: TreatmentSettings) => SingleChange | null) => () => {
    const settings = find(selectDocument(store.getState())?.treatments ?? { byId: {} }, treatment)
    const edit = settings && make(settings)
    if (edit) dispatch(shotActions.edited(edit))
  }
  const keep = withSettings((settings) => ({
    kind: 'keep-treatment-try',
    treatment,
    id: newId(),
    name: nextTreatmentTryName(settings),
  }))
  const forget = withSettings((settings) => {
    const own = usedTry(settings)
    return own ? { kind: 'remove-treatment-try', treatment, id: own.id } : null
  })
  return (
    <Stack direction="row" role="group" aria-label={`Tries of ${name}`} sx={{ alignItems: 'center', ml: -0.6 }}>
      {count > 0 && (
        <>
          <Button
            sx={narrow}
            aria-label={`The try before, of ${name}`}
            onClick={withSettings((settings) => stepTry(settings, -1))}
          >
            ‹
          </Button>
          <Typography variant="caption" sx={{ px: 0.5 }}>
            {used === null ? 'not kept' : `try ${used}`} of {count}
          </Typography>
          <Button
            sx={narrow}
            aria-label={`The next try of ${name}`}
            onClick={withSettings((settings) => stepTry(settings, 1))}
          >
            ›
          </Button>
        </>
      )}
      {used === null && (
        <Button sx={narrow} aria-label={`Keep these settings of ${name} as a try`} onClick={keep}>
          {count === 0 ? 'Keep as a try' : 'Keep'}
        </Button>
      )}
      {used !== null && (
        <Button sx={{ ...narrow, ml: 'auto' }} aria-label={`Forget try ${used} of ${name}`} onClick={forget}>
          Forget it
        </Button>
      )}
    </Stack>
  )
})
