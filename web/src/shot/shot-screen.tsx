/** One screen per shot: the light column, the picture, the card, the tally. */

import Alert from '@mui/material/Alert'
import Box from '@mui/material/Box'
import Typography from '@mui/material/Typography'
import { useParams } from 'react-router'
import { Region } from '../broken-region'
import { PictureContext } from '../engine/engine-context'
import type { PictureMaker } from '../engine/picture-maker'
import { useAppSelector } from '../store'
import { Card } from './card/card'
import { Header } from './header'
import { ShortcutOverlay } from './shortcut-overlay'
import { LightColumn } from './light-column'
import { Notices } from './notices'
import { Picture } from './picture/picture'
import { Tally } from './tally/tally'
import { useFramesAhead } from './use-frames-ahead'
import { useShortcuts } from './use-shortcuts'
import { usePlayback } from './use-playback'
import { useShot } from './use-shot'
import { ViewSentence } from './sentence/view-sentence'

export function ShotScreen() {
  const { id = '' } = useParams()
  const { maker, failure } = useShot(id)
  const loaded = useAppSelector((state) => state.shot.id === id && state.shot.shot !== null)
  if (failure !== null) {
    return (
      <Box sx={{ p: 4 }}>
        <Alert severity="error" variant="outlined">
          {failure}
        </Alert>
      </Box>
    )
  }
  if (!loaded || !maker) return <Typography sx={{ p: 4 }}>Opening the shot …</Typography>
  return <OpenShot maker={maker} />
}

function OpenShot({ maker }: { maker: PictureMaker }) {
  const pictureOnly = useAppSelector((state) => state.view.screen.pictureOnly)
  useShortcuts()
  return (
    <PictureContext value={maker}>
      <Box
        sx={{
          height: '100vh',
          display: 'grid',
          gridTemplateColumns: pictureOnly ? '0 1fr 0' : '220px minmax(0, 1fr) 292px',
          gridTemplateRows: pictureOnly ? '0 minmax(0, 1fr) 48px 0' : '38px minmax(0, 1fr) 48px 116px',
          gridTemplateAreas: '"head head head" "column picture card" "column sentence card" "tally tally tally"',
          '& > *': { overflow: 'hidden', minWidth: 0 },
        }}
      >
        <Region name="The header" area="head">
          <Header />
        </Region>
        <Region name="The light path" area="column">
          <LightColumn />
        </Region>
        <Region name="The picture" area="picture">
          <Picture />
        </Region>
        <Region name="The view sentence" area="sentence">
          <ViewSentence />
        </Region>
        <Region name="The card" area="card">
          <Card />
        </Region>
        <Region name="The tally" area="tally">
          <Tally />
        </Region>
      </Box>
      <Notices />
      <ShortcutOverlay />
      <Ahead />
    </PictureContext>
  )
}

/** What goes on without being seen. */
function Ahead() {
  useFramesAhead()
  usePlayback()
  return null
}
