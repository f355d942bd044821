/** Says in words how the picture is being seen; every word can be changed in place. */

import Box from '@mui/material/Box'
import Link from '@mui/material/Link'
import Menu from '@mui/material/Menu'
import MenuItem from '@mui/material/MenuItem'
import Typography from '@mui/material/Typography'
import { useState, type ReactNode } from 'react'
import { shallowEqual, useStore } from 'react-redux'
import {
  cranks,
  lookedChannels,
  screens,
  type Crank,
  type LookedChannel,
  type Screen,
} from '../../../core/look/looking'
import type { Scale } from '../../../core/graph/steps'
import { useAppDispatch, useAppSelector } from '../store'
import { selectDocument, selectTables } from '../store/selectors'
import type { RootState } from '../store/state'
import { shotActions } from '../store/shot-slice'
import { viewActions, type Comparing, type Other, type Scope, type ViewState } from '../store/view-slice'
import { DragNumber } from './card/drag-number'
import { middleSplit } from './shortcuts'
import { selectNames, shownWords, wordsOf } from './other-text'

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
      {anchor && (
        <Menu anchorEl={anchor} open onClose={() => setAnchor(null)} disableRestoreFocus>
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
      )}
    </>
  )
}

const channelText: Record<LookedChannel, string> = {
  all: 'all channels',
  red: 'red only',
  green: 'green only',
  blue: 'blue only',
  alpha: 'alpha',
  luma: 'luma',
  hue: 'hue',
  saturation: 'saturation',
  value: 'value',
}
const channels = lookedChannels.map((value) => ({ value, text: channelText[value] }))
const crankText: Record<Crank, string> = {
  none: 'not cranked',
  dark: 'dark end cranked',
  bright: 'bright end cranked',
  vivid: 'colour cranked',
}
const cranksToChoose = cranks.map((value) => ({ value, text: crankText[value] }))
const screenText: Record<Screen, string> = { srgb: 'sRGB', bt1886: 'BT.1886', 'p3-d65': 'P3-D65' }
const screensToChoose = screens.map((value) => ({ value, text: screenText[value] }))
const scales: readonly Choice<Scale>[] = [
  { value: 1, text: 'full scale' },
  { value: 2, text: 'half scale' },
  { value: 4, text: 'quarter scale' },
]
const zooms: readonly Choice<number | null>[] = [
  { value: null, text: 'fit' },
  ...[0.5, 1, 2, 4, 8, 16].map((value) => ({ value, text: `${value * 100} %` })),
]
const scopeText: Record<Scope, string> = {
  none: 'no scope',
  waveform: 'a waveform under it',
  parade: 'a parade under it',
  histogram: 'a histogram under it',
  vectorscope: 'a vectorscope under it',
}
const scopesToChoose = (Object.keys(scopeText) as Scope[]).map((value) => ({ value, text: scopeText[value] }))
const wayText: Record<Comparing['way'], string> = {
  not: 'not compared with',
  split: 'split with',
  difference: 'as the difference from',
}

/** What the picture is and how it is seen; then what it is compared with, and how it is made and played. */
export function ViewSentence() {
  return (
    <Box
      sx={{
        gridArea: 'sentence',
        px: 1.5,
        py: 0.4,
        borderTop: 1,
        borderColor: 'divider',
        whiteSpace: 'pre',
        display: 'flex',
        flexDirection: 'column',
        justifyContent: 'space-evenly',
      }}
      data-testid="view-sentence"
    >
      <Box sx={{ display: 'flex', alignItems: 'center' }}>
        <Seen />
      </Box>
      <Box sx={{ display: 'flex', alignItems: 'center' }}>
        <Compared />
        <Made />
      </Box>
    </Box>
  )
}

/** Only what is said here: the frame changes many times a second while it plays. */
const selectSeen = ({ view }: RootState) => {
  const { shown, other, screen, table, exposure, gamma, saturation, crank, channel, marks } = view
  return { shown, other, screen, table, exposure, gamma, saturation, crank, channel, marks }
}

function Seen() {
  const dispatch = useAppDispatch()
  const view = useAppSelector(selectSeen, shallowEqual)
  const names = useAppSelector(selectNames)
  const change = (changes: Partial<ViewState>) => dispatch(viewActions.viewChanged(changes))
  const tables = useAppSelector(selectTables)
  const shown = (['composite', 'plate', 'element', 'untreated', 'other'] as const).map((value) => ({
    value,
    text: shownWords(value, names, view.other),
  }))
  return (
    <>
      <Word name="What is shown" choices={shown} value={view.shown} onChoose={(value) => change({ shown: value })} />
      <Said> seen through </Said>
      <Word
        name="Screen"
        choices={[
          ...screensToChoose.map(({ value, text }) => ({ value: value as string, text })),
          ...tables.map(({ id, name }) => ({ value: id, text: `the table ${name}` })),
        ]}
        value={view.table ?? view.screen}
        onChoose={(value) => {
          const screen = screens.find((one) => one === value)
          change(screen ? { screen, table: null } : { table: value })
        }}
      />
      <Said>, </Said>
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
      <Said> stops, gamma </Said>
      <DragNumber
        label="Gamma of the view"
        value={view.gamma}
        step={0.01}
        least={0.2}
        most={5}
        digits={2}
        onChange={(gamma) => change({ gamma })}
        onCommit={(gamma) => change({ gamma })}
      />
      <Said>, saturation </Said>
      <DragNumber
        label="Saturation of the view"
        value={view.saturation}
        step={0.01}
        least={0}
        most={8}
        digits={2}
        onChange={(saturation) => change({ saturation })}
        onCommit={(saturation) => change({ saturation })}
      />
      <Said>, </Said>
      <Word name="Crank" choices={cranksToChoose} value={view.crank} onChoose={(crank) => change({ crank })} />
      <Said>, </Said>
      <Word name="Channel" choices={channels} value={view.channel} onChoose={(channel) => change({ channel })} />
      <Said>, </Said>
      <Toggle name="Marks" text={view.marks ? 'marked' : 'unmarked'} onToggle={() => change({ marks: !view.marks })} />
    </>
  )
}

const gains = [1, 2, 4, 8, 16, 32]

function Compared() {
  const dispatch = useAppDispatch()
  const comparing = useAppSelector((state) => state.view.comparing)
  const other = useAppSelector((state) => state.view.other)
  const store = useStore<RootState>()
  const names = useAppSelector(selectNames)
  const frameSize = useAppSelector((state) => selectDocument(state)?.frameSize) ?? { width: 2, height: 2 }
  const change = (changes: Partial<ViewState>) => dispatch(viewActions.viewChanged(changes))
  const ways = (['not', 'split', 'difference'] as const).map((value) => ({ value, text: wayText[value] }))
  const chooseWay = (way: Comparing['way']) =>
    change({ comparing: way === 'split' ? middleSplit(frameSize) : way === 'difference' ? { way, gain: 4 } : { way } })
  const others: readonly Other[] = [
    { kind: 'plate' },
    { kind: 'element' },
    { kind: 'untreated' },
    other.kind === 'frame' ? other : { kind: 'frame', frame: store.getState().view.frame },
    ...names.treatments.map(({ id }) => ({ kind: 'without' as const, treatment: id })),
    ...names.tries.map(({ id }) => ({ kind: 'try' as const, id })),
  ]
  return (
    <>
      <Word name="How it is compared" choices={ways} value={comparing.way} onChoose={chooseWay} />
      <Said> </Said>
      <Word
        name="The other"
        choices={others.map((value) => ({ value, text: wordsOf(value, names) }))}
        value={other}
        onChoose={(value) =>
          change({ other: value.kind === 'frame' ? { kind: 'frame', frame: store.getState().view.frame } : value })
        }
      >
        {wordsOf(other, names)}
      </Word>
      {other.kind === 'try' && names.tries.some(({ id }) => id === other.id) && <TryDoing id={other.id} />}
      {comparing.way === 'difference' && (
        <>
          <Said> × </Said>
          <Word
            name="Gain of the difference"
            choices={gains.map((value) => ({ value, text: String(value) }))}
            value={comparing.gain}
            onChoose={(gain) => change({ comparing: { way: 'difference', gain } })}
          />
        </>
      )}
      <Said>, </Said>
    </>
  )
}

/** What can be done with the try that is compared with. */
function TryDoing({ id }: { id: string }) {
  const dispatch = useAppDispatch()
  const drop = () => {
    dispatch(viewActions.viewChanged({ other: { kind: 'plate' } }))
    dispatch(shotActions.edited({ kind: 'drop-try', id }))
  }
  return (
    <>
      <Said> (</Said>
      <Toggle
        name="Take the try"
        text="take it"
        onToggle={() => dispatch(shotActions.edited({ kind: 'take-try', id }))}
      />
      <Said>, </Said>
      <Toggle name="Drop the try" text="drop it" onToggle={drop} />
      <Said>)</Said>
    </>
  )
}

const selectMade = ({ view: { scope, scale, zoom, centre } }: RootState) => ({ scope, scale, zoom, centre })

function Made() {
  const dispatch = useAppDispatch()
  const view = useAppSelector(selectMade, shallowEqual)
  const frameSize = useAppSelector((state) => selectDocument(state)?.frameSize)
  const middle = { x: (frameSize?.width ?? 0) / 2, y: (frameSize?.height ?? 0) / 2 }
  const change = (changes: Partial<ViewState>) => dispatch(viewActions.viewChanged(changes))
  return (
    <>
      <Word name="Scope" choices={scopesToChoose} value={view.scope} onChoose={(scope) => change({ scope })} />
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
      <FrameNumber />
      <Playing />
    </>
  )
}

function FrameNumber() {
  const frame = useAppSelector((state) => state.view.frame)
  return <Said>, frame {frame}</Said>
}

/** A word that is pressed. */
function Toggle({ name, text, onToggle }: { name: string; text: string; onToggle: () => void }) {
  return (
    <Link
      component="button"
      variant="body2"
      color="textPrimary"
      underline="always"
      aria-label={name}
      onClick={onToggle}
      sx={{ textDecorationStyle: 'dotted', textUnderlineOffset: 3 }}
    >
      {text}
    </Link>
  )
}

const everies: readonly Choice<1 | 2 | 4>[] = [
  { value: 1, text: 'every frame' },
  { value: 2, text: 'every 2nd frame' },
  { value: 4, text: 'every 4th frame' },
]

/** Whether it plays, at what rate, and how many frames could not be shown in time. */
function Playing() {
  const dispatch = useAppDispatch()
  const playing = useAppSelector((state) => state.view.playing)
  const played = useAppSelector((state) => state.view.played)
  const every = useAppSelector((state) => state.view.every)
  const playRange = useAppSelector((state) => state.view.playRange)
  const rate = useAppSelector((state) => selectDocument(state)?.rate)
  if (!rate) return null
  const perSecond = Number((rate.numerator / rate.denominator / every).toFixed(3))
  return (
    <>
      <Said>, </Said>
      <Toggle
        name="Playing"
        text={playing ? `playing ${perSecond} a second` : 'standing'}
        onToggle={() => dispatch(viewActions.playToggled())}
      />
      <Said>, </Said>
      <Word
        name="Frames that are played"
        choices={everies}
        value={every}
        onChoose={(value) => dispatch(viewActions.viewChanged({ every: value }))}
      />
      {playRange && (
        <Said>
          {' '}
          of {playRange.first} to {playRange.last}
        </Said>
      )}
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
