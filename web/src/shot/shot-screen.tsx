/** One screen per shot: the light column, the picture, the card, the tally. */

import Alert from '@mui/material/Alert'
import Box from '@mui/material/Box'
import Typography from '@mui/material/Typography'
import { useParams } from 'react-router'
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
import { ViewSentence } from './view-sentence'

export function ShotScreen() {
  const { name = '' } = useParams()
  const { maker, failure } = useShot(name)
  const loaded = useAppSelector((state) => state.shot.shot?.name === name)
  if (failure !== null) {
    return (
      <Box sx={{ p: 4 }}>
        <Alert severity="error" variant="outlined">
          {failure}
        </Alert>
      </Box>
    )
  }
  if (!loaded || !maker) return <Typography sx={{ p: 4 }}>Opening {name} …</Typography>
  return <OpenShot maker={maker} />
}

function OpenShot({ maker }: { maker: PictureMaker }) {
  const alone = useAppSelector((state) => state.view.alone)
  useShortcuts()
  return (
    <PictureContext value={maker}>
      <Box
        sx={{
          height: '100vh',
          display: 'grid',
          gridTemplateColumns: alone ? '0 1fr 0' : '220px minmax(0, 1fr) 292px',
          gridTemplateRows: alone ? '0 minmax(0, 1fr) 48px 0' : '38px minmax(0, 1fr) 48px 116px',
          gridTemplateAreas: '"head head head" "column picture card" "column sentence card" "tally tally tally"',
          '& > *': { overflow: 'hidden', minWidth: 0 },
        }}
      >
        <Header />
        <LightColumn />
        <Picture />
        <ViewSentence />
        <Card />
        <Tally />
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
