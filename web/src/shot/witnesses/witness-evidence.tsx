/** A witness in the evidence: both sides enlarged, and the drift between them. A click opens its card. */

import Box from '@mui/material/Box'
import ButtonBase from '@mui/material/ButtonBase'
import Stack from '@mui/material/Stack'
import Typography from '@mui/material/Typography'
import { useEffect, useRef } from 'react'
import type { Witness } from '../../../../core/shot'
import { useAppDispatch, useAppSelector } from '../../store'
import { selectVerdicts } from '../../store/selectors'
import { shotActions } from '../../store/shot-slice'
import { Patch } from '../picture/patch'
import { useSides } from './use-sides'
import { driftWords, verdictMarks, verdictWords } from './verdict-words'

/** Both patches and the drift, beside the picture as well as under it. */
const width = 188

export function WitnessEvidence({ witness }: { witness: Witness }) {
  const dispatch = useAppDispatch()
  const { id, name, purpose } = witness
  const sides = useSides(witness)
  const found = useAppSelector((state) => selectVerdicts(state).get(id))
  const selected = useAppSelector(({ shot: { selection } }) => selection.primary?.id === id)
  const place = useRef<HTMLButtonElement>(null)
  useEffect(() => {
    if (selected) place.current?.scrollIntoView({ block: 'nearest', inline: 'nearest' })
  }, [selected])
  const words = found ? verdictWords(found) : 'Being read.'
  return (
    <ButtonBase
      ref={place}
      aria-label={`Witness ${name}: ${words}`}
      aria-pressed={selected}
      onClick={() => dispatch(shotActions.thingSelected({ kind: 'witness', id }))}
      sx={{
        ...{
          position: 'relative',
          display: 'flex',
          gap: 0.75,
          width,
          flexShrink: 0,
          alignItems: 'flex-start',
          textAlign: 'left',
        },
        ...{ borderTop: 1, borderColor: selected ? 'primary.main' : 'transparent' },
      }}
    >
      <Patch region={sides.reference} step={sides.plate} />
      <Patch region={sides.adjusted} step={sides.element} />
      {/* Above the patches, which leave room for it. */}
      <Typography variant="caption" noWrap sx={{ position: 'absolute', top: 0, left: 0, right: 0 }}>
        {found ? verdictMarks[found.verdict] : '…'} {name}
      </Typography>
      <Stack sx={{ flex: 1, minWidth: 0, pt: '18px' }}>
        {found &&
          driftWords(found, purpose).map((text, c) => (
            <Box key={c} sx={{ fontSize: 11, lineHeight: '15px', textAlign: 'right', color: 'text.secondary' }}>
              {text}
            </Box>
          ))}
      </Stack>
    </ButtonBase>
  )
}
