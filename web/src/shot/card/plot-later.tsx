/** The plot of veil and gain, brought when it is wanted: the plotting package is large, and the picture should not wait for it. */

import Box from '@mui/material/Box'
import { lazy, Suspense, type ComponentProps } from 'react'
import { firstPicture } from '../../engine/first-picture'

const ResponsePlot = lazy(() =>
  firstPicture.then(() => import('./response-plot')).then((module) => ({ default: module.ResponsePlot })),
)

/** Room kept for it while it is loaded. */
const plotHeight = 150

export function PlotLater(props: ComponentProps<typeof ResponsePlot>) {
  return (
    <Suspense fallback={<Box sx={{ height: plotHeight }} />}>
      <ResponsePlot {...props} />
    </Suspense>
  )
}
