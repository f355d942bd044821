/** The list of shots that the server knows. */

import Alert from '@mui/material/Alert'
import Box from '@mui/material/Box'
import Button from '@mui/material/Button'
import Link from '@mui/material/Link'
import Stack from '@mui/material/Stack'
import Typography from '@mui/material/Typography'
import { useCallback, useEffect, useState } from 'react'
import { Link as RouterLink } from 'react-router'
import type { OfferedShot, WorkStatus } from '../../../core/work'
import { listOfferedShots, listShots, listWork, makeDemoShot, thumbnailUrl, type ShotSummary } from '../api/client'
import { roughlyText } from '../work/durations'
import { WorkCorner } from '../work/work-corner'
import { WorkEntry } from '../work/work-entry'

const refreshMs = 3000

function rateText({ numerator, denominator }: ReadableShot['rate']): string {
  return `${Number((numerator / denominator).toFixed(3))} frames a second`
}

function frameCount({ frames }: ReadableShot): number {
  return frames.last - frames.first + 1
}

type ReadableShot = Extract<ShotSummary, { readonly fault: null }>

/** A shot whose document cannot be read stands in the list with its reason; the others are as they are. */
function UnreadableShot({ name, fault }: { name: string; fault: string }) {
  return (
    <Box component="article" aria-label={name} sx={{ p: 1.5, bgcolor: 'background.paper' }}>
      <Typography variant="h1" component="h2">
        {name}
      </Typography>
      <Alert severity="warning" variant="outlined" sx={{ mt: 1 }}>
        {fault}
      </Alert>
    </Box>
  )
}

function ShotEntry({ shot }: { shot: ReadableShot }) {
  const total = frameCount(shot)
  const arriving = shot.framesReady < total
  return (
    <Link component={RouterLink} to={`/shots/${shot.id}`} underline="none" color="inherit" aria-label={shot.name}>
      <Stack
        direction="row"
        spacing={3}
        sx={{ p: 1.5, bgcolor: 'background.paper', alignItems: 'center', '&:hover': { bgcolor: 'action.selected' } }}
      >
        <Box sx={{ width: 320, height: 180, bgcolor: 'background.default', flexShrink: 0 }}>
          {shot.framesReady > 0 && (
            <Box
              component="img"
              alt={`First frame of ${shot.name}`}
              src={thumbnailUrl(shot)}
              sx={{ width: '100%', height: '100%', objectFit: 'cover' }}
            />
          )}
        </Box>
        <Stack spacing={0.75}>
          <Typography variant="h1" component="h2">
            {shot.name}
          </Typography>
          <Typography color="textSecondary">
            Frames {shot.frames.first} to {shot.frames.last}, {rateText(shot.rate)}, {shot.frameSize.width} ×{' '}
            {shot.frameSize.height}
          </Typography>
          <Typography color="textSecondary">
            Revision {shot.revision}, saved {new Date(shot.updatedAt).toLocaleString()}
          </Typography>
          {arriving && (
            <Typography color="primary">
              {shot.framesReady === 0
                ? `None of ${total} frames has arrived yet.`
                : `${shot.framesReady} of ${total} frames have arrived; it can be opened now.`}
            </Typography>
          )}
        </Stack>
      </Stack>
    </Link>
  )
}

/** A demo shot that nobody can open yet. */
function OfferedEntry({ shot, work, onMake }: { shot: OfferedShot; work: WorkStatus | null; onMake: () => void }) {
  const { name, about, size, frames, seconds } = shot
  return (
    <Box component="article" aria-label={`${name}, not made yet`} sx={{ p: 1.5, bgcolor: 'background.paper' }}>
      <Stack direction="row" spacing={3} sx={{ alignItems: 'center' }}>
        <Stack spacing={0.75} sx={{ flex: 1 }}>
          <Typography variant="h1" component="h2">
            {name}
          </Typography>
          <Typography color="textSecondary">{about}</Typography>
          <Typography color="textSecondary">
            {frames} frames, {size.width} × {size.height}. The stand-in camera makes it in about {roughlyText(seconds)};
            it can be opened once the first frame is there.
          </Typography>
        </Stack>
        {!work && (
          <Button variant="outlined" onClick={onMake}>
            Make it
          </Button>
        )}
      </Stack>
      {work && <WorkEntry work={work} />}
    </Box>
  )
}

const listNothing: readonly WorkStatus[] = []

export function ShotList() {
  const [shots, setShots] = useState<readonly ShotSummary[] | null>(null)
  const [offered, setOffered] = useState<readonly OfferedShot[]>([])
  const [work, setWork] = useState(listNothing)
  const [complaints, setComplaints] = useState<readonly string[]>([])
  const read = useCallback(
    () =>
      Promise.all([listShots(), listOfferedShots(), listWork('')]).then(
        ([found, demo, works]) => {
          setShots(found.shots)
          setComplaints(found.complaints)
          setOffered(demo)
          setWork(works)
        },
        (error: Error) => setComplaints([error.message]),
      ),
    [],
  )
  useEffect(() => {
    void read()
    const timer = setInterval(() => void read(), refreshMs)
    return () => clearInterval(timer)
  }, [read])
  const make = (name: string) =>
    makeDemoShot(name).then(
      () => void read(),
      (error: Error) => setComplaints([error.message]),
    )
  const making = (name: string) =>
    work.find(({ kind, title, state }) => kind === 'demo-shot' && title.startsWith(`${name} `) && state !== 'done') ??
    null
  return (
    <Box sx={{ height: '100vh', overflow: 'auto' }}>
      <Stack spacing={2} sx={{ maxWidth: 960, mx: 'auto', p: 4 }}>
        <Stack direction="row" sx={{ justifyContent: 'space-between', alignItems: 'center' }}>
          <Typography variant="h1">Enkrasis</Typography>
          <WorkCorner work={work} />
        </Stack>
        <Typography color="textSecondary">
          Shots in the media folder. A shot appears here when its shot file does.
        </Typography>
        {complaints.map((text) => (
          <Alert key={text} severity="warning" variant="outlined">
            {text}
          </Alert>
        ))}
        {shots?.length === 0 && (
          <Typography>
            No shots yet. Put a shot file and its media into a folder below .data/media, or have a demo shot made.
          </Typography>
        )}
        {shots?.map((shot) =>
          shot.fault === null ? (
            <ShotEntry key={shot.id} shot={shot} />
          ) : (
            <UnreadableShot key={shot.id} name={shot.name} fault={shot.fault} />
          ),
        )}
        {offered.map((shot) => (
          <OfferedEntry key={shot.name} shot={shot} work={making(shot.name)} onMake={() => void make(shot.name)} />
        ))}
      </Stack>
    </Box>
  )
}
