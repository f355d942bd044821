/** Passes of a source by name, each with a way to make an element of it. */

import Box from '@mui/material/Box'
import Button from '@mui/material/Button'
import Stack from '@mui/material/Stack'
import Typography from '@mui/material/Typography'
import type { SourceReport } from '../../../../core/check'
import {
  childrenOf,
  lastRank,
  newBlend,
  newElement,
  newId,
  newTreatment,
  passInputs,
  type Source,
  type Use,
} from '../../../../core/shot'
import { useAppDispatch, useAppSelector } from '../../store'
import { selectShownShot } from '../../store/selectors'
import { shotActions } from '../../store/shot-slice'
import { viewChanged } from '../../store/view'

export function Passes({ source, report }: { source: Source; report: SourceReport | null }) {
  const dispatch = useAppDispatch()
  const shot = useAppSelector(selectShownShot)
  const parts = report?.header?.parts ?? []
  if (!shot || parts.length === 0) return null
  const add = (part: string | null, matte: boolean) => {
    const id = newId()
    const name = part === null ? source.name : `${source.name}, ${part}`
    const blend = newBlend(matte ? 'shadow' : 'over')
    const rank = lastRank(childrenOf(shot, null))
    const element = newElement(id, name, rank, blend, passInputs(source.id, part))
    const treatments = matte ? [] : [newTreatment('veil-and-gain', newId())]
    const uses = treatments.map((settings): Use => ({
      id: newId(),
      rank: lastRank([]),
      owner: { kind: 'element', id },
      treatment: settings.id,
      on: true,
      limit: null,
    }))
    dispatch(shotActions.edited({ kind: 'add-element', element, treatments, uses }))
    dispatch(shotActions.selected(id))
  }
  const show = (part: string | null, channels?: readonly string[]) =>
    dispatch(viewChanged({ looking: { shown: 'node', node: { kind: 'source', id: source.id, part, channels } } }))
  return (
    <Box>
      <Typography variant="body2">{parts.length === 1 ? 'Picture' : `${parts.length} passes`}</Typography>
      {parts.map(({ name, channels, dataWindow }, i) => (
        <Stack key={name ?? i} direction="row" sx={{ alignItems: 'center' }}>
          <Typography variant="caption" color="textSecondary" noWrap sx={{ flex: 1 }}>
            {name ?? 'colour'}: {channels.map((channel) => channel.name).join(' ')}, {dataWindow.width} x{' '}
            {dataWindow.height}
          </Typography>
          <Button
            sx={{ py: 0, minWidth: 0 }}
            aria-label={`Show ${name ?? 'the picture'} alone`}
            onClick={() => show(name, channels.length === 1 ? [channels[0].name] : undefined)}
          >
            Show
          </Button>
          <Button
            sx={{ py: 0, minWidth: 0 }}
            aria-label={`Add ${name ?? 'the picture'} as an element`}
            onClick={() => add(name, channels.length === 1)}
          >
            Add
          </Button>
        </Stack>
      ))}
    </Box>
  )
}
