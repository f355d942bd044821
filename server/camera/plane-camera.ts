/** The camera that a followed plane tells, and its file. */

import { cameraOfPlane, cornersOfRegion, nameOfRegion, type PlaneCamera, type Shot } from '../../core/shot'
import { writeCamera } from '../../formats/camera'

/** The plane does not tell a camera. */
export class NoCameraToldError extends Error {
  override readonly name = 'NoCameraToldError'
}

/**
 * @param region whose corners the plane has
 * @param focal in pixels of the plate; absent: as the corners tell it
 * @throws NoCameraToldError
 */
export async function planeCamera(shot: Shot, region: string, focal?: number): Promise<PlaneCamera> {
  const corners = cornersOfRegion(shot, region)
  if (!corners) throw new NoCameraToldError('That plane is gone: one of its corners was removed.')
  const name = nameOfRegion(corners[0])
  const told = cameraOfPlane(shot, corners, focal)
  if (!told)
    throw new NoCameraToldError(
      focal === undefined
        ? `The perspective of ${name} does not tell the focal length. Type it.`
        : `On no frame are the corners of ${name} those of such a rectangle. Set them anew, or change its shape.`,
    )
  const { frameSize, pixelAspect, frames, rate } = shot
  const file = await writeCamera({
    name: `${shot.name} camera`,
    aspect: (frameSize.width * pixelAspect) / frameSize.height,
    poses: told.poses,
    timing: { firstFrame: frames.first, framesPerSecond: rate.numerator / rate.denominator },
    planes: [{ name, corners: told.corners }],
  })
  const { focal: length, error, rms, lies, poses } = told
  return { focal: length, error, rms, lies, frames: poses.length, file }
}
