/** The card of the finish: what is done to the whole picture, at the end of the light path. */

import Stack from '@mui/material/Stack'
import Typography from '@mui/material/Typography'
import { find, usesOf, type Use } from '../../../../core/shot'
import { useAppSelector } from '../../store'
import { selectShownShot } from '../../store/selectors'
import { AddTreatment } from './add-treatment'
import { Problems } from './problems'
import { Treatment } from './treatment'

const noUses: readonly Use[] = []
const finish = { kind: 'finish' } as const

export function FinishCard() {
  const uses = useAppSelector((state) => {
    const shot = selectShownShot(state)
    return shot ? usesOf(shot, finish) : noUses
  })
  const settings = useAppSelector((state) => selectShownShot(state)?.treatments)
  return (
    <Stack spacing={1} sx={{ p: 1.5, overflow: 'auto', flex: 1 }}>
      <Typography variant="h2">Finish</Typography>
      <Typography variant="caption" color="textSecondary">
        Acts on the whole picture, also on the plate, and is in what is delivered. The view sentence below the picture
        changes only what you see.
      </Typography>
      {uses.map((use) => {
        const own = settings && find(settings, use.treatment)
        return own ? (
          <Treatment key={use.id} use={use} settings={own} open />
        ) : (
          <Problems key={use.id} kind="treatment" ids={[use.id]} />
        )
      })}
      <AddTreatment owner={finish} />
    </Stack>
  )
}
