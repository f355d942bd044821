/** The tracks of the shot, in the drawer: each opens its card. */

import Box from '@mui/material/Box'
import Button from '@mui/material/Button'
import ButtonBase from '@mui/material/ButtonBase'
import Typography from '@mui/material/Typography'
import { framesOfTrack } from '../../../../core/shot'
import { useAppDispatch, useAppSelector } from '../../store'
import { selectTrackId, selectTracks } from '../../store/selectors'
import { shotActions } from '../../store/shot-slice'
import { viewChanged } from '../../store/view'

export function TrackList({ wanted, onTool }: { wanted: string; onTool: () => void }) {
  const dispatch = useAppDispatch()
  const tracks = useAppSelector(selectTracks)
  const selected = useAppSelector(selectTrackId)
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
      </Box>
      {tracks
        .filter(({ name }) => name.toLowerCase().includes(wanted.toLowerCase()))
        .map((track) => {
          const { first, last } = framesOfTrack(track)
          return (
            <ButtonBase
              key={track.id}
              aria-pressed={track.id === selected}
              onClick={() =>
                dispatch(track.id === selected ? shotActions.sourceSelected(null) : shotActions.trackSelected(track.id))
              }
              sx={{
                ...{ display: 'flex', width: '100%', textAlign: 'left', gap: 0.75, px: 1.2, py: 0.3 },
                bgcolor: track.id === selected ? 'action.selected' : undefined,
                '&:hover': { bgcolor: 'action.selected' },
              }}
            >
              <Typography variant="body2" noWrap sx={{ flex: 1, minWidth: 0 }}>
                {track.name}
              </Typography>
              <Typography variant="caption" color="textSecondary">
                {first === last ? first : `${first} to ${last}`}
              </Typography>
            </ButtonBase>
          )
        })}
    </Box>
  )
}
