/** Edits of the strokes of a painted matte. */

import { object, string } from 'yup'
import { ImpossibleEditError } from '../impossible-edit'
import { mostPaintStrokes } from '../limits'
import { id, paintStrokeSchema } from '../schema'
import { byName, orNull } from '../schema-parts'
import type { PaintStroke, StrokeWay } from '../types'
import { editKind, matteIn } from './kind'
import { matteName } from './mattes'

/** New and changed ones by id; null takes one away. */
export interface SetStrokes {
  readonly kind: 'set-strokes'
  readonly matte: string
  readonly strokes: Readonly<Record<string, PaintStroke | null>>
}

const wayWords: Readonly<Record<StrokeWay, string>> = { add: 'Paint', subtract: 'Erase', soften: 'Soften' }

export const setStrokes = editKind<SetStrokes>({
  kind: 'set-strokes',
  schema: object({ kind: string().required(), matte: id(), strokes: byName(orNull(paintStrokeSchema)) })
    .noUnknown()
    .strict()
    .required(),
  apply(draft, { matte: named, strokes }) {
    const matte = matteIn(draft, named)
    if (matte.kind !== 'painted') throw new ImpossibleEditError(`${matte.name} is not painted.`)
    for (const [name, stroke] of Object.entries(strokes))
      if (stroke === null) delete matte.strokes.byId[name]
      else if (stroke.id !== name) throw new ImpossibleEditError(`Stroke "${stroke.id}" cannot be kept as "${name}".`)
      else matte.strokes.byId[name] = { ...stroke, points: [...stroke.points] }
    if (Object.keys(matte.strokes.byId).length > mostPaintStrokes)
      throw new ImpossibleEditError(`A matte has at most ${mostPaintStrokes} strokes. Paint the rest in another matte.`)
  },
  sentence(shot, { matte, strokes }) {
    const name = matteName(shot, matte)
    const all = Object.values(strokes)
    const [first] = all
    if (all.every((stroke) => stroke === null))
      return `Take ${all.length === 1 ? 'a stroke' : `${all.length} strokes`} of ${name} away`
    return `${first ? wayWords[first.how] : 'Paint'} in ${name}`
  },
})
