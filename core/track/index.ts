/** Following what the plate's camera saw: points and regions. */

export { alignedPatch, readyFor, type AlignedPatch, type Spot } from './aligned-patch'
export {
  patternModels,
  regionModels,
  regionWays,
  type PatternModel,
  type RegionModel,
  type RegionWay,
} from './pattern-models'
export { NothingToFollowError, trackPoint, type PointToTrack, type PointTrack, type TrackedPoint } from './track-point'
export { patternSize, type PatternSize } from './pattern-size'
export { edgeOffsets, pulledOutline, type Departure, type EdgeOffset } from './edge-pull'
export { brightnessOf } from './brightness'
export { trackRegion, type RegionToTrack, type RegionTrack, type TrackedRegion } from './track-region'
export { trackCamera, type CameraToTrack } from './camera-motion'
