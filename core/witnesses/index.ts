/** Witnesses on the pictures of a shot: what they read, and what is matched by them. */

export { plansOf, type Look, type Plans } from './look'
export { Following, scaleOfCentres } from './following'
export { countsOn, readingKey, WitnessReader, type WitnessReading } from './read-witness'
export { matchAll } from './match-all'
export type { Accept } from './matching'
export type { LeftPart, Matched, MatchedPart, Matching, PlanOf } from './parts'
