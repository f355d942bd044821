/** From a frame request to the source frame: finds the file inside the shot's folder, reads the channels it needs. */

import { realpath } from 'node:fs/promises'
import { basename, resolve, sep } from 'node:path'
import { channelsFor, reduceFrame, type SourceFrame } from '../../core/engine/source-frame'
import type { FrameRequest } from '../../core/graph/steps'
import { readExr, readExrHeader, NotInExrError } from '../../formats/exr'
import { inflate, MissingFileError, withFile } from './file-source'

/** The path leads out of the folder that may be read. */
export class OutsideMediaError extends Error {
  override readonly name = 'OutsideMediaError'
}

/**
 * @returns the real path of a file inside `folder`, links followed
 * @throws OutsideMediaError when it leads out of the folder; MissingFileError when it is not there
 */
export async function pathInside(folder: string, relative: string): Promise<string> {
  const refuse = () =>
    new OutsideMediaError(`${relative} lies outside the shot's folder and is not read. Copy it into the folder.`)
  const wanted = resolve(folder, relative)
  if (!wanted.startsWith(resolve(folder) + sep)) throw refuse()
  let real: string
  try {
    real = await realpath(wanted)
  } catch {
    throw new MissingFileError(
      `${relative} does not exist. Render it, copy it there, or change the source's frame range.`,
    )
  }
  if (!real.startsWith((await realpath(folder)) + sep)) throw refuse()
  return real
}

/** @param folder where the shot file lies; source paths are relative to it */
export async function readSourceFrame(folder: string, request: FrameRequest): Promise<SourceFrame> {
  const path = await pathInside(folder, request.path)
  return withFile(path, basename(request.path), async (source) => {
    const header = await readExrHeader(source)
    const part = request.part === null ? header.parts[0] : header.parts.find((p) => p.name === request.part)
    if (!part) {
      throw new NotInExrError(
        source.name,
        `it has no part "${request.part}"`,
        `Its parts are: ${header.parts.map((p) => p.name || p.index).join(', ')}.`,
      )
    }
    const channels = channelsFor(
      { ...request, path: source.name },
      part.channels.map((c) => c.name),
    )
    const unique = [...new Set(channels)]
    const read = await readExr(source, { part: part.index, channels: unique, inflate, header })
    const planes = { ...read, planes: channels.map((name) => read.planes[unique.indexOf(name)]) }
    return reduceFrame(planes, request.claims, request.takes, request.scale)
  })
}
