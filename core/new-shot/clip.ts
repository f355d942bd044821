/** Files that a new shot may be made of, and what each is taken to be. */

import { type FirstFile, mediaKind } from '../shot'
import { type FileGroup, type PictureHeader } from '../check'
import type { Holds } from './holds'
import { passRole } from './pass-names'

/** A sequence or a file, as it was found. */
export interface FoundClip {
  /** as the browser names it, with a run of # for the frame number */
  readonly path: string
  readonly frames: FileGroup['frames']
  /** how many files there are */
  readonly count: number
  /** null of what is no picture, or cannot be read */
  readonly header: PictureHeader | null
  /** what its pixels are; of a file with parts, those of the part that shows most */
  readonly holds: Holds | null
  /** what its first file holds; null of what is no picture, or cannot be read */
  readonly firstFile: FirstFile | null
  /** why it cannot be read */
  readonly problem: string | null
}

/**
 * - `picture`: a sequence of light everywhere: the plate, if it is the only one
 * - `still`: one such picture, a clean plate or a reference
 * - `render`: what stands in the scene: cut out, or in passes
 * - `movie`: it has to be decoded first
 */
export type ClipRole =
  'picture' | 'still' | 'render' | 'matte' | 'depth' | 'map' | 'table' | 'camera' | 'movie' | 'none'

export function roleOf({ path, frames, header, holds }: FoundClip): ClipRole {
  const kind = mediaKind(path)
  if (kind === 'table' || kind === 'camera' || kind === 'movie') return kind
  if (!header || !holds) return 'none'
  const telling = header.parts.filter(({ name }) => !['beauty', 'other', 'alpha'].includes(passRole(name)))
  if (telling.length > 0 || holds === 'cut-out' || holds === 'light') return 'render'
  if (holds === 'picture') return frames ? 'picture' : 'still'
  return holds
}

/** The part by which a file is judged: the beauty, else light, else the first. */
export function tellingPart({ parts }: PictureHeader): string | null {
  const byRole = (role: string) => parts.find(({ name }) => passRole(name) === role)
  return (byRole('beauty') ?? byRole('light') ?? parts[0]).name
}
