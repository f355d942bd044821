/** Edits of witnesses: pairs of regions that ought to agree. */

import { object, string } from 'yup'
import { find } from '../find'
import { ImpossibleEditError } from '../impossible-edit'
import { mostWitnesses } from '../limits'
import { faultOf, id, witnessSchema } from '../schema'
import type { Shot, Witness } from '../types'
import { editKind, elementIn, put, referenceObjectIn, take, trackIn, witnessIn } from './kind'

export interface AddWitness {
  readonly kind: 'add-witness'
  readonly witness: Witness
}
/** `tolerance` null: what is usual for its purpose; `frames` null: all; `lit` null: nowhere */
export interface SetWitness {
  readonly kind: 'set-witness'
  readonly witness: string
  readonly changes: Partial<Pick<Witness, 'name' | 'purpose' | 'reference' | 'adjusted' | 'element'>> & {
    readonly lit?: Witness['lit'] | null
    readonly tolerance?: number | null
    readonly frames?: Witness['frames'] | null
  }
}
export interface RemoveWitness {
  readonly kind: 'remove-witness'
  readonly witness: string
}

const changeable = ['name', 'purpose', 'reference', 'adjusted', 'lit', 'element', 'tolerance', 'frames']
const fields = (shape: Parameters<typeof object>[0]) => object(shape).noUnknown().strict().required()
const witnessName = ({ witnesses }: Shot, wanted: string) => find(witnesses, wanted)?.name ?? wanted

export const addWitness = editKind<AddWitness>({
  kind: 'add-witness',
  schema: fields({ kind: string().required(), witness: witnessSchema }),
  apply(draft, { witness }) {
    if (Object.keys(draft.witnesses.byId).length >= mostWitnesses)
      throw new ImpossibleEditError(`A shot has at most ${mostWitnesses} witnesses. Remove some first.`)
    elementIn(draft, witness.element)
    if (witness.on !== undefined) referenceObjectIn(draft, witness.on)
    for (const { along } of [witness.reference, witness.adjusted]) if (along !== undefined) trackIn(draft, along)
    put(draft.witnesses, witness, 'witness')
  },
  sentence: (_shot, { witness }) => `Witness ${witness.name}`,
})

export const setWitness = editKind<SetWitness>({
  kind: 'set-witness',
  schema: fields({
    kind: string().required(),
    witness: id(),
    changes: object()
      .strict()
      .required()
      .test('names', '${path} changes what it may not', (value) =>
        Object.keys(value ?? {}).every((name) => changeable.includes(name)),
      ),
  }),
  apply(draft, { witness: named, changes }) {
    const witness = witnessIn(draft, named)
    if (changes.element !== undefined) elementIn(draft, changes.element)
    for (const side of [changes.reference, changes.adjusted]) if (side?.along !== undefined) trackIn(draft, side.along)
    for (const [name, value] of Object.entries(changes))
      if (value === null) delete witness[name as 'tolerance']
      else Object.assign(witness, { [name]: value })
    const fault = faultOf(witnessSchema, JSON.parse(JSON.stringify(witness)))
    if (fault) throw new ImpossibleEditError(`The witness: ${fault}.`)
  },
  sentence(shot, { witness, changes }) {
    const name = witnessName(shot, witness)
    if (changes.name !== undefined) return `Rename witness ${name} to ${changes.name}`
    return changes.purpose === undefined && (changes.reference || changes.adjusted || changes.lit)
      ? `Move witness ${name}`
      : `Change witness ${name}`
  },
})

export const removeWitness = editKind<RemoveWitness>({
  kind: 'remove-witness',
  schema: fields({ kind: string().required(), witness: id() }),
  apply(draft, { witness }) {
    witnessIn(draft, witness)
    take(draft.witnesses, witness)
  },
  sentence: (shot, { witness }) => `Remove witness ${witnessName(shot, witness)}`,
})
