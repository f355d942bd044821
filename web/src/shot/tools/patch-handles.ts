/** Where a patch of the selected element is filled from: a handle to drag it by, and its outline there. */

import { valueAt, type Curve } from '../../../../core/motion/curve'
import type { Spot } from '../../../../core/motion/placing'
import { spotAfter, type Outline } from '../../../../core/outline'
import {
  find,
  inOrder,
  isThere,
  seenOutline,
  usesOf,
  type Matte,
  type Owner,
  type Shot,
  type SingleChange,
  type Use,
} from '../../../../core/shot'
import type { Handle } from './tool'

interface PatchSeen {
  readonly use: Use
  /** places of what is filled: of each outline, or all that was painted */
  readonly pieces: readonly (readonly Spot[])[]
  readonly closed: boolean
  readonly offset: Spot
}

/** Patches whose matte is drawn or painted, and so lies somewhere. */
function patchesOf(shot: Shot | null, id: string, frame: number): PatchSeen[] {
  if (!shot || !find(shot.elements, id)) return []
  return usesOf(shot, { kind: 'element', id }).flatMap((use): PatchSeen[] => {
    const treatment = find(shot.treatments, use.treatment)
    const matte = use.limit?.matte?.kind === 'matte' ? find(shot.mattes, use.limit.matte.matte) : undefined
    if (treatment?.kind !== 'patch' || !use.on || !matte) return []
    const pieces = piecesOf(shot, matte, frame)
    const at = (name: string) => valueAt((treatment.parameters[name] as readonly Curve[])[0], frame)
    return pieces.length > 0
      ? [{ use, pieces, closed: matte.kind === 'drawn', offset: [at('across'), at('down')] }]
      : []
  })
}

function piecesOf(shot: Shot, matte: Matte, frame: number): readonly (readonly Spot[])[] {
  if (matte.kind === 'drawn')
    return inOrder(matte.shapes)
      .filter((shape) => isThere(shape, frame))
      .map((shape) => alongOutline(seenOutline({ shot, matte, shape, frame })))
  if (matte.kind !== 'painted') return []
  return inOrder(matte.strokes)
    .filter((stroke) => stroke.how === 'add' && (stroke.frame === undefined || stroke.frame === frame))
    .map(({ points }) => Array.from({ length: points.length / 2 }, (_, i): Spot => [points[2 * i], points[2 * i + 1]]))
}

const eighths = Array.from({ length: 8 }, (_, i) => i / 8)

/** Its points, and where it bends places between them. */
function alongOutline(outline: Outline): readonly Spot[] {
  return outline.flatMap(({ after }, i) => {
    const { before } = outline[(i + 1) % outline.length]
    const bends = [...after, ...before].some((handle) => handle !== 0)
    return (bends ? eighths : [0]).map((share) => spotAfter(outline, i, share))
  })
}

function middleOf(pieces: readonly (readonly Spot[])[]): Spot {
  const all = pieces.flat()
  const [xs, ys] = [all.map(([x]) => x), all.map(([, y]) => y)]
  return [(Math.min(...xs) + Math.max(...xs)) / 2, (Math.min(...ys) + Math.max(...ys)) / 2]
}

const hundredth = (value: number) => Math.round(value * 100) / 100

export function patchHandles(shot: Shot | null, id: string, frame: number): Handle[] {
  return patchesOf(shot, id, frame).map(({ use, pieces, offset }, i, all): Handle => {
    const what = all.length > 1 ? `patch ${i + 1}` : 'the patch'
    const [x, y] = middleOf(pieces)
    const owner: Owner = { kind: 'treatment', id: use.treatment }
    const set = (parameter: string, value: number): SingleChange => ({
      kind: 'set-parameter',
      at: { owner, parameter, channel: 0 },
      frame,
      value: hundredth(value),
    })
    return {
      name: `Where ${what} is filled from`,
      at: { x: x + offset[0], y: y + offset[1] },
      round: true,
      edit: (to) => ({
        kind: 'together',
        changes: [set('across', to.x - x), set('down', to.y - y)],
        label: `Where ${what} is filled from`,
      }),
    }
  })
}

/** What is filled, moved to where that is taken from, and a line between the middles; nothing where it is taken from the same place. */
export function patchOutlines(shot: Shot | null, id: string, frame: number): (readonly Spot[])[] {
  return patchesOf(shot, id, frame).flatMap(({ pieces, closed, offset: [dx, dy] }) => {
    if (dx === 0 && dy === 0) return []
    const [x, y] = middleOf(pieces)
    const moved = closed ? pieces.map((piece) => piece.map(([px, py]): Spot => [px + dx, py + dy])) : []
    return [...moved, [[x, y] as Spot, [x + dx, y + dy] as Spot]]
  })
}
