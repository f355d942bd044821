/**
 * A witness in the evidence: both sides enlarged, and the drift between them. A click opens its card.
 *
 * While something is dragged only what changes is drawn again: the pixels of the patches, and the numbers.
 */

import Box from '@mui/material/Box'
import ButtonBase from '@mui/material/ButtonBase'
import Typography from '@mui/material/Typography'
import { memo, useEffect, useRef } from 'react'
import type { Judged } from '../../../../core/match'
import type { Witness } from '../../../../core/shot'
import { useAppDispatch, useAppSelector } from '../../store'
import { selectVerdicts } from '../../store/selectors'
import { shotActions } from '../../store/shot-slice'
import type { RootState } from '../../store/state'
import { Patch } from '../picture/patch'
import { useSides } from './use-sides'
import { driftWords, verdictMarks, verdictWords } from './verdict-words'

/** Both patches and the drift, beside the picture as well as under it. */
const width = 188

export const WitnessEvidence = memo(function WitnessEvidence({ witness }: { witness: Witness }) {
  const dispatch = useAppDispatch()
  const { id, name } = witness
  const says = (words: (found: Judged) => string, otherwise: string) => (state: RootState) => {
    const found = selectVerdicts(state).get(id)
    return found ? words(found) : otherwise
  }
  const words = useAppSelector(says(verdictWords, 'Being read.'))
  const mark = useAppSelector(says(({ verdict }) => verdictMarks[verdict], '…'))
  const selected = useAppSelector(({ shot: { selection } }) => selection.primary?.id === id)
  const place = useRef<HTMLButtonElement>(null)
  useEffect(() => {
    if (selected) place.current?.scrollIntoView({ block: 'nearest', inline: 'nearest' })
  }, [selected])
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
      <Patches witness={witness} />
      {/* Above the patches, which leave room for it. */}
      <Typography variant="caption" noWrap sx={{ position: 'absolute', top: 0, left: 0, right: 0 }}>
        {mark} {name}
      </Typography>
      <Box
        sx={{
          ...{ flex: 1, minWidth: 0, pt: '18px', whiteSpace: 'pre' },
          ...{ fontSize: 11, lineHeight: '15px', textAlign: 'right', color: 'text.secondary' },
        }}
      >
        <Drift witness={witness} />
      </Box>
    </ButtonBase>
  )
})

const Patches = memo(function Patches({ witness }: { witness: Witness }) {
  const sides = useSides(witness)
  return (
    <>
      <Patch region={sides.reference} step={sides.plate} />
      <Patch region={sides.adjusted} step={sides.element} />
    </>
  )
})

/** A line for each of its parts. */
const Drift = memo(function Drift({ witness: { id, purpose } }: { witness: Witness }) {
  return useAppSelector((state) => {
    const found = selectVerdicts(state).get(id)
    return found ? driftWords(found, purpose).join('\n') : ''
  })
})
