/** `enkrasis camera`: the camera that a plane tells, as a file; or tracks of what the camera of a file sees. */

import { dirname, resolve } from 'node:path'
import {
  allOf,
  applyEdit,
  nameOfRegion,
  regionOfRectangle,
  trackOfPlace,
  type Shot,
  type SolvedScene,
} from '../../core/shot'
import { NoCameraToldError, planeCamera } from '../camera/plane-camera'
import { solvedScene } from '../camera/solved-scene'
import { writeWhole } from '../delivery/write-whole'
import { MissingFileError } from '../media/file-source'
import { placeOf } from '../media/media-roots'
import { readShotFile } from '../shots/shot-store'

export interface CameraOptions {
  readonly plane?: string
  readonly focal?: number
  readonly source?: string
  readonly out: string
  readonly mediaRoot?: readonly string[]
}

/** @throws NoCameraToldError, MissingFileError, UnusableCameraError, ImpossibleEditError */
export async function camera(file: string, { plane, focal, source, out, mediaRoot }: CameraOptions): Promise<void> {
  const shot = await readShotFile(resolve(file))
  if ((plane === undefined) === (source === undefined))
    throw new NoCameraToldError('Name the plane with --plane, or a source that is a camera file with --source.')
  if (plane !== undefined) return writeCameraOf(shot, plane, focal, resolve(out))
  const from = allOf(shot.sources).find(({ id, name }) => name === source || id === source)
  if (!from) throw new MissingFileError(`${shot.name} has no source "${source}".`)
  const tracked = withTracks(shot, await solvedScene(placeOf(mediaRoot, dirname(resolve(file))), shot, from))
  await writeWhole(resolve(out), JSON.stringify(tracked, null, 2))
  console.log(`${allOf(tracked.tracks).length - allOf(shot.tracks).length} tracks of what ${from.name} sees.`)
}

async function writeCameraOf(shot: Shot, plane: string, focal: number | undefined, out: string): Promise<void> {
  const corner = allOf(shot.tracks).find((one) => one.region && nameOfRegion(one) === plane)
  if (!corner?.region) throw new NoCameraToldError(`${shot.name} has no plane "${plane}".`)
  const told = await planeCamera(shot, corner.region.id, focal)
  await writeWhole(out, told.file)
  console.log(
    `Focal length ${told.focal.toFixed(1)} px${told.error > 0 ? ` +- ${told.error.toFixed(1)}` : ''}, corners off by ${told.rms.toFixed(3)} px on ${told.frames} frames.`,
  )
}

/** What no frame sees is left out. */
function withTracks(shot: Shot, { cameras: [{ poses }], points, planes }: SolvedScene): Shot {
  const ofPoints = points.reduce((so, { name, place }) => {
    const edit = trackOfPlace(so, poses, name, place)
    return edit ? applyEdit(so, edit).shot : so
  }, shot)
  return planes.reduce((so, { name, corners }) => {
    const edit = regionOfRectangle(so, poses, name, corners)
    return edit ? applyEdit(so, edit).shot : so
  }, ofPoints)
}
