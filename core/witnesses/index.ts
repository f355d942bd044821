/** Witnesses on the pictures of a shot: what they read, and what is matched by them. */

export { plansOf, type Look, type Plans } from './look'
export { Following, scaleOfCentres } from './following'
export { countsOn, readingKey, WitnessReader, type WitnessReading } from './read-witness'
export { matchAll } from './match-all'
export { accepted, changesOf, type Accept } from './changes'
export type { LeftPart, Matched, MatchedPart, Matching, PlanOf } from './parts'
export type { ShotMatching } from './shot-matching'
