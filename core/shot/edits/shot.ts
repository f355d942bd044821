/** Edits of the shot as a whole: its name, range, rate and working space; and the way back to an earlier revision. */

import type { Draft } from 'immer'
import { object, string } from 'yup'
import { ImpossibleEditError } from '../impossible-edit'
import { limitsOfHead } from '../limits'
import { faultOf, headSchema, parseShot, shotSchema } from '../schema'
import type { Shot } from '../types'
import { checkGroups } from './elements'
import { editKind } from './kind'

const changeable = ['name', 'frames', 'rate', 'workingSpace'] as const

export type ShotChanges = Partial<Pick<Shot, (typeof changeable)[number]>>

export interface SetShot {
  readonly kind: 'set-shot'
  readonly changes: ShotChanges
}
/** everything but the name is again as in an earlier document; what is the same stays untouched */
export interface ReturnTo {
  readonly kind: 'return-to'
  readonly document: Shot
  /** what that state is called, for the history: "revision 12" */
  readonly called: string
}

const fields = (shape: Parameters<typeof object>[0]) => object(shape).noUnknown().strict().required()

const says: Readonly<Record<keyof ShotChanges, (shot: Shot, changes: ShotChanges) => string>> = {
  name: ({ name }, changes) => `Rename ${name} to ${changes.name ?? ''}`,
  frames: (_shot, { frames }) => `Range of the shot ${frames?.first ?? ''} to ${frames?.last ?? ''}`,
  rate: () => 'Rate of the shot',
  workingSpace: () => 'Working space of the shot',
}

export const setShot = editKind<SetShot>({
  kind: 'set-shot',
  schema: fields({
    kind: string().required(),
    changes: object()
      .strict()
      .required()
      .test('names', '${path} changes what it may not', (value) =>
        Object.keys(value ?? {}).every((name) => (changeable as readonly string[]).includes(name)),
      ),
  }),
  apply(draft, { changes }) {
    for (const [name, value] of Object.entries(changes))
      if (!same(draft[name as keyof ShotChanges], value)) Object.assign(draft, { [name]: value })
    const { name, frames, rate, workingSpace } = draft
    const fault = faultOf(headSchema, JSON.parse(JSON.stringify({ name, frames, rate, workingSpace })))
    if (fault) throw new ImpossibleEditError(`The shot: ${fault}.`)
    const [beyond] = limitsOfHead(draft as Shot)
    if (beyond) throw new ImpossibleEditError(`${beyond.charAt(0).toUpperCase()}${beyond.slice(1)}.`)
  },
  sentence: (shot, { changes }) => {
    const [first] = changeable.filter((name) => name in changes)
    return first ? says[first](shot, changes) : 'Settings of the shot'
  },
})

const tables = [
  'sources',
  'elements',
  'treatments',
  'uses',
  'tries',
  'samples',
  'markers',
  'witnesses',
  'referenceObjects',
  'tracks',
  'mattes',
] as const

export const returnTo = editKind<ReturnTo>({
  kind: 'return-to',
  schema: fields({
    kind: string().required(),
    document: shotSchema as never,
    called: string().strict().trim().min(1).max(200).required(),
  }),
  apply(draft, { document }) {
    const wanted = parseShot(document, 'The earlier document')
    for (const name of tables) {
      const now = draft[name].byId as Record<string, unknown>
      const then = wanted[name].byId as Readonly<Record<string, unknown>>
      for (const id of Object.keys(now)) if (!Object.hasOwn(then, id)) delete now[id]
      for (const [id, thing] of Object.entries(then)) if (!same(now[id], thing)) now[id] = thing
    }
    const { seed, frames, rate, frameSize, pixelAspect, workingSpace, plate, shutter } = wanted
    const head = { seed, frames, rate, frameSize, pixelAspect, workingSpace, plate, shutter }
    for (const [name, value] of Object.entries(head))
      if (!same(draft[name as keyof typeof head], value)) Object.assign(draft, { [name]: value })
    checkGroups(draft as Draft<Shot>)
  },
  sentence: (_shot, { called }) => `Return to ${called}`,
})

/** Documents are JSON; a database keeps no order of keys. */
function same(a: unknown, b: unknown): boolean {
  if (a === b) return true
  if (typeof a !== 'object' || typeof b !== 'object' || a === null || b === null) return false
  const [left, right] = [Object.keys(a), Object.keys(b)]
  return (
    left.length === right.length &&
    left.every((key) => Object.hasOwn(b, key) && same(a[key as keyof typeof a], b[key as keyof typeof b]))
  )
}
