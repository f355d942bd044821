/** Matching: readings of witnesses, whether they agree, and settings that are proposed from them. */

export { fitLine, type FittedLine, type PairOfReadings } from './fit-line'
export { proposeVeilAndGain, type PairRead, type Sure, type VeilAndGain } from './propose'
export {
  judged,
  readSide,
  witnessPurposes,
  type Judged,
  type Rgb,
  type SideReading,
  type Verdict,
  type WitnessPurpose,
} from './reading'
