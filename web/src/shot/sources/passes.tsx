/** Passes of a source by name, each with a way to make an element of it. */

import Box from '@mui/material/Box'
import Button from '@mui/material/Button'
import Stack from '@mui/material/Stack'
import Typography from '@mui/material/Typography'
import type { SourceReport } from '../../../../core/check'
import { newBlend, newTreatment, type Source } from '../../../../core/shot'
import { useAppDispatch, useAppSelector } from '../../store'
import { selectShownShot } from '../../store/selectors'
import { shotActions } from '../../store/shot-slice'

export function Passes({ source, report }: { source: Source; report: SourceReport | null }) {
  const dispatch = useAppDispatch()
  const shot = useAppSelector(selectShownShot)
  const parts = report?.header?.parts ?? []
  if (!shot || parts.length === 0) return null
  const add = (part: string | null, matte: boolean) => {
    const stem = `${source.id}${part === null ? '' : `-${part.toLowerCase().replace(/[^a-z0-9]+/g, '-')}`}`
    let id = stem
    for (let n = 2; shot.elements.some((element) => element.id === id); n++) id = `${stem}-${n}`
    const name = part === null ? source.name : `${source.name}, ${part}`
    const blend = newBlend(matte ? 'shadow' : 'over')
    const treatments = matte ? [] : [newTreatment('veil-and-gain', 'match')]
    const element = { id, name, source: source.id, part, visible: true, blend, treatments }
    dispatch(shotActions.edited({ kind: 'add-element', element }))
    dispatch(shotActions.selected(id))
  }
  return (
    <Box>
      <Typography variant="body2">{parts.length === 1 ? 'Picture' : `${parts.length} passes`}</Typography>
      {parts.map(({ name, channels, dataWindow }, i) => (
        <Stack key={name ?? i} direction="row" sx={{ alignItems: 'center' }}>
          <Typography variant="caption" color="textSecondary" noWrap sx={{ flex: 1 }}>
            {name ?? 'colour'}: {channels.map((channel) => channel.name).join(' ')}, {dataWindow.width} x{' '}
            {dataWindow.height}
          </Typography>
          <Button sx={{ py: 0, minWidth: 0 }} onClick={() => add(name, channels.length === 1)}>
            Add
          </Button>
        </Stack>
      ))}
    </Box>
  )
}
