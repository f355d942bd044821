export { tellingPart, roleOf, type ClipRole, type FoundClip } from './clip'
export { framesOfVersion, versionChanges, type VersionFiles } from './version-changes'
export { whatItHolds, type Holds } from './holds'
export { ImpossibleShotError, makeShot } from './make-shot'
export { passRole, type PassRole } from './pass-names'
export {
  claimsOf,
  clipAt,
  framesFor,
  proposeShot,
  remarksOn,
  workingSpaceFor,
  type Answers,
  type Proposal,
  type ProposedClip,
} from './propose'
