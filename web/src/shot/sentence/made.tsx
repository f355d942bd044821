/** How the picture is made: its scope, its scale, its zoom, its frame. */

import { useSyncExternalStore } from 'react'
import { shallowEqual } from 'react-redux'
import type { Scale } from '../../../../core/graph/steps'
import { find, nameOfRegion } from '../../../../core/shot'
import { bytesText } from '../../bytes-text'
import { useEngine } from '../../engine/engine-context'
import { useAppDispatch, useAppSelector } from '../../store'
import {
  selectComputedCounts,
  selectDocument,
  selectHeld,
  selectParked,
  selectRegions,
  selectScale,
} from '../../store/selectors'
import type { RootState } from '../../store/state'
import { viewChanged, type Scope, type ViewState } from '../../store/view'
import { Playing } from './playing'
import { Said, Toggle, Word, type Choice } from './word'

const scales: readonly Choice<Scale>[] = [
  { value: 1, text: 'full scale' },
  { value: 2, text: 'half scale' },
  { value: 4, text: 'quarter scale' },
]
const scaleText = (scale: Scale) => scales.find(({ value }) => value === scale)?.text ?? ''
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
const selectMade = ({ view: { looking, framing } }: RootState) => ({
  scope: looking.scope,
  scale: framing.scale,
  zoom: framing.zoom,
  centre: framing.centre,
})

export function Made() {
  const dispatch = useAppDispatch()
  const view = useAppSelector(selectMade, shallowEqual)
  const frameSize = useAppSelector((state) => selectDocument(state)?.frameSize)
  const regions = useAppSelector(selectRegions)
  const scoped = useAppSelector((state) => state.view.framing.scoped)
  const area = useAppSelector((state) => state.view.framing.area)
  const made = useAppSelector(selectScale)
  const parked = useAppSelector((state) => selectParked(state).length)
  const computed = useAppSelector(selectComputedCounts, shallowEqual)
  const middle = { x: (frameSize?.width ?? 0) / 2, y: (frameSize?.height ?? 0) / 2 }
  const change = (framing: Partial<ViewState['framing']>) => dispatch(viewChanged({ framing }))
  return (
    <>
      <Word
        name="Scope"
        choices={scopesToChoose}
        value={view.scope}
        onChoose={(scope) => dispatch(viewChanged({ looking: { scope } }))}
      />
      {view.scope !== 'none' && regions.length > 0 && (
        <>
          <Said> of </Said>
          <Word
            name="What the scope shows"
            choices={[
              { value: null, text: 'all' },
              ...regions.map(({ id, name }) => ({ value: id as string | null, text: `region ${name}` })),
            ]}
            value={regions.some(({ id }) => id === scoped) ? scoped : null}
            onChoose={(id) => change({ scoped: id })}
          />
        </>
      )}
      {area ? (
        <>
          <Said>, only </Said>
          <Toggle
            name="Make the whole picture"
            text={`${area.width} × ${area.height} px`}
            onToggle={() => change({ area: null })}
          />
          <Said> at </Said>
        </>
      ) : (
        <Said>, made at </Said>
      )}
      <Word name="Scale" choices={scales} value={view.scale} onChoose={(scale) => change({ scale })}>
        {made !== view.scale ? `${scaleText(made)} while dragging` : scaleText(view.scale)}
      </Word>
      {parked > 0 && (
        <>
          <Said>, </Said>
          <Toggle
            name="Take up what is parked"
            text={parked === 1 ? 'one treatment parked' : `${parked} treatments parked`}
            onToggle={() => dispatch(viewChanged({ looking: { parked: [] } }))}
          />
        </>
      )}
      {computed.kept > 0 && <Said>, {computed.kept} kept computed</Said>}
      {computed.stale > 0 && <Said>, {computed.stale} kept but stale</Said>}
      <HeldStill />
      <Memory />
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

/** Said only while it is so: nothing that is delivered is held. */
function HeldStill() {
  const dispatch = useAppDispatch()
  const held = useAppSelector(selectHeld)
  const shot = useAppSelector(selectDocument)
  const track = held && shot && find(shot.tracks, held.tracks[0])
  if (!track) return null
  const name = track.region && held.tracks.length > 1 ? nameOfRegion(track).toLowerCase() : track.name
  return (
    <>
      <Said>, </Said>
      <Toggle
        name="Let the picture move"
        text={`held still on ${name}`}
        onToggle={() => dispatch(viewChanged({ framing: { held: null } }))}
      />
    </>
  )
}

/** Said only while the memory does not hold what is wanted. */
function Memory() {
  const engine = useEngine()
  const { budgetBytes, bands, aheadWaits } = useSyncExternalStore(engine.onMemory, engine.memoryState)
  if (bands === 1 && !aheadWaits) return null
  const what = bands > 1 ? `made in ${bands} bands` : 'frames ahead wait'
  return (
    <Said>
      , {what}: the {bytesText(budgetBytes)} of memory are full
    </Said>
  )
}

function FrameNumber() {
  const frame = useAppSelector((state) => state.view.playing.frame)
  return <Said>, frame {frame}</Said>
}
