/** The plot of drift over the frames, brought when there is something to plot: the plotting package is large. */

import Box from '@mui/material/Box'
import { lazy, Suspense, type ComponentProps } from 'react'
import { useAppSelector } from '../../store'
import { selectDriftOverFrames } from '../../store/selectors'
import { firstPicture } from '../../engine/first-picture'

const DriftPlot = lazy(() =>
  firstPicture.then(() => import('./drift-plot')).then((module) => ({ default: module.DriftPlot })),
)

/** Room kept for it while it is loaded. */
const plotHeight = 120

export function DriftPlotLater(props: ComponentProps<typeof DriftPlot>) {
  const there = useAppSelector((state) => selectDriftOverFrames(state).length > 1)
  return there ? (
    <Suspense fallback={<Box sx={{ height: plotHeight }} />}>
      <DriftPlot {...props} />
    </Suspense>
  ) : null
}
