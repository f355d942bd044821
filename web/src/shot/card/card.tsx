/** The card of what is selected. Each kind of thing has its own. */

import Box from '@mui/material/Box'
import { useAppSelector } from '../../store'
import { selectElement, selectMatte, selectSource, selectTrack, selectWitness } from '../../store/selectors'
import { DeliveriesCard } from '../deliveries/deliveries-card'
import { HistoryCard } from '../history/history-card'
import { MatchingCard } from '../matching/matching-card'
import { MatteCard } from '../mattes/matte-card'
import { SourceCard } from '../sources/source-card'
import { TrackCard } from '../tracks/track-card'
import { WitnessCard } from '../witnesses/witness-card'
import { ElementCard } from './element-card'
import { PinnedCard } from './pinned-card'
import { ShotWideCard } from './shot-wide-card'

/** By kind of what is selected. */
const cards = {
  source: function SelectedSource() {
    const source = useAppSelector(selectSource)
    return source && <SourceCard source={source} />
  },
  element: function SelectedElement() {
    const element = useAppSelector(selectElement)
    return element && <ElementCard element={element} />
  },
  witness: function SelectedWitness() {
    const witness = useAppSelector(selectWitness)
    const element = useAppSelector(selectElement)
    // Undone, or removed in another tab: the element that was selected before comes back.
    return witness ? <WitnessCard key={witness.id} witness={witness} /> : element && <ElementCard element={element} />
  },
  track: function SelectedTrack() {
    const track = useAppSelector(selectTrack)
    const element = useAppSelector(selectElement)
    return track ? <TrackCard key={track.id} track={track} /> : element && <ElementCard element={element} />
  },
  matte: function SelectedMatte() {
    const matte = useAppSelector(selectMatte)
    const element = useAppSelector(selectElement)
    return matte ? <MatteCard key={matte.id} matte={matte} /> : element && <ElementCard element={element} />
  },
  glass: function Glass() {
    return <ShotWideCard kind="glass" />
  },
  sensor: function Sensor() {
    return <ShotWideCard kind="sensor" />
  },
  finish: function Finish() {
    return <ShotWideCard kind="finish" />
  },
}

const insteads = { deliveries: DeliveriesCard, history: HistoryCard, matching: MatchingCard }

export function Card() {
  const kind = useAppSelector((state) => state.shot.selection.primary?.kind)
  const instead = useAppSelector((state) => state.view.screen.instead)
  const Instead = instead && insteads[instead]
  const Selected = kind && cards[kind]
  return (
    <Box
      component="section"
      aria-label="Card"
      sx={{ gridArea: 'card', borderLeft: 1, borderColor: 'divider', display: 'flex', flexDirection: 'column' }}
    >
      {Instead ? <Instead /> : Selected && <Selected />}
      {!Instead && <PinnedCard />}
    </Box>
  )
}
