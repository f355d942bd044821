/** What is said of a track. */

import { framesOfTrack, type FrameRange, type PlaneTold, type Track, type TrackPoint } from '../../../../core/shot'

export const modelWords = {
  least: 'As little as holds',
  translation: 'Keeps its shape',
  similarity: 'Turns and scales',
  affine: 'Shears as well',
  homography: 'In perspective',
} as const

/** "Known on 40 of 48 frames, 1001 to 1040" */
export function knownWords(track: Track, { first, last }: FrameRange): string {
  const frames = Object.keys(track.points).map(Number)
  const inShot = frames.filter((frame) => frame >= first && frame <= last).length
  const all = last - first + 1
  if (inShot === all) return `Known on all ${all} frames.`
  const known = framesOfTrack(track)
  const where = known.first === known.last ? `frame ${known.first}` : `${known.first} to ${known.last}`
  return `Known on ${inShot} of ${all} frames, ${where}.`
}

/** Where it was lost, in order. */
export const lostWords = ({ lost = {} }: Track): readonly string[] =>
  Object.entries(lost)
    .sort(([a], [b]) => Number(a) - Number(b))
    .map(([frame, why]) => `Stopped at ${frame}: ${why}.`)

/** "640.25, 311.50, within 0.03 px" */
export function placeWords(point: TrackPoint): string {
  const at = `${point.x.toFixed(2)}, ${point.y.toFixed(2)}`
  if ('byHand' in point) return `${at}, set by hand`
  if ('solved' in point) return `${at}, as the camera sees it`
  return `${at}, to ${Math.max(point.across, point.down).toFixed(3)} px`
}

/** Where the shape of a rectangle comes from. @param typed absent: it is taken as told */
export function toldWords(told: PlaneTold | null, typed: number | undefined): string {
  const perspective = told
    ? `its perspective tells ${told.ratio.toFixed(2)}, to ${told.error.toFixed(2)}, on frame ${told.frame}`
    : 'its perspective does not tell it: two of its sides look parallel, or it is seen from straight ahead'
  if (typed !== undefined) return `Typed; ${perspective}.`
  return told
    ? `${perspective[0].toUpperCase()}${perspective.slice(1)}.`
    : `${perspective[0].toUpperCase()}${perspective.slice(1)}. Type it.`
}
