/** From a frame request to the source frame: finds the file inside the media roots, reads the channels it needs. */

import { realpath } from 'node:fs/promises'
import { basename, resolve, sep } from 'node:path'
import {
  boundsAtScale,
  channelsFor,
  fileWindowOf,
  frameAtScale,
  type SourceFrame,
} from '../../core/engine/source-frame'
import type { FrameRequest } from '../../core/graph/steps'
import type { Window } from '../../core/image/window'
import type { ReadCost } from '../../formats/exr'
import { MissingFileError, withFile } from './file-source'
import { readPicture, readPictureWindows, type FileWindows } from './picture-files'

/** The path leads out of the folder that may be read. */
export class OutsideMediaError extends Error {
  override readonly name = 'OutsideMediaError'
}

/** Where files may be read, and what paths are relative to. */
export interface MediaPlace {
  /** nothing outside these folders is read, links followed */
  readonly roots: readonly string[]
  /** inside one of them: the folder of the shot file */
  readonly folder: string
}

/**
 * @param name what sentences call it
 * @returns the real path of a file, links followed
 * @throws OutsideMediaError when it leads out of the roots; MissingFileError when it is not there
 */
export async function pathInside({ roots, folder }: MediaPlace, relative: string, name = relative): Promise<string> {
  const refuse = () =>
    new OutsideMediaError(`${name} lies outside the media roots and is not read. Copy it into one of them.`)
  const wanted = resolve(folder, relative)
  if (!isBelow(roots, wanted)) throw refuse()
  let real: string
  try {
    real = await realpath(wanted)
  } catch {
    throw new MissingFileError(`${name} does not exist. Render it, copy it there, or change the source's frame range.`)
  }
  const realRoots = await Promise.all(roots.map((root) => realpath(root).catch(() => root)))
  if (!isBelow(realRoots, real)) throw refuse()
  return real
}

/** By its name alone: links are not followed. */
export function isBelow(roots: readonly string[], path: string): boolean {
  return roots.some((root) => path.startsWith(resolve(root).replace(/\/?$/, sep)))
}

/**
 * @param window part of the frame, in pixels of the graph; absent: all of it
 * @param cost what was read and unpacked is added here
 */
export async function readSourceFrame(
  place: MediaPlace,
  request: FrameRequest,
  window?: Window,
  cost?: ReadCost,
): Promise<SourceFrame> {
  const path = await pathInside(place, request.path)
  if (request.takes === 'table') {
    const { readTableFile } = await import('./read-table')
    return readTableFile(path, basename(request.path))
  }
  return withFile(path, basename(request.path), async (source) => {
    const choose = (available: readonly string[]) => channelsFor({ ...request, path: source.name }, available)
    const part = window && ((of: FileWindows) => fileWindowOf(window, of, request))
    return frameAtScale(await readPicture(source, request.part, choose, { window: part, cost }), request)
  })
}

/** Where a file's pixels lie, in pixels of the graph: only its header is read. */
export async function readSourceBounds(place: MediaPlace, request: FrameRequest): Promise<Window> {
  const path = await pathInside(place, request.path)
  return withFile(path, basename(request.path), async (source) =>
    boundsAtScale(await readPictureWindows(source, request.part), request),
  )
}
