/** Edits of where an element lies; its numbers are parameters like others. */

import { object, string } from 'yup'
import { find } from '../find'
import { ImpossibleEditError } from '../impossible-edit'
import { limitsOfElement } from '../limits'
import { movesWithItself } from '../placing'
import { id, pinSchema, placingBox, placingFilter, placingSchema, placingShutter } from '../schema'
import type { Box, Element, Placing, Shot } from '../types'
import { editKind, elementIn, elementName, trackIn } from './kind'

/** from then on it can be moved */
export interface PlaceElement {
  readonly kind: 'place-element'
  readonly element: string
  readonly placing: Placing
}
/** it lies as it came again */
export interface RemovePlacing {
  readonly kind: 'remove-placing'
  readonly element: string
}
/** null: as it is when nothing is said */
export interface SetPlacing {
  readonly kind: 'set-placing'
  readonly element: string
  readonly changes: {
    readonly box?: Box
    readonly with?: string | null
    readonly pin?: Placing['pin'] | null
    readonly filter?: Placing['filter'] | null
    readonly shutter?: Placing['shutter'] | null
  }
}

const fields = (shape: Parameters<typeof object>[0]) => object(shape).noUnknown().strict().required()

/** @throws ImpossibleEditError where it would move with itself, by whatever way */
function checkCircle(shot: Shot, element: string): void {
  const found = find(shot.elements, element)
  const other = found?.placing?.with === undefined ? undefined : find(shot.elements, found.placing.with)
  if (found && movesWithItself(shot, element))
    throw new ImpossibleEditError(
      other && other.id !== element
        ? `${found.name} cannot move with ${other.name}, which moves with ${found.name}.`
        : `${found.name} cannot move with itself.`,
    )
}

export const placeElement = editKind<PlaceElement>({
  kind: 'place-element',
  schema: fields({ kind: string().required(), element: id(), placing: placingSchema.required() }),
  apply(draft, { element: named, placing }) {
    const element = elementIn(draft, named)
    if (draft.plate === named)
      throw new ImpossibleEditError('The plate is never moved: everything else is placed on it.')
    if (element.placing) throw new ImpossibleEditError(`${element.name} has been placed already.`)
    const [fault] = limitsOfElement({ ...(element as Element), placing })
    if (fault !== undefined) throw new ImpossibleEditError(`${fault}.`)
    if (placing.with !== undefined) elementIn(draft, placing.with)
    for (const track of placing.pin?.tracks ?? []) trackIn(draft, track)
    Object.assign(element, { placing })
    checkCircle(draft as Shot, named)
  },
  sentence: (shot, { element }) => `Place ${elementName(shot, element)}`,
})

export const removePlacing = editKind<RemovePlacing>({
  kind: 'remove-placing',
  schema: fields({ kind: string().required(), element: id() }),
  apply(draft, { element: named }) {
    const element = elementIn(draft, named)
    if (!element.placing) throw new ImpossibleEditError(`${element.name} lies as it came.`)
    delete element.placing
  },
  sentence: (shot, { element }) => `${elementName(shot, element)} lies as it came`,
})

export const setPlacing = editKind<SetPlacing>({
  kind: 'set-placing',
  schema: fields({
    kind: string().required(),
    element: id(),
    changes: fields({
      box: placingBox().notRequired().default(undefined),
      with: id().notRequired().nullable(),
      pin: pinSchema().notRequired().nullable().default(undefined),
      filter: placingFilter().nullable(),
      shutter: placingShutter().nullable(),
    }),
  }),
  apply(draft, { element: named, changes }) {
    const { placing, name } = elementIn(draft, named)
    if (!placing) throw new ImpossibleEditError(`${name} has not been placed.`)
    if (typeof changes.with === 'string') elementIn(draft, changes.with)
    for (const track of changes.pin?.tracks ?? []) trackIn(draft, track)
    for (const [field, value] of Object.entries(changes))
      if (value === null) delete placing[field as 'with']
      else Object.assign(placing, { [field]: value })
    checkCircle(draft as Shot, named)
  },
  sentence(shot, { element, changes }) {
    const name = elementName(shot, element)
    if (typeof changes.with === 'string') return `${name} moves with ${elementName(shot, changes.with)}`
    if (changes.with === null) return `${name} moves by itself`
    if (changes.pin)
      return `Pin ${name} to ${changes.pin.tracks.map((one) => find(shot.tracks, one)?.name ?? one).join(', ')}`
    if (changes.pin === null) return `Unpin ${name}`
    if ('filter' in changes) return `Filter of ${name}`
    return 'shutter' in changes ? `Motion blur of ${name}` : `Box of ${name}`
  },
})
