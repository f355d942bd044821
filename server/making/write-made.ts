/** A picture that was made, to the file that its source names. */

import { mkdir } from 'node:fs/promises'
import { dirname, resolve } from 'node:path'
import { primaries, workingSpaces } from '../../core/colour'
import { CannotBeMadeError, makeFrame, type HeavyWork } from '../../core/making'
import type { Engine } from '../../core/engine/engine'
import type { Plane } from '../../core/image/planes'
import type { Window } from '../../core/image/window'
import type { Files } from '../../core/plan/catalog'
import type { PlanMemo } from '../../core/plan/memo'
import { framePath, type Shot, type Source } from '../../core/shot'
import { contentOf } from '../delivery/content-window'
import { writeWhole } from '../delivery/write-whole'
import { isBelow, OutsideMediaError, type MediaPlace } from '../media/read-frame'
import { encodePicture } from '../media/write-picture'

export interface MakingPlace {
  readonly shot: Shot
  readonly files: Files
  readonly memo: PlanMemo
  readonly place: MediaPlace
  readonly engine: Engine
  readonly heavy: HeavyWork
}

export interface MadeFile {
  /** relative to the shot's folder */
  readonly path: string
  readonly says: string
}

/**
 * Makes one file of a source that is made here; an older one of that name is replaced.
 *
 * @param frame number of the file; null: a still
 * @throws CannotBeMadeError, OutsideMediaError, and what looking at frames and writing throws
 */
export async function writeMade(
  { shot, files, memo, place, engine, heavy }: MakingPlace,
  source: Source,
  frame: number | null,
  how: { readonly signal?: AbortSignal; readonly attempt?: string; readonly progress?: (share: number) => void } = {},
): Promise<MadeFile> {
  if (!source.made) throw new CannotBeMadeError(`${source.name} is not made here.`)
  const relative = framePath(source.path, frame)
  const path = resolve(place.folder, relative)
  if (!isBelow(place.roots, path))
    throw new OutsideMediaError(`${relative} lies outside the media roots and is not written. Choose another path.`)
  const { signal, progress, attempt } = how
  const { light, window, display, says } = await makeFrame(
    {
      shot,
      planning: (scale) => ({ shot, scale, files, memo }),
      light: (step, part) => engine.light(step, part, { signal, once: true }),
      ...{ heavy, signal, progress },
    },
    source.made,
    frame ?? shot.frames.first,
  )
  const planes = ['R', 'G', 'B', 'A'].map((name, c): Plane => {
    const samples = new Float32Array(light.length / 4)
    for (let i = 0; i < samples.length; i++) samples[i] = light[4 * i + c]
    return { name, type: 'float', samples }
  })
  const content = contentOf(planes, window)
  const cut = planes.map((plane): Plane => ({ ...plane, samples: partOf(plane.samples, window, content) }))
  const { red, green, blue, white } = primaries[workingSpaces[shot.workingSpace]]
  const bytes = await encodePicture(
    path,
    {
      ...{ dataWindow: content, displayWindow: display ?? window, planes: cut, encoding: 'linear' },
      standard: { chromaticities: { red, green, blue, white } },
    },
    // A still that is the mean of many frames is finer than half floats are.
    source.made.kind === 'clean-plate' ? 32 : 16,
  )
  await mkdir(dirname(path), { recursive: true })
  await writeWhole(path, bytes, attempt)
  return { path: relative, says }
}

function partOf(samples: ArrayLike<number>, whole: Window, part: Window): Float32Array {
  const out = new Float32Array(part.width * part.height)
  for (let y = 0, o = 0; y < part.height; y++) {
    const line = (part.y + y - whole.y) * whole.width + part.x - whole.x
    for (let x = 0; x < part.width; x++) out[o++] = samples[line + x]
  }
  return out
}
