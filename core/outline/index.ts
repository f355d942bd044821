/** Drawn outlines: closed cubic lines, between keyframes, as straight pieces, and what they cover. */

export { outlineBetween } from './between'
export { coverageOf, reachOf, type FillCoverage } from './coverage'
export { crossesItself } from './crosses'
export { fittedStroke, type FittedStroke } from './fitted-stroke'
export { cornerNumbers, flattened, type Flattening } from './flattened'
export { boxOfOutline, cubicAfter, spotAfter, type Handle, type Outline, type PointPlace } from './place'
export { ellipseIn, rectangleOf } from './simple-shapes'
export { strokesLine, type BrushStroke } from './strokes'
export { nearestOn, withPoint } from './with-point'
export { fewestKeyframes } from './fewest-keyframes'
