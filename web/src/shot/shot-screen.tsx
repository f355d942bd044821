/** One screen per shot: the light column, the picture, the card, the tally. */

import Alert from '@mui/material/Alert'
import Box from '@mui/material/Box'
import Typography from '@mui/material/Typography'
import { lazy, Suspense, type ReactNode } from 'react'
import { useParams } from 'react-router'
import { Region } from '../broken-region'
import { PictureContext } from '../engine/engine-context'
import { firstPicture } from '../engine/first-picture'
import type { PictureMaker } from '../engine/picture-maker'
import { useAppSelector } from '../store'
import { Foldable, foldedWidth } from './foldable'
import { Header } from './header'
import { ShortcutOverlay } from './shortcut-overlay'
import { Notices } from './notices'
import { Picture } from './picture/picture'
import { useComputed } from './use-computed'
import { useFollowedSamples } from './use-followed-samples'
import { useFramesAhead } from './use-frames-ahead'
import { useShortcuts } from './use-shortcuts'
import { usePlayback } from './use-playback'
import { useShot } from './use-shot'
import { useLens } from './lens/use-lens'
import { useTracking } from './tracks/use-tracking'
import { useReadingKeys } from './witnesses/use-reading-keys'
import { useReadings } from './witnesses/use-readings'
import { ViewSentence } from './sentence/view-sentence'

// What stands around the picture comes after it: to make it takes as long as to make the picture.
const LightColumn = lazy(() =>
  firstPicture.then(() => import('./column/light-column')).then((module) => ({ default: module.LightColumn })),
)
const Card = lazy(() => firstPicture.then(() => import('./card/card')).then((module) => ({ default: module.Card })))
const Tally = lazy(() => firstPicture.then(() => import('./tally/tally')).then((module) => ({ default: module.Tally })))

const columnWidth = { xs: '168px', xl: '220px' }
const cardWidth = { xs: '256px', xl: '300px' }
const tallyHeight = { closed: '120px', open: '340px' }

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
  const { pictureOnly, folded, tallyOpen } = useAppSelector((state) => state.view.screen)
  const wide = (area: 'column' | 'card', usual: string) =>
    pictureOnly ? '0px' : folded.includes(area) ? `${foldedWidth}px` : usual
  useShortcuts()
  return (
    <PictureContext value={maker}>
      <Box
        sx={{
          height: '100vh',
          display: 'grid',
          gridTemplateColumns: {
            xs: `${wide('column', columnWidth.xs)} minmax(0, 1fr) ${wide('card', cardWidth.xs)}`,
            xl: `${wide('column', columnWidth.xl)} minmax(0, 1fr) ${wide('card', cardWidth.xl)}`,
          },
          gridTemplateRows: pictureOnly
            ? '0 minmax(0, 1fr) 40px 0'
            : `32px minmax(0, 1fr) 40px ${tallyOpen ? tallyHeight.open : tallyHeight.closed}`,
          gridTemplateAreas: '"head head head" "column picture card" "column sentence card" "tally tally tally"',
          '& > *': { overflow: 'hidden', minWidth: 0 },
        }}
      >
        <Region name="The header" area="head">
          <Header />
        </Region>
        <Region name="The light path" area="column">
          <Foldable area="column" name="the light path" width={columnWidth}>
            <Later area="column">
              <LightColumn />
            </Later>
          </Foldable>
        </Region>
        <Region name="The picture" area="picture">
          <Picture />
        </Region>
        <Region name="The view sentence" area="sentence">
          <ViewSentence />
        </Region>
        <Region name="The card" area="card">
          <Foldable area="card" name="the card" width={cardWidth}>
            <Later area="card">
              <Card />
            </Later>
          </Foldable>
        </Region>
        <Region name="The tally" area="tally">
          <Later area="tally">
            <Tally />
          </Later>
        </Region>
      </Box>
      <Notices />
      <ShortcutOverlay />
      <Ahead />
    </PictureContext>
  )
}

/** Keeps a region's place until its content is there. */
function Later({ area, children }: { area: string; children: ReactNode }) {
  return <Suspense fallback={<Box sx={{ gridArea: area }} />}>{children}</Suspense>
}

/** What goes on without being seen. */
function Ahead() {
  useComputed()
  useFramesAhead()
  usePlayback()
  useFollowedSamples()
  useTracking()
  useLens()
  useReadings()
  useReadingKeys()
  return null
}
