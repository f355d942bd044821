/** Witnesses on the pictures of a shot: what they read, and what is matched by them. */

export { plansOf, type Look, type Plans } from './look'
export { countsOn, readingKey, WitnessReader, type WitnessReading } from './read-witness'
export { suggestWitnesses, type NotSuggested, type Suggested, type Suggestion } from './suggest'
export { suggestedPurposes, type SuggestedPurpose } from './places-to-compare'
export { matchAll } from './match-all'
export { accepted, changesOf, type Accept } from './changes'
export type { LeftPart, Matched, MatchedPart, Matching, PlanOf } from './parts'
export type { ShotMatching } from './shot-matching'
export { checkNames, checkRows, worstOf, type CheckCell, type CheckName, type CheckRow } from './check-rows'
export { factsKey, factsOf, type FactsOfElement, type FrameFacts, type KeptFacts } from './frame-facts'
export { proofOf, rangeText, type FrameRead, type Proof, type ProofRow } from './proof'
export type { KeptReading, ShotReadings } from './shot-readings'
