/** Reads a camera file, with the files that it names. */

import { readFile } from 'node:fs/promises'
import { dirname, join } from 'node:path'
import { readCameras, type CameraFile } from '../../formats/camera'
import { pathInside, type MediaPlace } from '../media/read-frame'

/**
 * @param path relative to the place's folder
 * @throws UnusableCameraError, OutsideMediaError, MissingFileError
 */
export async function readCameraFile(place: MediaPlace, path: string, name = path): Promise<CameraFile> {
  const bytes = async (wanted: string, called: string) =>
    new Uint8Array(await readFile(await pathInside(place, wanted, called)))
  return readCameras(await bytes(path, name), name, (uri) =>
    bytes(join(dirname(path), decodeURIComponent(uri)), join(dirname(name), decodeURIComponent(uri))),
  )
}
