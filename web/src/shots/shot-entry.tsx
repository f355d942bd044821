/** One shot of the list: its picture, what it is, who changed it last, and what can be done with it. */

import Box from '@mui/material/Box'
import Link from '@mui/material/Link'
import Stack from '@mui/material/Stack'
import Typography from '@mui/material/Typography'
import { Link as RouterLink } from 'react-router'
import { thumbnailUrl, type ShotSummary } from '../api/client'
import { ShotMenu } from './shot-menu'

type ReadableShot = Extract<ShotSummary, { readonly fault: null }>

export const entryHeight = 84
const changedAt = new Intl.DateTimeFormat(undefined, { dateStyle: 'medium', timeStyle: 'short' })
const picture = { width: 128, height: 72 } as const

const rateText = ({ numerator, denominator }: ReadableShot['rate']) =>
  `${Number((numerator / denominator).toFixed(3))} frames a second`

function About({ shot }: { shot: ReadableShot }) {
  const total = shot.frames.last - shot.frames.first + 1
  const arriving = shot.framesReady < total && shot.framesReady !== 1
  return (
    <>
      <Typography variant="body2" color="textSecondary" noWrap>
        Frames {shot.frames.first} to {shot.frames.last}, {rateText(shot.rate)}, {shot.frameSize.width} ×{' '}
        {shot.frameSize.height}
      </Typography>
      {arriving && (
        <Typography variant="body2" color="primary" noWrap>
          {shot.framesReady === 0
            ? `None of ${total} frames has arrived yet.`
            : `${shot.framesReady} of ${total} frames have arrived; it can be opened now.`}
        </Typography>
      )}
    </>
  )
}

/** A shot whose document cannot be read stands in the list with its reason; the others are as they are. */
export function ShotEntry({ shot, onChanged }: { shot: ShotSummary; onChanged: () => void }) {
  const { id, name, fault, author, revision, updatedAt } = shot
  const shown = (
    <>
      <Box sx={{ ...picture, bgcolor: 'background.default', flexShrink: 0 }}>
        {fault === null && shot.framesReady > 0 && (
          <img
            alt={`First frame of ${name}`}
            src={thumbnailUrl(shot)}
            loading="lazy"
            {...picture}
            style={{ objectFit: 'cover', display: 'block' }}
          />
        )}
      </Box>
      <Box sx={{ flex: 1, minWidth: 0 }}>
        <Typography variant="h2" component="h3" noWrap>
          {name}
        </Typography>
        {fault === null ? (
          <About shot={shot} />
        ) : (
          <Typography variant="body2" role="alert" sx={{ maxHeight: 40, overflow: 'auto' }}>
            {fault}
          </Typography>
        )}
      </Box>
      <Box sx={{ flexShrink: 0, width: 200, textAlign: 'right' }}>
        <Typography variant="body2" noWrap>
          {changedAt.format(new Date(updatedAt))}
        </Typography>
        <Typography variant="body2" color="textSecondary" noWrap>
          revision {revision}
          {author === null ? '' : `, ${author}`}
        </Typography>
      </Box>
    </>
  )
  const row = { display: 'flex', alignItems: 'center', gap: 2, flex: 1, minWidth: 0 } as const
  return (
    <Stack
      direction="row"
      component="article"
      aria-label={name}
      sx={{ height: entryHeight - 4, px: 1, bgcolor: 'background.paper', alignItems: 'center', gap: 1 }}
    >
      {fault === null && !shot.removed ? (
        <Link
          component={RouterLink}
          to={`/shots/${id}`}
          underline="none"
          color="inherit"
          aria-label={name}
          sx={{ ...row, '&:hover h3': { textDecoration: 'underline' } }}
        >
          {shown}
        </Link>
      ) : (
        <Box sx={row}>{shown}</Box>
      )}
      <ShotMenu shot={shot} onChanged={onChanged} />
    </Stack>
  )
}
