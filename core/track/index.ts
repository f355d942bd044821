/** Following what the plate's camera saw: points, so far. */

export { alignedPatch, readyFor, type AlignedPatch, type Spot } from './aligned-patch'
export { patternModels, type PatternModel } from './pattern-models'
export { NothingToFollowError, trackPoint, type PointToTrack, type PointTrack, type TrackedPoint } from './track-point'
