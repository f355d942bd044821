/** The shot document: types, checks, edits. */

export * from './types'
export { parseShot, InvalidShotError, idPattern, trackSchema } from './schema'
export {
  beyondLimits,
  limitsOfHead,
  mostFrameNumber,
  mostObjects,
  mostFrames,
  mostLines,
  mostPixelsASide,
  mostStrokePoints,
} from './limits'
export {
  applyEdit,
  describeEdit,
  editKinds,
  editSchema,
  nextTreatmentTryName,
  nextTryName,
  usedTry,
  overlap,
  type Change,
  type DescribeElement,
  type Edit,
  type Edited,
  type KeyframeChanges,
  type Made,
  type SetLines,
  type SetMatte,
  type SetPlacing,
  type SetSample,
  type SetShape,
  type SetShapePlaces,
  type SetTiming,
  type SetTrack,
  type SetTrackPoints,
  type SetWitness,
  type ShotChanges,
  type SingleChange,
  type Together,
  type Undo,
  type SourceChanges,
  type Patch,
} from './edits'
export { measuredLens } from './measured-lens'
export {
  cornerCount,
  cornersOfRegion,
  followRegion,
  laidOn,
  type Lying,
  newCameraShake,
  newRegion,
  outlinedOn,
  type CornersFound,
} from './regions'
export { mostUndo, takeBack, undoLabel, undoStacks, type TabEdit } from './undo'
export { ImpossibleEditError } from './impossible-edit'
export { outlineOf, sequenceOf, type ShotOutline } from './summary'
export {
  gradientInputs,
  groupInputs,
  initialChoices,
  newBlend,
  newElement,
  newLimit,
  newPlacing,
  newPoint,
  newShutter,
  newTreatment,
  noiseInputs,
  passInputs,
  tableOf,
} from './defaults'
export {
  bendAt,
  carriedMatrix,
  foldsAt,
  isCutOff,
  leftAtEnd,
  isPlaced,
  placedMatrix,
  placementAt,
  pulledCorners,
  shutterTimes,
} from './placed'
export { canContinueBy, continuedBy } from './continued-track'
export { expectedSlip, mostExpectedSlip, type ExpectedSlip } from './expected-slip'
export { frameToCheck, type FrameToCheck } from './frame-to-check'
export {
  framesOfShape,
  isThere,
  matteBase,
  matteIsInItself,
  matteMotion,
  faultOfMattePin,
  mattesOf,
  newDrawnMatte,
  newPaintedMatte,
  newShape,
  outlineAt,
  outlineAlong,
  placesOf,
} from './mattes'
export { strokesOutside } from './painted-strokes'
export { leftOutOf, leftOutOn } from './left-out'
export { nameOfRegion } from './region-name'
export {
  changedPoints,
  drawnShape,
  keyframeAsOn,
  keyframeChoices,
  keyframeHere,
  ledPoints,
  movedHandle,
  movedPoints,
  oddities,
  seenOutline,
  sharesOfMove,
  slidKeyframes,
  placedAsSeen,
  throughSpots,
  toMatte,
  pointsBecome,
  type KeyframeChoice,
  type PointWay,
  type ShapeNow,
} from './moving-shapes'
export { movesWith, movesWithItself } from './placing'
export {
  followTrack,
  handSet,
  stretchesAround,
  stretchesFrom,
  type FollowingTrack,
  type Stretch,
  type TrackingWay,
} from './follow-track'
export {
  faultOfPin,
  framesOfTrack,
  isGiven,
  isGoneAt,
  newTrack,
  pinMatrix,
  rememberedPinMatrix,
  trackAt,
  pinRestingOn,
  shareAtEnd,
} from './tracks'
export { initialParameters, nameOfUse, ownedBy, parametersFor, withPoints } from './parameters'
export {
  allOf,
  childrenOf,
  elementsFound,
  elementsInOrder,
  find,
  firstRanks,
  inOrder,
  isInside,
  lastRank,
  newId,
  parentOf,
  partsOfInput,
  plateSource,
  rankBetween,
  rootInput,
  sourcesByName,
  usesOf,
} from './find'
export { group, movable, moveTo, namesOf, removeAll, step, ungroup, type Spot } from './arranging'
export {
  copyElements,
  duplicateElements,
  NothingToPasteError,
  pasteElements,
  readCopied,
  type CopiedElements,
  type Pasted,
} from './copying'
export type { FoundFiles, MissingSource } from './relinking'
export { belongsTo, goesThroughGlass } from './camera-places'
export { isBentByMap, lensOver, type LensOver } from './plate-lens'
export { errorsOf, planeGrid, planeTold, ratioOf, type PlaneTold } from './planes'
export { planeOfTracks } from './plane-of-tracks'
export { cameraOfPlane, type CameraOfPlane, type PlaneCamera } from './camera-of-plane'
export {
  placeOnPlate,
  rectangleThrough,
  regionOfRectangle,
  trackOfPlace,
  type FramePose,
  type SolvedScene,
} from './solved-tracks'
export { onlyWith } from './only-with'
export { changesForPurpose } from './witness-for'
export { framesOfReferenceObject, onReferenceObject, type SeenOf } from './reference-objects'
export { newUse } from './new-use'
export { nextMarkerName } from './marker-names'
export { newSample, newWitness } from './new-sample'
export { copyTreatments, makeOwn, pasteTreatments, readCopiedTreatments } from './copying-treatments'
export { differences } from './differences'
export { allKeyed, keyAll, onAll, tagAll } from './several'
export { isGroup, isIsolated, isolationFault } from './isolation'
export { versionIn, type VersionInPath } from './versions'
export { refsOfSource, usersOf, type Reference, type ThingKind } from './refs'
export { framePath, servingFrame, shotFramesOf, sourceFrame, timedFrame, type FilesThere } from './source-files'
export { coveringScale, wayOf } from './covering'
export { fitted, movePivot, moveWith, pinMoved, pinned, scaleAbout, type Extremes, type Fitting } from './moving'
export { addMade, addShadowOf, madeKinds, type MadeKind } from './made-elements'
export { barOf, movedBars, timedInputs, type BarPart } from './bars'
export {
  keyedCurves,
  movedKeyframes,
  withBeyond,
  withHandle,
  withoutKeyframes,
  withWay,
  type ChosenKeyframe,
  type KeyedCurve,
} from './keyed'
export { mediaKind, type MediaKind } from './media-kind'
