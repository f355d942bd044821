/** A lens measured from straight lines. */

export { ChartTellsNothingError, lensFromChart, type ChartSeen, type LensFromChart } from './lens-from-chart'
export { chartMarks } from './chart-marks'
export { findLines, type FindLinesOptions } from './find-lines'
export {
  bowOf,
  lensFromLines,
  LinesTellNothingError,
  unbent,
  type LensFromLines,
  type Line,
  type LinesGiven,
} from './lens-from-lines'
export { lensOfMap, mapSeen, placesInMap, type LensOfMap, type MapSeen } from './lens-of-map'
export { mapOf, numbersOf, overscanOf } from './lens-files'
export { lineAlong } from './line-along'
export { measuredFringe, type MeasuredFringe } from './measured-fringe'
