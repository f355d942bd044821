/** What a camera file says of the frames of a shot. */

import type { Shot, SolvedScene, Source } from '../../core/shot'
import { UnusableCameraError } from '../../formats/camera'
import type { MediaPlace } from '../media/read-frame'
import { readCameraFile } from './read-camera'

/**
 * A file that says which frames its seconds stand for is taken at its word; otherwise its first key is the shot's first frame, at the shot's rate.
 *
 * @throws UnusableCameraError also where no camera has perspective; OutsideMediaError, MissingFileError
 */
export async function solvedScene(place: MediaPlace, shot: Shot, source: Source): Promise<SolvedScene> {
  const { cameras, points, planes, timing } = await readCameraFile(place, source.path, source.name)
  const { first, last } = shot.frames
  const rate = timing?.framesPerSecond ?? shot.rate.numerator / shot.rate.denominator
  const seen = cameras.flatMap(({ name, poseAt, keys }) => {
    if (!poseAt) return []
    const begins = timing ? 0 : (keys?.[0] ?? 0)
    const from = timing?.firstFrame ?? first
    const poses = Array.from({ length: last - first + 1 }, (_, i) => ({
      frame: first + i,
      ...poseAt(begins + (first + i - from) / rate),
    }))
    return [{ name, poses }]
  })
  if (seen.length === 0)
    throw new UnusableCameraError(
      `${source.name} has only cameras without perspective. Export it again with a camera that has some.`,
    )
  return { cameras: seen, points, planes, saysFrames: timing !== null }
}
