/** Edits of reference objects: balls and charts that were shot where a render is to stand. */

import { object, string } from 'yup'
import { find } from '../find'
import { ImpossibleEditError } from '../impossible-edit'
import { mostReferenceObjects } from '../limits'
import { refsOfReferenceObject } from '../refs'
import { id, referenceObjectSchema } from '../schema'
import type { ReferenceObject } from '../types'
import { editKind, put, referenceObjectIn, sourceIn, take } from './kind'

export interface AddReferenceObject {
  readonly kind: 'add-reference-object'
  readonly referenceObject: ReferenceObject
}
/** Witnesses that were read on it stay, and are not judged. */
export interface RemoveReferenceObject {
  readonly kind: 'remove-reference-object'
  readonly referenceObject: string
}

const fields = (shape: Parameters<typeof object>[0]) => object(shape).noUnknown().strict().required()

export const addReferenceObject = editKind<AddReferenceObject>({
  kind: 'add-reference-object',
  schema: fields({ kind: string().required(), referenceObject: referenceObjectSchema }),
  apply(draft, { referenceObject }) {
    if (Object.keys(draft.referenceObjects.byId).length >= mostReferenceObjects)
      throw new ImpossibleEditError(`A shot has at most ${mostReferenceObjects} reference objects. Remove some first.`)
    const refs = refsOfReferenceObject(referenceObject)
    for (const ref of refs) sourceIn(draft, ref.id)
    if (new Set(refs.map((ref) => ref.id)).size < refs.length)
      throw new ImpossibleEditError(
        'Its photographs, its render and the render whose place it takes must be three sources.',
      )
    put(draft.referenceObjects, referenceObject, 'reference object')
  },
  sentence: (_shot, { referenceObject }) => `Reference object ${referenceObject.name}`,
})

export const removeReferenceObject = editKind<RemoveReferenceObject>({
  kind: 'remove-reference-object',
  schema: fields({ kind: string().required(), referenceObject: id() }),
  apply(draft, { referenceObject }) {
    referenceObjectIn(draft, referenceObject)
    take(draft.referenceObjects, referenceObject)
  },
  sentence: ({ referenceObjects }, { referenceObject: wanted }) =>
    `Remove reference object ${find(referenceObjects, wanted)?.name ?? wanted}`,
})
