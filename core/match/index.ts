/** Matching: readings of witnesses, whether they agree, and settings that are proposed from them. */

export { chooseRegions, type Region } from './choose-regions'
export { darkestOf, flatPlaces, likest, type FlatPlace, type LikePlaces } from './flat-places'
export { strongEdges, type StrongEdge } from './strong-edges'
export { courseOf, type Course, type ValueOnFrame } from './course'
export { proposeOverFrames, type PairOverFrames, type ProposedOverFrames } from './propose-over-frames'
export { driftUnits, type DriftUnits } from './drift-units'
export { leastOfParabola, type LeastOfParabola } from './least-of-parabola'
export { nearestShadow, type NearestShadow, type ShadowCorners } from './nearest-shadow'
export { nearestSoftening, type SharpAndSeen, type Softening } from './nearest-softening'
export { fitLine, type FittedLine, type PairOfReadings } from './fit-line'
export { proposeVeilAndGain, unlikeOf, unlikeOfSame, type PairRead, type Sure, type VeilAndGain } from './propose'
export {
  judged,
  leastCoverage,
  readSide,
  witnessPurposes,
  type Judged,
  type Read,
  type Rgb,
  type SideReading,
  type Verdict,
  type WitnessPurpose,
} from './reading'
export { numberNames, oneNumber, triedOf, type NumberName, type NumberProposed, type PairTried } from './one-number'
export { medianOf } from '../algebra/median'
export { ninetyPercent } from './students-t'
export { pairsOverFrames } from './over-frames'
export { shadowRatio, type ShadowRatio } from './shadow-ratio'
export { steadyPlaces, steadyVerdicts, type SteadyVerdict } from './steady'
