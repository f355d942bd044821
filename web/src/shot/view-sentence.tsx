/** Says in words how the picture is being seen; every word can be changed in place. */

import Box from '@mui/material/Box'
import Link from '@mui/material/Link'
import Menu from '@mui/material/Menu'
import MenuItem from '@mui/material/MenuItem'
import Typography from '@mui/material/Typography'
import { useState, type ReactNode } from 'react'
import { channelViews, type ChannelView } from '../../../core/kernels/kernels'
import type { Scale } from '../../../core/graph/steps'
import { useAppDispatch, useAppSelector } from '../store'
import { selectDocument, selectElement } from '../store/selectors'
import { viewActions, type Shown } from '../store/view-slice'
import { DragNumber } from './card/drag-number'

interface Choice<T> {
  readonly value: T
  readonly text: string
}

/** A word of the sentence that opens a menu of its alternatives. */
function Word<T>({
  name,
  choices,
  value,
  onChoose,
  children,
}: {
  name: string
  choices: readonly Choice<T>[]
  value: T
  onChoose: (value: T) => void
  children?: ReactNode
}) {
  const [anchor, setAnchor] = useState<HTMLElement | null>(null)
  return (
    <>
      <Link
        component="button"
        variant="body2"
        color="textPrimary"
        underline="always"
        aria-label={name}
        onClick={(event) => setAnchor(event.currentTarget)}
        sx={{ textDecorationStyle: 'dotted', textUnderlineOffset: 3 }}
      >
        {children ?? choices.find((c) => c.value === value)?.text}
      </Link>
      {/* Focus does not come back to the word: the next space is meant for playing. */}
      <Menu anchorEl={anchor} open={anchor !== null} onClose={() => setAnchor(null)} disableRestoreFocus>
        {choices.map((choice) => (
          <MenuItem
            key={choice.text}
            dense
            selected={choice.value === value}
            onClick={() => {
              onChoose(choice.value)
              setAnchor(null)
            }}
          >
            {choice.text}
          </MenuItem>
        ))}
      </Menu>
    </>
  )
}

const channelText: Record<ChannelView, string> = {
  all: 'all channels',
  red: 'red only',
  green: 'green only',
  blue: 'blue only',
  alpha: 'alpha',
  luma: 'luma',
}
const channels = channelViews.map((value) => ({ value, text: channelText[value] }))
const scales: readonly Choice<Scale>[] = [
  { value: 1, text: 'full scale' },
  { value: 2, text: 'half scale' },
  { value: 4, text: 'quarter scale' },
]
const zooms: readonly Choice<number | null>[] = [
  { value: null, text: 'fit' },
  ...[0.5, 1, 2, 4, 8, 16].map((value) => ({ value, text: `${value * 100} %` })),
]

export function ViewSentence() {
  const dispatch = useAppDispatch()
  const view = useAppSelector((state) => state.view)
  const element = useAppSelector(selectElement)
  const frameSize = useAppSelector((state) => selectDocument(state)?.frameSize)
  const middle = { x: (frameSize?.width ?? 0) / 2, y: (frameSize?.height ?? 0) / 2 }
  const change = (changes: Partial<typeof view>) => dispatch(viewActions.viewChanged(changes))
  const shown: readonly Choice<Shown>[] = [
    { value: 'composite', text: 'The composite' },
    { value: 'plate', text: 'The plate alone' },
    { value: 'element', text: `${element?.name ?? 'The element'} alone` },
  ]
  return (
    <Box
      sx={{
        gridArea: 'sentence',
        display: 'flex',
        alignItems: 'center',
        px: 1.5,
        borderTop: 1,
        borderColor: 'divider',
        whiteSpace: 'pre',
      }}
      data-testid="view-sentence"
    >
      <Word name="What is shown" choices={shown} value={view.shown} onChoose={(value) => change({ shown: value })} />
      <Said> seen through sRGB, </Said>
      <DragNumber
        label="Exposure in stops"
        value={view.exposure}
        step={0.1}
        least={-10}
        most={10}
        digits={1}
        signed
        onChange={(exposure) => change({ exposure })}
        onCommit={(exposure) => change({ exposure })}
      />
      <Said> stops, </Said>
      <Word name="Channel" choices={channels} value={view.channel} onChoose={(channel) => change({ channel })} />
      <Said>, made at </Said>
      <Word name="Scale" choices={scales} value={view.scale} onChoose={(scale) => change({ scale })} />
      <Said>, shown at </Said>
      <Word
        name="Zoom"
        choices={zooms}
        value={view.zoom}
        onChoose={(zoom) => change({ zoom, centre: view.zoom === null ? middle : view.centre })}
      >
        {view.zoom === null ? 'fit' : `${Number((view.zoom * 100).toFixed(0))} %`}
      </Word>
      <Said>, frame {view.frame}</Said>
      <Playing />
    </Box>
  )
}

/** Whether it plays, at what rate, and how many frames could not be shown in time. */
function Playing() {
  const dispatch = useAppDispatch()
  const playing = useAppSelector((state) => state.view.playing)
  const played = useAppSelector((state) => state.view.played)
  const rate = useAppSelector((state) => selectDocument(state)?.rate)
  if (!rate) return null
  const perSecond = Number((rate.numerator / rate.denominator).toFixed(3))
  return (
    <>
      <Said>, </Said>
      <Link
        component="button"
        variant="body2"
        color="textPrimary"
        underline="always"
        aria-label="Playing"
        onClick={() => dispatch(viewActions.playToggled())}
        sx={{ textDecorationStyle: 'dotted', textUnderlineOffset: 3 }}
      >
        {playing ? `playing ${perSecond} a second` : 'standing'}
      </Link>
      {played && (playing || played.shown + played.dropped > 0) && (
        <Said>
          {played.dropped === 0 ? ', none dropped' : `, ${played.dropped} of ${played.shown + played.dropped} dropped`}
        </Said>
      )}
    </>
  )
}

function Said({ children }: { children: ReactNode }) {
  return (
    <Typography variant="body2" color="textSecondary">
      {children}
    </Typography>
  )
}
