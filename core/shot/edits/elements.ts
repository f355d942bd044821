/** Edits of elements: what there is in the picture, of what it is made, in which order. */

import type { Draft } from 'immer'
import { array, boolean, object, string } from 'yup'
import { blendKinds, blends, type BlendKind } from '../../set/blends'
import { allOf, find, isInside, parentOf, rootInput } from '../find'
import { ImpossibleEditError } from '../impossible-edit'
import { isolationFault } from '../isolation'
import { movesWithItself } from '../placing'
import { limitsOfElement, limitsOfTreatment, mostElements } from '../limits'
import { newBlend } from '../defaults'
import {
  elementSchema,
  id,
  inputsSchema,
  labelColour,
  noteText,
  shownSchema,
  tagList,
  text,
  treatmentSchema,
  useSchema,
} from '../schema'
import type { BlendSettings, Element, Input, LabelColour, Shot, Table, TreatmentSettings, Use } from '../types'
import { editKind, elementIn, elementName, put, sourceIn, sourceName, take } from './kind'

/** with the treatments that come with it, and where they are used */
export interface AddElement {
  readonly kind: 'add-element'
  readonly element: Element
  readonly treatments: readonly TreatmentSettings[]
  readonly uses: readonly Use[]
}
/** with its uses, and with settings that nothing else uses; what is in a removed group comes to the top */
export interface RemoveElement {
  readonly kind: 'remove-element'
  readonly element: string
}
export interface ShowElement {
  readonly kind: 'show-element'
  readonly element: string
  readonly visible: boolean
}
/** what a person calls it and says of it; null: nothing of the kind any more */
export interface DescribeElement {
  readonly kind: 'describe-element'
  readonly element: string
  readonly changes: {
    readonly name?: string
    readonly note?: string | null
    readonly tags?: readonly string[] | null
    readonly label?: LabelColour | null
  }
}
/** settings of the same name keep their values */
export interface SetBlend {
  readonly kind: 'set-blend'
  readonly element: string
  readonly blend: BlendKind
}
/** null: the plate as it is treated */
export interface SetReveal {
  readonly kind: 'set-reveal'
  readonly element: string
  readonly shows: BlendSettings['shows'] | null
}
export interface SetInputs {
  readonly kind: 'set-inputs'
  readonly element: string
  readonly inputs: Table<Input>
}
/** whether the shot's glass acts on it */
export interface SetOwnGlass {
  readonly kind: 'set-own-glass'
  readonly element: string
  readonly own: boolean
}
/** into a group, or out of it, or farther or nearer */
export interface MoveElement {
  readonly kind: 'move-element'
  readonly element: string
  readonly parent: string | null
  readonly rank: string
}

const fields = (shape: Parameters<typeof object>[0]) => object(shape).noUnknown().strict().required()
const say = (faults: readonly string[]) => {
  if (faults.length > 0) throw new ImpossibleEditError(`${faults[0]}.`)
}

/** @throws ImpossibleEditError when elements are in each other, or a blend that darkens would be cut off from the plate */
export function checkGroups(draft: Draft<Shot>): void {
  const shot = draft as Shot
  for (const element of allOf(shot.elements)) {
    if (element.parent !== null && find(shot.elements, element.parent) && isInside(shot, element.parent, element.id))
      throw new ImpossibleEditError(`${element.name} cannot be in a group that is in ${element.name}.`)
  }
  for (const { id: own, name, placing } of allOf(shot.elements))
    if (placing && movesWithItself(shot, own))
      throw new ImpossibleEditError(`${name} would move with itself, by way of what it moves with.`)
  // Taken back, or done again, on one that is blended otherwise by now.
  for (const { name, blend } of allOf(shot.elements))
    if (blend.kind !== 'reveal' && blend.shows !== undefined)
      throw new ImpossibleEditError(
        `${name} is not blended as a reveal any more: there is nothing that it could reveal.`,
      )
  const fault = isolationFault(shot)
  if (fault) throw new ImpossibleEditError(fault)
}

export const addElement = editKind<AddElement>({
  kind: 'add-element',
  schema: fields({
    kind: string().required(),
    element: elementSchema,
    treatments: array(treatmentSchema).max(200).required(),
    uses: array(useSchema).max(200).required(),
  }),
  apply(draft, { element, treatments, uses }) {
    if (Object.keys(draft.elements.byId).length >= mostElements)
      throw new ImpossibleEditError(`A shot has at most ${mostElements} elements.`)
    say([...limitsOfElement(element), ...treatments.flatMap(limitsOfTreatment)])
    put(draft.elements, element, 'element')
    for (const one of treatments) put(draft.treatments, one, 'treatment')
    for (const one of uses) {
      if (one.owner.kind !== 'element' || one.owner.id !== element.id)
        throw new ImpossibleEditError(`A treatment that comes with ${element.name} is not used on it.`)
      put(draft.uses, one, 'use of a treatment')
    }
    checkGroups(draft)
  },
  sentence: (_shot, { element }) => `Add ${element.name}`,
})

export const removeElement = editKind<RemoveElement>({
  kind: 'remove-element',
  schema: fields({ kind: string().required(), element: id() }),
  apply(draft, { element: removed }) {
    elementIn(draft, removed)
    if (draft.plate === removed)
      throw new ImpossibleEditError('The plate cannot be removed: everything else is blended over it.')
    const own = allOf(draft.uses as Table<Use>).filter(({ owner }) => owner.kind === 'element' && owner.id === removed)
    for (const { id: use } of own) take(draft.uses, use)
    for (const { treatment } of own) removeUnused(draft, treatment)
    take(draft.elements, removed)
  },
  sentence: (shot, { element }) => `Remove ${elementName(shot, element)}`,
})

/** Settings that nothing uses any more are of no use. */
export function removeUnused(draft: Draft<Shot>, treatment: string): void {
  if (!allOf(draft.uses as Table<Use>).some((use) => use.treatment === treatment)) take(draft.treatments, treatment)
}

export const showElement = editKind<ShowElement>({
  kind: 'show-element',
  schema: fields({ kind: string().required(), element: id(), visible: boolean().strict().required() }),
  apply(draft, { element, visible }) {
    if (draft.plate === element && !visible)
      throw new ImpossibleEditError('The plate cannot be hidden: everything else is blended over it.')
    elementIn(draft, element).visible = visible
  },
  sentence: (shot, { element, visible }) => `${visible ? 'Show' : 'Hide'} ${elementName(shot, element)}`,
})

export const describeElement = editKind<DescribeElement>({
  kind: 'describe-element',
  schema: fields({
    kind: string().required(),
    element: id(),
    changes: fields({
      name: text().optional(),
      note: noteText().nullable().optional(),
      tags: tagList().nullable().optional(),
      label: labelColour().nullable().optional(),
    }),
  }),
  apply(draft, { element: named, changes }) {
    const element = elementIn(draft, named)
    for (const [name, value] of Object.entries(changes))
      if (value === null || (Array.isArray(value) && value.length === 0)) delete element[name as 'note']
      else Object.assign(element, { [name]: value })
  },
  sentence: (shot, { element, changes }) => {
    const name = elementName(shot, element)
    if (changes.name !== undefined) return `Rename ${name} to ${changes.name}`
    return `${'note' in changes ? 'Note on' : 'tags' in changes ? 'Tags of' : 'Label of'} ${name}`
  },
})

export const setBlend = editKind<SetBlend>({
  kind: 'set-blend',
  schema: fields({
    kind: string().required(),
    element: id(),
    blend: string()
      .oneOf([...blendKinds])
      .required(),
  }),
  apply(draft, { element: named, blend }) {
    if (draft.plate === named)
      throw new ImpossibleEditError('The plate is not blended: everything else is blended over it.')
    const element = elementIn(draft, named)
    if (element.blend.kind === blend) return
    const { parameters } = newBlend(blend)
    const kept = Object.entries(element.blend.parameters).filter(
      ([name, curves]) => Object.hasOwn(parameters, name) && parameters[name].length === curves.length,
    )
    element.blend = { kind: blend, parameters: { ...parameters, ...Object.fromEntries(kept) } } as Draft<BlendSettings>
    say(limitsOfElement(element as Element))
    checkGroups(draft)
  },
  sentence: (shot, { element, blend }) => `${elementName(shot, element)}: ${blends[blend].label.toLowerCase()}`,
})

export const setReveal = editKind<SetReveal>({
  kind: 'set-reveal',
  schema: fields({ kind: string().required(), element: id(), shows: shownSchema().nullable().defined() }),
  apply(draft, { element: named, shows }) {
    const { blend, name } = elementIn(draft, named)
    if (blend.kind !== 'reveal')
      throw new ImpossibleEditError(`${name} does not reveal anything: its blend is another.`)
    if (!shows) delete blend.shows
    else blend.shows = { ...shows, source: sourceIn(draft, shows.source).id }
  },
  sentence: (shot, { element, shows }) =>
    `${elementName(shot, element)} reveals ${shows ? sourceName(shot, shows.source) : 'the plate'}`,
})

export const setInputs = editKind<SetInputs>({
  kind: 'set-inputs',
  schema: fields({ kind: string().required(), element: id(), inputs: inputsSchema }),
  apply(draft, { element: named, inputs }) {
    const element = elementIn(draft, named)
    element.inputs = inputs as Draft<Table<Input>>
    say(limitsOfElement({ ...(element as Element), inputs }))
    if (draft.plate === named && rootInput({ inputs })?.kind === 'group')
      throw new ImpossibleEditError('The plate cannot be a group.')
    checkGroups(draft)
  },
  sentence: (shot, { element }) => `What ${elementName(shot, element)} is made of`,
})

export const setOwnGlass = editKind<SetOwnGlass>({
  kind: 'set-own-glass',
  schema: fields({ kind: string().required(), element: id(), own: boolean().strict().required() }),
  apply(draft, { element: named, own }) {
    const element = elementIn(draft, named)
    if (own) element.ownGlass = true
    else delete element.ownGlass
  },
  sentence: (shot, { element, own }) =>
    `${elementName(shot, element)} ${own ? 'without' : 'through'} the glass of the shot`,
})

export const moveElement = editKind<MoveElement>({
  kind: 'move-element',
  schema: fields({
    kind: string().required(),
    element: id(),
    parent: id().nullable().defined(),
    rank: string().strict().min(1).max(500).required(),
  }),
  apply(draft, { element: named, parent, rank }) {
    const element = elementIn(draft, named)
    if (draft.plate === named && parent !== null) throw new ImpossibleEditError('The plate cannot be in a group.')
    if (parent !== null) {
      const group = elementIn(draft, parent) as Element
      if (rootInput(group)?.kind !== 'group') throw new ImpossibleEditError(`${group.name} is not a group.`)
    }
    Object.assign(element, { parent, rank })
    checkGroups(draft)
  },
  sentence: (shot, { element, parent }) =>
    parentOf(shot, find(shot.elements, element) ?? ({ parent: null } as Element)) === parent
      ? `Move ${elementName(shot, element)}`
      : parent === null
        ? `Take ${elementName(shot, element)} out of its group`
        : `Put ${elementName(shot, element)} into ${elementName(shot, parent)}`,
})
