/** The card of a track: what is tracked, how it is looked for, and how well it was found. */

import Button from '@mui/material/Button'
import MenuItem from '@mui/material/MenuItem'
import Stack from '@mui/material/Stack'
import TextField from '@mui/material/TextField'
import Typography from '@mui/material/Typography'
import {
  patternModels,
  regionModels,
  regionWays,
  type PatternModel,
  type RegionWay,
} from '../../../../core/track/pattern-models'
import {
  canContinueBy,
  continuedBy,
  cornersOfRegion,
  handSet,
  lensOver,
  nameOfRegion,
  usersOf,
  type Change,
  type SetTrack,
  type Track,
  type TrackPoint,
  type TrackingWay,
} from '../../../../core/shot'
import { useAppDispatch, useAppSelector } from '../../store'
import { selectDocument, selectDrawnMattes, selectFrame, selectTracks } from '../../store/selectors'
import { shotActions } from '../../store/shot-slice'
import { trackingActions } from '../../store/tracking'
import { HoldStill } from '../card/hold-still'
import { LabelledNumber } from '../card/labelled-number'
import { RenamedHeading } from '../card/renamed-heading'
import { placedByHand } from '../tools/drawings'
import { AlignedPatch } from './aligned-patch'
import { PlaneOfFour } from './plane-of-four'
import { PlaneRows } from './plane-rows'
import { knownWords, lostWords, modelWords, placeWords } from './track-words'

const enlarged = 96

export function TrackCard({ track }: { track: Track }) {
  const dispatch = useAppDispatch()
  const { id, name } = track
  const corners = useCorners(track)
  const known = corners ? nameOfRegion(track) : name
  const set = (changes: SetTrack['changes']) => dispatch(shotActions.edited({ kind: 'set-track', track: id, changes }))
  return (
    <Stack spacing={1} sx={{ p: 1.5, overflow: 'auto', flex: 1, minHeight: 0 }}>
      <RenamedHeading
        title={known}
        name={known}
        onName={(changed) =>
          corners ? dispatch(shotActions.edited(renamed(corners, changed))) : set({ name: changed })
        }
      />
      <Tracking track={track} />
      {!track.region && <ContinueBy track={track} />}
      <HoldStill />
      <OnThisFrame track={track} />
      {track.region ? <RegionLookedFor region={track.region} /> : <LookedFor track={track} onSet={set} />}
      {!track.region && <PlaneOfFour key={id} track={track} />}
      <Users track={track} />
      <Button
        sx={{ alignSelf: 'flex-start', ml: -0.6 }}
        onClick={() => {
          dispatch(shotActions.edited(removal(track, corners)))
          // The element that was selected before comes back.
          dispatch(shotActions.sourceSelected(null))
        }}
      >
        {track.region?.by ? 'Remove this camera shake' : corners ? 'Remove this region' : 'Remove this track'}
      </Button>
    </Stack>
  )
}

/** All corners of the region that a track is a corner of. */
function useCorners({ region }: Track): readonly Track[] | null {
  const shot = useAppSelector(selectDocument)
  return shot && region ? cornersOfRegion(shot, region.id) : null
}

const renamed = (corners: readonly Track[], name: string): Change => ({
  kind: 'together',
  changes: corners.map((one, i) => ({
    ...{ kind: 'set-track', track: one.id },
    changes: { name: `${name}, corner ${i + 1}` },
  })),
  label: `Rename ${nameOfRegion(corners[0]).toLowerCase()}`,
})

const removal = ({ id }: Track, corners: readonly Track[] | null): Change =>
  corners
    ? {
        kind: 'together',
        changes: corners.map((one) => ({ kind: 'remove-track', track: one.id })),
        label: `Remove ${nameOfRegion(corners[0]).toLowerCase()}`,
      }
    : { kind: 'remove-track', track: id }

/** How the region may change, for all of its corners. */
function RegionLookedFor({ region: { id, model, by, leavesOut } }: { region: NonNullable<Track['region']> }) {
  const dispatch = useAppDispatch()
  const corners = useAppSelector((state) => {
    const shot = selectDocument(state)
    return shot ? cornersOfRegion(shot, id) : null
  })
  const behindLens = useAppSelector((state) => {
    const shot = selectDocument(state)
    return shot !== null && lensOver(shot, null) !== null
  })
  const set = (changes: Pick<SetTrack['changes'], 'regionModel' | 'leavesOut' | 'plane'>) =>
    corners &&
    dispatch(
      shotActions.edited({
        kind: 'together',
        changes: corners.map((one) => ({ kind: 'set-track', track: one.id, changes })),
        label: `How ${nameOfRegion(corners[0]).toLowerCase()} is looked for`,
      }),
    )
  return (
    <>
      <TextField
        select
        size="small"
        variant="standard"
        label={by ? 'The frame' : 'The region'}
        value={model}
        onChange={({ target }) => set({ regionModel: target.value as RegionWay })}
      >
        {(by ? regionModels : regionWays).map((one) => (
          <MenuItem key={one} value={one} dense>
            {modelWords[one]}
          </MenuItem>
        ))}
      </TextField>
      {corners && !by && <LeftOut chosen={leavesOut} onChoose={(matte) => set({ leavesOut: matte })} />}
      {corners && !by && <PlaneRows corners={corners} onSet={(plane) => set({ plane })} />}
      <Typography variant="caption" color="textSecondary">
        {!corners
          ? 'A corner of it was removed, so it cannot be tracked any more.'
          : by
            ? 'Told by up to 200 points all over the plate, each against the frame where it began. What moves by itself is outvoted. The four corners show how the frame moves; pin or stabilise by them.'
            : 'Always looked for as it was outlined, so it does not creep away. Move a corner on that frame to outline it anew.'}
        {corners && behindLens && ' The lens of the glass is taken into account.'}
      </Typography>
    </>
  )
}

/** A drawn matte whose inside is no part of the region: what stands in front of it, or moves by itself. */
function LeftOut({ chosen = '', onChoose }: { chosen?: string; onChoose: (matte: string | null) => void }) {
  const mattes = useAppSelector(selectDrawnMattes)
  const gone = chosen !== '' && mattes.every(({ id }) => id !== chosen)
  if (mattes.length === 0 && !gone) return null
  return (
    <TextField
      select
      size="small"
      variant="standard"
      label="Left out of it"
      helperText={
        gone
          ? 'The matte that was left out is gone: nothing is left out.'
          : 'What the matte covers where the region was outlined. Track again after a change.'
      }
      error={gone}
      slotProps={{ select: { displayEmpty: true }, inputLabel: { shrink: true } }}
      value={gone ? '' : chosen}
      onChange={({ target }) => onChoose(target.value === '' ? null : target.value)}
    >
      <MenuItem value="" dense>
        nothing
      </MenuItem>
      {mattes.map(({ id, name }) => (
        <MenuItem key={id} value={id} dense>
          {name}
        </MenuItem>
      ))}
    </TextField>
  )
}

const ways: readonly { readonly way: TrackingWay; readonly label: string }[] = [
  { way: 'backward', label: 'Track back' },
  { way: 'forward', label: 'Track on' },
  { way: 'both', label: 'Both ways' },
]

/** What finds it, and what is known of it. */
function Tracking({ track }: { track: Track }) {
  const dispatch = useAppDispatch()
  const frame = useAppSelector(selectFrame)
  const frames = useAppSelector((state) => selectDocument(state)?.frames)
  const { wanted, found, problem } = useAppSelector((state) => state.tracking)
  const busy = wanted?.track === track.id
  return (
    <>
      <Stack direction="row" sx={{ ml: -0.6 }}>
        {ways.map(({ way, label }) => (
          <Button
            key={way}
            disabled={wanted !== null}
            sx={{ minWidth: 0 }}
            onClick={() => dispatch(trackingActions.wanted({ track: track.id, frame, way }))}
          >
            {label}
          </Button>
        ))}
      </Stack>
      <Typography variant="caption" role="status" color="textSecondary">
        {busy ? `Tracking: ${found} frames found. Any key stops, and keeps them.` : frames && knownWords(track, frames)}
      </Typography>
      {!busy &&
        lostWords(track).map((line) => (
          <Typography key={line} variant="caption">
            {line}
          </Typography>
        ))}
      {!busy && problem?.track === track.id && (
        <Typography variant="caption" role="alert">
          {problem.sentence}
        </Typography>
      )}
    </>
  )
}

/** Another track by which it goes on where it is not known, as far from it as on this frame. */
function ContinueBy({ track }: { track: Track }) {
  const dispatch = useAppDispatch()
  const frame = useAppSelector(selectFrame)
  const frames = useAppSelector((state) => selectDocument(state)?.frames)
  const tracks = useAppSelector(selectTracks)
  const others = frames ? tracks.filter((one) => canContinueBy(track, one, frame, frames)) : []
  if (!frames || others.length === 0) return null
  return (
    <TextField
      select
      size="small"
      variant="standard"
      label="Where it is not known, go on by"
      helperText="As far from that one as on this frame. Choose one that lies near."
      value=""
      onChange={({ target }) => {
        const other = others.find(({ id }) => id === target.value)
        const edit = other && continuedBy(track, other, frame, frames)
        if (edit)
          dispatch(
            shotActions.edited({ kind: 'together', changes: [edit], label: `${track.name} goes on by ${other.name}` }),
          )
      }}
    >
      {others.map(({ id, name }) => (
        <MenuItem key={id} value={id} dense>
          {name}
        </MenuItem>
      ))}
    </TextField>
  )
}

/** The pattern as it was set, and as it is found on this frame, at one scale. */
function OnThisFrame({ track }: { track: Track }) {
  const dispatch = useAppDispatch()
  const frame = useAppSelector(selectFrame)
  const point = (track.points as Record<string, TrackPoint | undefined>)[frame]
  const set = handSet(track)
  const reference = set.findLast((one) => one <= frame) ?? set.at(0)
  const from = reference === undefined ? undefined : track.points[reference]
  const { radius } = track
  return (
    <>
      <Stack direction="row" spacing={1}>
        {from && !track.region && (
          <Stack>
            <AlignedPatch frame={reference as number} x={from.x} y={from.y} radius={radius} side={enlarged} />
            <Typography variant="caption" color="textSecondary">
              set on {reference}
            </Typography>
          </Stack>
        )}
        {point && !track.region && frame !== reference && (
          <Stack>
            <AlignedPatch frame={frame} x={point.x} y={point.y} radius={radius} side={enlarged} />
            <Typography variant="caption" color="textSecondary">
              found on {frame}
            </Typography>
          </Stack>
        )}
      </Stack>
      <Typography variant="body2">{point ? placeWords(point) : 'Not known on this frame.'}</Typography>
      {point && 'likeness' in point && (
        <Typography variant="caption" color="textSecondary">
          {track.region
            ? `${Math.round(100 * point.likeness)} % of ${track.region.by ? 'the points agree' : 'it agrees'}`
            : `Likeness ${point.likeness.toFixed(2)}`}
        </Typography>
      )}
      {point && 'byHand' in point && set.length > 1 && (
        <Button
          sx={{ alignSelf: 'flex-start', ml: -0.6 }}
          onClick={() =>
            dispatch(shotActions.edited({ kind: 'set-track-points', track: track.id, points: { [frame]: null } }))
          }
        >
          Forget what was set here
        </Button>
      )}
      {!point && (
        <Button
          sx={{ alignSelf: 'flex-start', ml: -0.6 }}
          onClick={() => {
            const near = nearest(track, frame)
            dispatch(shotActions.edited(placedByHand(track.id, frame, near.x, near.y)))
          }}
        >
          Set it by hand here
        </Button>
      )}
    </>
  )
}

/** Its place on the frame nearest to this one. */
function nearest({ points }: Track, frame: number): TrackPoint {
  const [first, ...more] = Object.keys(points).map(Number)
  return points[more.reduce((best, one) => (Math.abs(one - frame) < Math.abs(best - frame) ? one : best), first)]
}

function LookedFor({ track, onSet }: { track: Track; onSet: (changes: SetTrack['changes']) => void }) {
  const numbers = [
    { label: 'Pattern, pixels each way', name: 'radius', least: 3, most: 60 },
    { label: 'Search, pixels around', name: 'search', least: 1, most: 120 },
  ] as const
  return (
    <>
      {numbers.map(({ label, name, least, most }) => (
        <LabelledNumber
          key={name}
          text={label}
          value={track[name]}
          step={1}
          least={least}
          most={most}
          digits={0}
          onCommit={(value) => onSet({ [name]: value })}
        />
      ))}
      {track.unsized && (
        <Typography variant="caption" color="textSecondary">
          Both are measured where it is tracked first, unless you set them.
        </Typography>
      )}
      <TextField
        select
        size="small"
        variant="standard"
        label="The pattern"
        value={track.model}
        onChange={({ target }) => onSet({ model: target.value as PatternModel })}
      >
        {patternModels.map((model) => (
          <MenuItem key={model} value={model} dense>
            {modelWords[model]}
          </MenuItem>
        ))}
      </TextField>
    </>
  )
}

function Users({ track }: { track: Track }) {
  const shot = useAppSelector(selectDocument)
  const users = shot ? usersOf(shot, { kind: 'track', id: track.id }) : []
  return (
    <Typography variant="caption" color="textSecondary">
      {users.length === 0
        ? 'Nothing moves with it yet. Pin an element to it under Place on the element’s card.'
        : `Moves with it: ${users.join(', ')}.`}
    </Typography>
  )
}
