/** The cameras of a source that is a camera file, and tracks of what they see: its points and its planes. */

import Box from '@mui/material/Box'
import Button from '@mui/material/Button'
import MenuItem from '@mui/material/MenuItem'
import Stack from '@mui/material/Stack'
import TextField from '@mui/material/TextField'
import Typography from '@mui/material/Typography'
import { useState } from 'react'
import type { SourceReport } from '../../../../core/check'
import {
  rankBetween,
  rectangleThrough,
  regionOfRectangle,
  trackOfPlace,
  type Change,
  type SolvedScene,
} from '../../../../core/shot'
import { useAppDispatch, useAppSelector } from '../../store'
import { sceneActions } from '../../store/scene'
import { selectDocument } from '../../store/selectors'
import { shotActions } from '../../store/shot-slice'
import { useSolvedScene } from './use-solved-scene'

export function Cameras({ report }: { readonly report: SourceReport | null }) {
  const cameras = report?.cameras
  const { scene, problem } = useSolvedScene()
  return (
    <Stack spacing={1}>
      <Box>
        {cameras?.map(({ name, heightDegrees, moves }, i) => (
          <Typography key={i} variant="body2">
            {name}: {heightDegrees === null ? 'without perspective' : `sees ${heightDegrees.toFixed(2)}° of height`},{' '}
            {moves ? 'moves' : 'stands still'}
          </Typography>
        ))}
      </Box>
      {problem !== null && (
        <Typography role="alert" variant="body2" color="error">
          {problem}
        </Typography>
      )}
      {scene && <Scene scene={scene} />}
    </Stack>
  )
}

function Scene({ scene }: { readonly scene: SolvedScene }) {
  const dispatch = useAppDispatch()
  const shot = useAppSelector(selectDocument)
  const { camera, chosen } = useAppSelector((state) => state.scene)
  const [said, setSaid] = useState<string | null>(null)
  if (!shot) return null
  const { name, poses } = scene.cameras[camera] ?? scene.cameras[0]
  const add = (change: Change | null, refused: string) => {
    setSaid(change ? null : refused)
    if (change) dispatch(shotActions.edited(change))
  }
  const places = chosen.map((i) => scene.points[i].place)
  const trackChosen = () => {
    let rank: string | null = null
    const tracks = chosen.flatMap((i) => {
      const one = trackOfPlace(shot, poses, scene.points[i].name, scene.points[i].place)
      if (one?.kind !== 'add-track') return []
      // Each is put behind those that are there; among themselves they keep the order in which they were chosen.
      rank = rank === null ? one.track.rank : rankBetween(rank, null)
      return [{ ...one, track: { ...one.track, rank } }]
    })
    const label = tracks.length === 1 ? `Add track ${tracks[0].track.name}` : `Add ${tracks.length} tracks`
    add(tracks.length > 0 ? { kind: 'together', changes: tracks, label } : null, 'No frame of the shot sees it.')
    if (tracks.length > 0) dispatch(sceneActions.cleared())
  }
  const planeThrough = () => {
    const corners = rectangleThrough(places)
    if (!corners) return setSaid('These points lie in a line: choose one beside it.')
    add(regionOfRectangle(shot, poses, 'Plane', corners), 'No frame of the shot sees all of it.')
    dispatch(sceneActions.cleared())
  }
  return (
    <Stack spacing={1} sx={{ alignItems: 'flex-start' }}>
      {scene.cameras.length > 1 && (
        <TextField
          select
          fullWidth
          size="small"
          label="Seen by"
          value={camera}
          onChange={({ target }) => dispatch(sceneActions.cameraChosen(Number(target.value)))}
        >
          {scene.cameras.map((one, i) => (
            <MenuItem key={i} value={i}>
              {one.name}
            </MenuItem>
          ))}
        </TextField>
      )}
      <Typography variant="caption" color="textSecondary">
        {scene.saysFrames
          ? 'The file says on which frames its keys lie.'
          : `The file does not say on which frames its keys lie: its first is taken as frame ${shot.frames.first}.`}
      </Typography>
      <Box>
        <Typography variant="body2">
          {scene.points.length === 0 ? 'No points of the scene in it' : `${scene.points.length} points of the scene`}
        </Typography>
        {scene.points.length > 0 && (
          <>
            <Typography variant="caption" color="textSecondary" component="div">
              {chosen.length === 0
                ? `Choose them on the picture, where ${name} sees them.`
                : `${chosen.length} chosen. A plane needs three, not in a line.`}
            </Typography>
            <Button sx={{ ml: -0.6, display: 'block' }} disabled={chosen.length === 0} onClick={trackChosen}>
              {chosen.length > 1 ? `Make ${chosen.length} tracks` : 'Make it a track'}
            </Button>
            <Button sx={{ ml: -0.6, display: 'block' }} disabled={chosen.length < 3} onClick={planeThrough}>
              Make a plane through them
            </Button>
          </>
        )}
      </Box>
      {scene.planes.map(({ name: plane, corners }, i) => (
        <Stack key={i} direction="row" spacing={0.5} sx={{ alignItems: 'center', width: '100%' }}>
          <Typography variant="body2" noWrap sx={{ flex: 1 }}>
            {plane}, flat
          </Typography>
          <Button
            onClick={() =>
              add(regionOfRectangle(shot, poses, plane, corners), `No frame of the shot sees all of ${plane}.`)
            }
          >
            Make it a plane
          </Button>
        </Stack>
      ))}
      {said !== null && (
        <Typography role="status" variant="caption">
          {said}
        </Typography>
      )}
      <Typography variant="caption" color="textSecondary">
        Tracks and planes made here lie where the camera sees them; elements, mattes and samples are pinned to them.
        They stay as they are when the file changes.
      </Typography>
    </Stack>
  )
}
