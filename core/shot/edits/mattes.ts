/** Edits of mattes as a whole. */

import type { Draft } from 'immer'
import { object, string } from 'yup'
import { matteDescriptions } from '../../set/owners'
import { find } from '../find'
import { ImpossibleEditError } from '../impossible-edit'
import { limitsOfMatte, mostMatteParts, mostMattes } from '../limits'
import { matteIsInItself, shapesUnder, strokesUnder } from '../mattes'
import {
  channelSchema,
  choicesOf,
  id,
  inverted,
  matteSchema,
  idPassSchema,
  objectIds,
  orNothing,
  partSchema,
  mattePinSchema,
  text,
} from '../schema'
import { byName, orNull, rank } from '../schema-parts'
import type { Choices, DrawnMatte, Matte, MattePart, ObjectsMatte, MattePin, PaintedMatte, Shot } from '../types'
import { editKind, elementIn, elementName, matteIn, put, take, trackIn } from './kind'

export interface AddMatte {
  readonly kind: 'add-matte'
  readonly matte: Matte
}
/** null: as it is when nothing is said */
export interface SetMatte {
  readonly kind: 'set-matte'
  readonly matte: string
  readonly changes: {
    readonly name?: string
    readonly rank?: string
    readonly inverted?: true | null
    /** of a drawn one: blurred by its motion, or not */
    readonly shutter?: 'closed' | null
    /** of a channel or a depth: which */
    readonly of?: { readonly source: string; readonly part: string | null; readonly channel: string | null }
    /** of an alpha or keyed one */
    readonly element?: string
    /** of a channel, a depth or objects: the element in whose picture it lies; null: in the frame */
    readonly lies?: string | null
    /** of a keyed one */
    readonly choices?: Choices
    /** of objects: the pass of ids */
    readonly ids?: Pick<ObjectsMatte, 'layers' | 'ranked'>
    /** of objects: which, ids by names */
    readonly objects?: Readonly<Record<string, number>>
    /** of a band: whose edge */
    readonly edgeOf?: string
    /** of a combined one: new and changed parts by id; null takes one away */
    readonly parts?: Readonly<Record<string, MattePart | null>>
  }
}
/** Drawn outlines move with tracks or an element from here on, or no more: on every keyframe they stay where they are. */
export interface PinMatte {
  readonly kind: 'pin-matte'
  readonly matte: string
  readonly pin: MattePin | null
}
export interface RemoveMatte {
  readonly kind: 'remove-matte'
  readonly matte: string
}

const fields = (shape: Parameters<typeof object>[0]) => object(shape).noUnknown().strict().required()
export const matteName = ({ mattes }: Shot, wanted: string) => find(mattes, wanted)?.name ?? wanted

function checkMatte(draft: Draft<Shot>, wanted: string): void {
  const matte = matteIn(draft, wanted)
  const [fault] = limitsOfMatte(matte as Matte)
  if (fault !== undefined) throw new ImpossibleEditError(`${fault}.`)
  if (matteIsInItself(draft as Shot, wanted))
    throw new ImpossibleEditError(`${matte.name} cannot be made of itself. Leave out the matte that is made of it.`)
}

export const addMatte = editKind<AddMatte>({
  kind: 'add-matte',
  schema: fields({ kind: string().required(), matte: matteSchema }),
  apply(draft, { matte }) {
    if (Object.keys(draft.mattes.byId).length >= mostMattes)
      throw new ImpossibleEditError(`A shot has at most ${mostMattes} mattes. Remove some first.`)
    put(draft.mattes, matte, 'matte')
    checkMatte(draft, matte.id)
  },
  sentence: (_shot, { matte }) => `Matte ${matte.name}`,
})

/** Fields as a person calls them, where that is not their name. */
const words: Readonly<Record<string, string>> = {
  lies: 'element in which it lies',
  ...{ of: 'channel', shutter: 'motion blur', parts: 'mattes in it', edgeOf: 'matte whose edge it is' },
}

/** Of what a matte is, only these may be nothing. */
const canBeTakenAway = ['inverted', 'shutter', 'lies']

const onlyOf: Readonly<Record<string, readonly Matte['kind'][]>> = {
  of: ['channel', 'depth'],
  edgeOf: ['band'],
  lies: ['channel', 'depth', 'objects'],
  objects: ['objects'],
  ids: ['objects'],
  shutter: ['drawn'],
  element: ['alpha', 'keyed'],
  choices: ['keyed'],
  parts: ['combined'],
}

export const setMatte = editKind<SetMatte>({
  kind: 'set-matte',
  schema: fields({
    kind: string().required(),
    matte: id(),
    changes: fields({
      name: text().notRequired(),
      rank: rank().notRequired(),
      inverted: orNothing(inverted()),
      shutter: orNothing(string().oneOf(['closed'])),
      of: orNothing(channelSchema()),
      element: id().notRequired(),
      lies: orNothing(id()),
      choices: orNothing(choicesOf(matteDescriptions.keyed)),
      edgeOf: id().notRequired(),
      objects: orNothing(objectIds()),
      ids: orNothing(idPassSchema()),
      parts: orNothing(byName(orNull(partSchema))),
    }),
  }),
  apply(draft, { matte: named, changes }) {
    const matte = matteIn(draft, named)
    for (const [field, value] of Object.entries(changes)) {
      const kinds = onlyOf[field] as readonly Matte['kind'][] | undefined
      if (kinds && !kinds.includes(matte.kind))
        throw new ImpossibleEditError(
          `${matte.name} is a ${matteDescriptions[matte.kind].label.toLowerCase()}, which has no ${words[field] ?? field}.`,
        )
      if (value === null && !canBeTakenAway.includes(field))
        throw new ImpossibleEditError(`${matte.name} cannot do without ${words[field] ?? field}.`)
      if (field === 'parts') continue
      if (field === 'of' || field === 'ids' || field === 'edgeOf') {
        Object.assign(matte, field === 'edgeOf' ? { matte: value } : value)
        continue
      }
      if (value === null) delete (matte as Record<string, unknown>)[field]
      else Object.assign(matte, { [field]: value })
    }
    if (changes.parts && matte.kind === 'combined') {
      for (const [name, part] of Object.entries(changes.parts))
        if (part === null) delete matte.parts.byId[name]
        else if (part.id !== name) throw new ImpossibleEditError(`Part "${part.id}" cannot be kept as "${name}".`)
        else matte.parts.byId[name] = { ...part }
      if (Object.keys(matte.parts.byId).length > mostMatteParts)
        throw new ImpossibleEditError(`A matte is made of at most ${mostMatteParts} others.`)
    }
    checkMatte(draft, named)
  },
  sentence(shot, { matte, changes }) {
    const name = matteName(shot, matte)
    if (changes.name !== undefined) return `Rename matte ${name} to ${changes.name}`
    if ('inverted' in changes) return changes.inverted ? `Invert matte ${name}` : `Matte ${name} not inverted`
    if ('lies' in changes)
      return `Matte ${name} lies in ${changes.lies ? elementName(shot, changes.lies) : 'the frame'}`
    if ('shutter' in changes) return `Motion blur of matte ${name}`
    return changes.rank === undefined ? `What matte ${name} is made of` : `Order of matte ${name}`
  },
})

export const pinMatte = editKind<PinMatte>({
  kind: 'pin-matte',
  schema: fields({ kind: string().required(), matte: id(), pin: mattePinSchema() }),
  apply(draft, { matte: named, pin }) {
    const matte = matteIn(draft, named)
    if (matte.kind !== 'drawn' && matte.kind !== 'painted')
      throw new ImpossibleEditError(`${matte.name} is neither drawn nor painted, so nothing of it can be pinned.`)
    if (pin && 'element' in pin) elementIn(draft, pin.element)
    else for (const track of pin?.tracks ?? []) trackIn(draft, track)
    const plain = JSON.parse(JSON.stringify(matte)) as DrawnMatte | PaintedMatte
    const next = pin ?? undefined
    const moved =
      plain.kind === 'drawn' ? shapesUnder(draft as Shot, plain, next) : strokesUnder(draft as Shot, plain, next)
    if (!moved)
      throw new ImpossibleEditError(
        `${pin && 'element' in pin ? 'The element flattens' : 'The tracks flatten'} everything on a keyframe of ${matte.name}. Pin it to tracks that lie farther apart, or to an element that has a size there.`,
      )
    if (matte.kind === 'painted') Object.assign(matte, { strokes: moved })
    else for (const [shape, keyframes] of Object.entries(moved)) Object.assign(matte.shapes.byId[shape], { keyframes })
    if (pin) Object.assign(matte, { pin })
    else delete matte.pin
  },
  sentence(shot, { matte, pin }) {
    const name = matteName(shot, matte)
    if (!pin) return `Unpin matte ${name}`
    if ('element' in pin) return `Matte ${name} moves with ${elementName(shot, pin.element)}`
    return `Pin matte ${name} to ${pin.tracks.map((one) => find(shot.tracks, one)?.name ?? one).join(', ')}`
  },
})

/** What uses it stays, and says that it is gone. */
export const removeMatte = editKind<RemoveMatte>({
  kind: 'remove-matte',
  schema: fields({ kind: string().required(), matte: id() }),
  apply(draft, { matte }) {
    matteIn(draft, matte)
    take(draft.mattes, matte)
  },
  sentence: (shot, { matte }) => `Remove matte ${matteName(shot, matte)}`,
})
