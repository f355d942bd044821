/** The tracks that a placed element moves with: which, from which frame, and how much of their motion. */

import Button from '@mui/material/Button'
import Checkbox from '@mui/material/Checkbox'
import FormControlLabel from '@mui/material/FormControlLabel'
import MenuItem from '@mui/material/MenuItem'
import Stack from '@mui/material/Stack'
import TextField from '@mui/material/TextField'
import Typography from '@mui/material/Typography'
import { useMemo, type ReactNode } from 'react'
import { useStore } from 'react-redux'
import { motionModels, pointsNeeded, type MotionModel } from '../../../../core/motion/fitted-motion'
import {
  cornersOfRegion,
  expectedSlip,
  isBentByMap,
  laidOn,
  type Lying,
  mostExpectedSlip,
  nameOfRegion,
  pinMoved,
  pinned,
  type Element,
  type Pin,
  type Placing,
  type Track,
} from '../../../../core/shot'
import { useAppDispatch, useAppSelector } from '../../store'
import { HoldStill } from './hold-still'
import { LabelledNumber } from './labelled-number'
import { selectDocument, selectFrame, selectTracks } from '../../store/selectors'
import { shotActions } from '../../store/shot-slice'
import type { RootState } from '../../store/state'

const narrow = { minWidth: 0, px: 0.6, py: 0 } as const
const byWords: Readonly<Record<MotionModel, string>> = {
  position: 'Position',
  similarity: 'Position, rotation, scale',
  affine: 'Affine',
  homography: 'Perspective',
}

/** As much as so many tracks tell well. */
const usual = (count: number): MotionModel => (count > 1 ? 'similarity' : 'position')

export function PinRows({ element, placing }: { element: Element; placing: Placing }) {
  const dispatch = useAppDispatch()
  const store = useStore<RootState>()
  const shot = useAppSelector(selectDocument)
  const tracks = useAppSelector(selectTracks)
  const { pin } = placing
  const set = (next: Pin | null) => {
    const edit = shot && pinned(shot, element.id, next)
    if (edit) dispatch(shotActions.edited(edit))
  }
  const corners = pin && regionOfPin(tracks, pin)
  const lay = (lying: Lying) => () => {
    const edit = shot && corners && laidOn(shot, element, corners, store.getState().view.playing.frame, lying)
    if (edit) dispatch(shotActions.edited(edit))
  }
  const on = corners ? nameOfRegion(corners[0]).toLowerCase() : ''

  return (
    <PinFields
      label="Pin"
      slip={
        pin ? (
          <>
            <SlipToExpect element={element} />
            {shot && isBentByMap(shot, element) && (
              <Typography variant="caption" color="textSecondary">
                A lens map bends it, so it moves as its tracks do on the plate, and slips by what the lens changes on
                the way. Behind a lens by its numbers it does not.
              </Typography>
            )}
          </>
        ) : null
      }
      title={pin ? `Pinned, as placed on ${pin.frame}` : 'Pin to tracks'}
      none="To let it move with the plate, track points first (Shift T)."
      pin={pin ?? null}
      models={motionModels}
      beyond
      onSet={set}
      here={{
        text: 'As placed on this frame',
        act: () => {
          const edit = shot && pinMoved(shot, element.id, store.getState().view.playing.frame)
          if (edit) dispatch(shotActions.edited(edit))
        },
      }}
      unpin="Unpin"
      by="Follows their"
      more={
        corners
          ? [
              { text: `Lay it on ${on}`, act: lay('filling') },
              { text: `Lay it on ${on} as it is`, act: lay('as it is') },
            ]
          : []
      }
    />
  )
}

/** What the errors of its tracks let its far corners do. */
function SlipToExpect({ element: { id } }: { element: Element }) {
  const shot = useAppSelector(selectDocument)
  const frame = useAppSelector(selectFrame)
  const most = useMemo(() => (shot ? mostExpectedSlip(shot, id) : null), [shot, id])
  const here = useMemo(() => (shot ? expectedSlip(shot, id, frame) : null), [shot, id, frame])
  if (!most || most.pixels === 0) return null
  return (
    <Typography variant="caption" color="textSecondary">
      {`By the errors of its tracks, its far corners may slip by ${pixels(most.pixels)} on frame ${most.frame}${
        here && here.frame !== most.frame && here.pixels > 0 ? `, by ${pixels(here.pixels)} on this one` : ''
      }.`}
    </Typography>
  )
}

const pixels = (value: number) => `${value < 0.1 ? value.toFixed(3) : value.toFixed(2)} px`

interface PinFieldsProps {
  /** said below the fields */
  readonly slip?: ReactNode
  readonly label: string
  readonly title: string
  /** said where there is no track */
  readonly none: string
  readonly pin: Pin | null
  /** by which of the tracks' motions it can go */
  readonly models: readonly MotionModel[]
  /** whether it is asked what happens after they end */
  readonly beyond?: true
  readonly onSet: (pin: Pin | null) => void
  /** lets the present frame be the one on which nothing is moved */
  readonly here: { readonly text: string; readonly act: () => void }
  readonly unpin: string
  /** before the models */
  readonly by: string
  readonly more?: readonly { readonly text: string; readonly act: () => void }[]
}

/** A track, or all corners of a region together. */
interface Choice {
  readonly ids: readonly string[]
  readonly name: string
  readonly region?: true
}

/** The corners in order, where it is pinned to a region and nothing else. */
function regionOfPin(tracks: readonly Track[], pin: Pin): readonly Track[] | null {
  const choice = choicesOf(tracks).find(({ ids, region }) => region && ids.join() === pin.tracks.join())
  return choice ? choice.ids.flatMap((id) => tracks.filter((one) => one.id === id)) : null
}

function choicesOf(tracks: readonly Track[]): Choice[] {
  const shot = { tracks: { byId: Object.fromEntries(tracks.map((one) => [one.id, one])) } }
  return tracks.flatMap((track): Choice[] => {
    const corners = track.region && cornersOfRegion(shot, track.region.id)
    if (!corners) return [{ ids: [track.id], name: track.name }]
    if (track !== corners[0]) return []
    return [{ ids: corners.map(({ id }) => id), name: nameOfRegion(track), region: true }]
  })
}

/** Which tracks, how much of their motion, and from which frame. */
export function PinFields({
  label,
  title,
  none,
  pin,
  models,
  beyond,
  onSet,
  here,
  unpin,
  by: byLabel,
  more,
  slip = null,
}: PinFieldsProps) {
  const store = useStore<RootState>()
  const tracks = useAppSelector(selectTracks)
  if (tracks.length === 0 && !pin)
    return (
      <Typography variant="caption" color="textSecondary">
        {none}
      </Typography>
    )
  const choose = ({ ids, region }: Choice, on: boolean) => {
    const before = pin?.tracks ?? []
    const others = before.filter((one) => !ids.includes(one))
    const next = on ? [...others, ...ids] : others
    if (next.length === 0) return onSet(null)
    const mostly = region && others.length === 0 ? 'homography' : usual(next.length)
    const by = pin && pointsNeeded[pin.by] <= next.length && pin.by !== usual(before.length) ? pin.by : mostly
    onSet({ ...pin, frame: pin?.frame ?? store.getState().view.playing.frame, tracks: next, by })
  }
  const gone = (pin?.tracks ?? []).filter((id) => !tracks.some((one) => one.id === id))
  const choices = [...choicesOf(tracks), ...gone.map((id) => ({ ids: [id], name: 'a track that is gone' }))]
  const field = { select: true, size: 'small', variant: 'standard' } as const
  return (
    <Stack role="group" aria-label={label} spacing={0.5}>
      <Typography variant="body2">{title}</Typography>
      <Stack sx={{ maxHeight: 110, overflow: 'auto' }}>
        {choices.map((choice) => (
          <FormControlLabel
            key={choice.ids[0]}
            sx={{ ml: -0.75, my: -0.5 }}
            slotProps={{ typography: { variant: 'body2', noWrap: true } }}
            control={
              <Checkbox
                size="small"
                checked={choice.ids.every((id) => pin?.tracks.includes(id))}
                onChange={(_event, on) => choose(choice, on)}
              />
            }
            label={choice.name}
          />
        ))}
      </Stack>
      {pin && (
        <>
          <Stack direction="row" spacing={1}>
            <TextField
              {...field}
              label={byLabel}
              sx={{ flex: 1, minWidth: 0 }}
              value={pin.by}
              onChange={({ target: { value } }) => onSet({ ...pin, by: value as MotionModel })}
            >
              {models.map((by) => (
                <MenuItem key={by} value={by} dense disabled={pointsNeeded[by] > pin.tracks.length}>
                  {byWords[by]}
                  {pointsNeeded[by] > pin.tracks.length ? `, takes ${pointsNeeded[by]} tracks` : ''}
                </MenuItem>
              ))}
            </TextField>
            {beyond && (
              <TextField
                {...field}
                label="After they end"
                sx={{ flex: 1, minWidth: 0 }}
                value={pin.beyond ?? 'held'}
                onChange={({ target: { value } }) => {
                  const { beyond: _before, fade: _fade, ...rest } = pin
                  onSet(value === 'gone' || value === 'faded' ? { ...rest, beyond: value } : rest)
                }}
              >
                <MenuItem value="held" dense>
                  Stays there
                </MenuItem>
                <MenuItem value="gone" dense>
                  Is gone
                </MenuItem>
                <MenuItem value="faded" dense>
                  Fades away
                </MenuItem>
              </TextField>
            )}
          </Stack>
          {pin.beyond === 'faded' && (
            <LabelledNumber
              text="Fades over, frames"
              value={pin.fade ?? 8}
              step={1}
              least={1}
              most={1000}
              digits={0}
              onCommit={(fade) => onSet({ ...pin, fade })}
            />
          )}
          {beyond && (
            <LabelledNumber
              text="Smooth, frames"
              value={pin.smooth ?? 0}
              step={1}
              least={0}
              most={1000}
              digits={0}
              onCommit={(frames) => {
                const { smooth: _before, ...rest } = pin
                onSet(frames >= 1 ? { ...rest, smooth: frames } : rest)
              }}
            />
          )}
          <Stack direction="row" sx={{ ml: -0.6, flexWrap: 'wrap' }}>
            <Button sx={narrow} onClick={here.act}>
              {here.text}
            </Button>
            <Button sx={narrow} onClick={() => onSet(null)}>
              {unpin}
            </Button>
            {more?.map(({ text, act }) => (
              <Button key={text} sx={narrow} onClick={act}>
                {text}
              </Button>
            ))}
          </Stack>
          {slip}
          {beyond && <HoldStill />}
        </>
      )}
    </Stack>
  )
}
