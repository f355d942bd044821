/** Judges composites by what the stand-in camera would have taken. Nothing but `enkrasis score` uses it. */

export { scoreFrame, type FrameScore, type Spread, type TrueGrain } from './score-frame'
export { pictureOf, type Picture, type Plane } from './picture'
