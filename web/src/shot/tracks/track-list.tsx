/** The tracks of the shot, in the drawer: each opens its card. */

import Box from '@mui/material/Box'
import Button from '@mui/material/Button'
import ButtonBase from '@mui/material/ButtonBase'
import Typography from '@mui/material/Typography'
import { useRef, useState } from 'react'
import { useStore } from 'react-redux'
import { framesOfTrack, nameOfRegion, newCameraShake } from '../../../../core/shot'
import { useAppDispatch, useAppSelector } from '../../store'
import { selectDocument, selectFrame, selectTrackId, selectTracks } from '../../store/selectors'
import { shotActions } from '../../store/shot-slice'
import type { RootState } from '../../store/state'
import type { TrackFile } from './exchange'
import { saveText } from './save-text'
import { trackingActions } from '../../store/tracking'
import { viewChanged } from '../../store/view'

/** To a file of the browser's, and from one. */
function useExchange() {
  const dispatch = useAppDispatch()
  const store = useStore<RootState>()
  const [problem, setProblem] = useState<string | null>(null)
  return {
    problem,
    async save(as: TrackFile) {
      const shot = selectDocument(store.getState())
      if (!shot) return
      const { textOf, trackFiles } = await import('./exchange')
      const text = textOf(selectTracks(store.getState()), as)
      saveText(text, `${shot.name}_tracks.${as}`, trackFiles[as].type)
    },
    async read(file: File) {
      const shot = selectDocument(store.getState())
      if (!shot) return
      try {
        const { tracksIn } = await import('./exchange')
        dispatch(shotActions.edited(tracksIn(shot, await file.text(), file.name)))
        setProblem(null)
      } catch (error) {
        setProblem((error as Error).message)
      }
    },
  }
}

/** @returns adds it from the frame that is seen, tracks it, and opens its card */
function useCameraShake() {
  const dispatch = useAppDispatch()
  const store = useStore<RootState>()
  const busy = useAppSelector((state) => state.tracking.wanted !== null)
  return () => {
    const state = store.getState()
    const shot = selectDocument(state)
    if (!shot || busy) return
    const frame = selectFrame(state)
    const edit = newCameraShake(shot, frame)
    const [corner] = edit.changes.flatMap((change) => (change.kind === 'add-track' ? [change.track.id] : []))
    dispatch(shotActions.edited(edit))
    dispatch(shotActions.thingSelected({ kind: 'track', id: corner }))
    dispatch(trackingActions.wanted({ track: corner, frame, way: 'both' }))
  }
}

export function TrackList({ wanted, onTool }: { wanted: string; onTool: () => void }) {
  const dispatch = useAppDispatch()
  const tracks = useAppSelector(selectTracks)
  const selected = useAppSelector(selectTrackId)
  const { problem, save, read } = useExchange()
  const measureShake = useCameraShake()
  const chooser = useRef<HTMLInputElement>(null)
  return (
    <Box role="group" aria-label="Tracks" sx={{ borderTop: 1, borderColor: 'divider', pt: 0.5 }}>
      <Box sx={{ display: 'flex', alignItems: 'center', pl: 1.2, pr: 0.6 }}>
        <Typography variant="caption" color="textSecondary" sx={{ flex: 1 }}>
          {tracks.length === 0 ? 'No tracks yet' : 'Tracks'}
        </Typography>
        <Button
          onClick={() => {
            dispatch(viewChanged({ screen: { tool: 'track' } }))
            onTool()
          }}
        >
          Set points to track
        </Button>
        <Button
          onClick={() => {
            dispatch(viewChanged({ screen: { tool: 'region' } }))
            onTool()
          }}
        >
          Outline a region
        </Button>
      </Box>
      <Box sx={{ display: 'flex', px: 0.6 }}>
        <Button title="Follows up to 200 points all over the plate, from this frame both ways" onClick={measureShake}>
          Measure the camera’s shake
        </Button>
      </Box>
      {tracks
        .filter(({ name }) => name.toLowerCase().includes(wanted.toLowerCase()))
        // Of a region's corners, the first stands for all.
        .filter(({ region }) => !region || region.corner === 0)
        .map((track) => {
          const { first, last } = framesOfTrack(track)
          return (
            <ButtonBase
              key={track.id}
              aria-pressed={track.id === selected}
              onClick={() =>
                dispatch(
                  track.id === selected
                    ? shotActions.sourceSelected(null)
                    : shotActions.thingSelected({ kind: 'track', id: track.id }),
                )
              }
              sx={{
                ...{ display: 'flex', width: '100%', textAlign: 'left', gap: 0.75, px: 1.2, py: 0.3 },
                bgcolor: track.id === selected ? 'action.selected' : undefined,
                '&:hover': { bgcolor: 'action.selected' },
              }}
            >
              <Typography variant="body2" noWrap sx={{ flex: 1, minWidth: 0 }}>
                {track.region ? nameOfRegion(track) : track.name}
              </Typography>
              <Typography variant="caption" color="textSecondary">
                {first === last ? first : `${first} to ${last}`}
              </Typography>
            </ButtonBase>
          )
        })}
      <Box sx={{ display: 'flex', px: 0.6 }}>
        <Button onClick={() => chooser.current?.click()}>Import tracks …</Button>
        {tracks.length > 0 && (
          <>
            <Button title="A line for each frame of each track" onClick={() => void save('csv')}>
              Export as CSV
            </Button>
            <Button onClick={() => void save('json')}>As JSON</Button>
          </>
        )}
        <input
          ref={chooser}
          type="file"
          accept=".csv,.json,text/csv,application/json"
          aria-label="A file of tracks"
          hidden
          onChange={({ target }) => {
            const [file] = target.files ?? []
            if (file) void read(file)
            // The same file may be chosen again.
            target.value = ''
          }}
        />
      </Box>
      {problem !== null && (
        <Typography role="alert" variant="caption" component="div" sx={{ px: 1.2 }}>
          {problem}
        </Typography>
      )}
    </Box>
  )
}
