/** What is taken to be true of a source: each claim in three voices, with what you say in place. */

import Box from '@mui/material/Box'
import Button from '@mui/material/Button'
import Stack from '@mui/material/Stack'
import Typography from '@mui/material/Typography'
import { lazy, Suspense, useState } from 'react'
import { voicesOf, type SourceReport, type Voices } from '../../../../core/check'
import { encodingNames, encodings, primaries, primariesNames } from '../../../../core/colour'
import type { Change, Claims, Shot, Source, SourceChanges } from '../../../../core/shot'
import { useAppDispatch } from '../../store'
import { shotActions } from '../../store/shot-slice'
import { Choose, Claim, voiceColumns, WholeNumber } from './claim-fields'

const Wedge = lazy(() => import('./wedge').then((module) => ({ default: module.Wedge })))

const encodingChoices = encodingNames.map((value) => ({ value, text: encodings[value].label }))
const primariesChoices = primariesNames.map((value) => ({ value, text: primaries[value].label }))
const alphaChoices = (['none', 'premultiplied', 'straight'] as const).map((value) => ({ value, text: value }))
const missingChoices = [
  { value: 'stop', text: 'stop with an error' },
  { value: 'repeat', text: 'repeat the one before' },
  { value: 'empty', text: 'leave empty' },
] as const
const greenChoices = [
  { value: 'down', text: 'downwards' },
  { value: 'up', text: 'upwards' },
] as const
const enlargeChoices = [
  { value: 1, text: 'full size' },
  { value: 2, text: 'half size, enlarged' },
  { value: 4, text: 'quarter size, enlarged' },
] as const

interface SourceClaimsProps {
  readonly source: Source
  readonly shot: Shot
  readonly report: SourceReport | null
}

/** @param isPicture a table has an encoding and primaries that it takes, and nothing else */
export function SourceClaims({ isPicture, ...props }: SourceClaimsProps & { readonly isPicture: boolean }) {
  const { source, shot, report } = props
  const dispatch = useAppDispatch()
  const [wedge, setWedge] = useState(false)
  const edit = (one: Change) => dispatch(shotActions.edited(one))
  const claim = (claims: Partial<Claims>) => edit({ kind: 'set-claims', source: source.id, claims })
  const voices = voicesOf(shot, source, report)
  const of = (name: Voices['claim']) => voices.find((one) => one.claim === name)
  const { claims } = source
  return (
    <>
      <Box
        sx={{
          display: 'grid',
          gridTemplateColumns: voiceColumns,
          columnGap: 0.75,
          borderTop: 1,
          borderColor: 'divider',
          pt: 1,
        }}
      >
        {['file says', 'pixels say', 'you say'].map((voice) => (
          <Typography key={voice} variant="caption" color="textSecondary">
            {voice}
          </Typography>
        ))}
      </Box>
      <Claim
        voices={of('encoding')}
        action={
          isPicture && (
            <Button sx={{ py: 0, mr: -0.6 }} onClick={() => setWedge(true)}>
              Wedge …
            </Button>
          )
        }
      >
        <Choose
          label="Encoding"
          value={claims.encoding}
          choices={encodingChoices}
          onChoose={(encoding) => claim({ encoding })}
        />
      </Claim>
      <Claim voices={of('primaries')}>
        <Choose
          label="Primaries"
          value={claims.primaries}
          choices={primariesChoices}
          onChoose={(name) => claim({ primaries: name })}
        />
      </Claim>
      {isPicture && <PictureClaims {...props} of={of} edit={edit} />}
      <Suspense>{wedge && <Wedge source={source} onClose={() => setWedge(false)} />}</Suspense>
    </>
  )
}

/** What only pictures claim: alpha, time, and where their pixels lie. */
function PictureClaims({
  source,
  of,
  edit,
}: SourceClaimsProps & {
  readonly of: (name: Voices['claim']) => Voices | undefined
  readonly edit: (one: Change) => void
}) {
  const change = (changes: { readonly [Name in keyof SourceChanges]: SourceChanges[Name] | null }) =>
    edit({ kind: 'set-source', source: source.id, changes })
  const { claims, frames, offset = 0, missing = 'stop', enlarge = 1 } = source
  return (
    <>
      <Claim voices={of('alpha')}>
        <Choose
          label="Alpha"
          value={claims.alpha}
          choices={alphaChoices}
          onChoose={(alpha) => edit({ kind: 'set-claims', source: source.id, claims: { alpha } })}
        />
      </Claim>
      <Claim voices={of('rate')} />
      <Claim voices={of('range')} />
      {frames && (
        <Stack direction="row" spacing={1}>
          <WholeNumber
            label="First file"
            value={frames.first}
            onSet={(first) => first <= frames.last && change({ frames: { ...frames, first } })}
          />
          <WholeNumber
            label="Last file"
            value={frames.last}
            onSet={(last) => last >= frames.first && change({ frames: { ...frames, last } })}
          />
          <WholeNumber label="Offset" value={offset} onSet={(by) => change({ offset: by === 0 ? null : by })} />
        </Stack>
      )}
      {frames && (
        <Box>
          <Typography variant="body2">a missing frame</Typography>
          <Choose
            label="A missing frame"
            value={missing}
            choices={missingChoices}
            onChoose={(value) => change({ missing: value === 'stop' ? null : value })}
          />
        </Box>
      )}
      <Claim voices={of('size')}>
        <Choose
          label="Rendered at"
          value={enlarge}
          choices={enlargeChoices}
          onChoose={(value) => change({ enlarge: value === 1 ? null : value })}
        />
      </Claim>
      <Claim voices={of('pixel aspect')} />
      <Claim voices={of('green grows')}>
        <Choose
          label="Green grows"
          value={source.greenUp ? 'up' : 'down'}
          choices={greenChoices}
          onChoose={(value) => change({ greenUp: value === 'up' ? true : null })}
        />
      </Claim>
    </>
  )
}
