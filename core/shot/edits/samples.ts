/** Edits of samples: the places and regions whose values are kept in sight. */

import { object, string } from 'yup'
import { find } from '../find'
import { ImpossibleEditError } from '../impossible-edit'
import { mostSamples } from '../limits'
import { faultOf, id, sampleSchema } from '../schema'
import type { Sample, Shot } from '../types'
import { editKind, put, sampleIn, take } from './kind'

export interface KeepSample {
  readonly kind: 'keep-sample'
  readonly sample: Sample
}
/** `follows` null: it stays where it is in the frame */
export interface SetSample {
  readonly kind: 'set-sample'
  readonly sample: string
  readonly changes: Partial<Pick<Sample, 'name' | 'x' | 'y' | 'width' | 'height'>> & {
    readonly follows?: Sample['follows'] | null
  }
}
export interface RemoveSample {
  readonly kind: 'remove-sample'
  readonly sample: string
}

const changeable = ['name', 'x', 'y', 'width', 'height', 'follows']
const fields = (shape: Parameters<typeof object>[0]) => object(shape).noUnknown().strict().required()
const sampleName = ({ samples }: Shot, wanted: string) => find(samples, wanted)?.name ?? wanted

export const keepSample = editKind<KeepSample>({
  kind: 'keep-sample',
  schema: fields({ kind: string().required(), sample: sampleSchema }),
  apply(draft, { sample }) {
    if (Object.keys(draft.samples.byId).length >= mostSamples)
      throw new ImpossibleEditError(`A shot keeps at most ${mostSamples} samples. Remove some first.`)
    put(draft.samples, sample, 'sample')
  },
  sentence: (_shot, { sample }) => `Keep sample ${sample.name}`,
})

export const setSample = editKind<SetSample>({
  kind: 'set-sample',
  schema: fields({
    kind: string().required(),
    sample: id(),
    changes: object()
      .strict()
      .required()
      .test('names', '${path} changes what it may not', (value) =>
        Object.keys(value ?? {}).every((name) => changeable.includes(name)),
      ),
  }),
  apply(draft, { sample: named, changes }) {
    const sample = sampleIn(draft, named)
    for (const [name, value] of Object.entries(changes))
      if (value === null) delete sample[name as 'follows']
      else Object.assign(sample, { [name]: value })
    const fault = faultOf(sampleSchema, JSON.parse(JSON.stringify(sample)))
    if (fault) throw new ImpossibleEditError(`The sample: ${fault}.`)
  },
  sentence(shot, { sample, changes }) {
    const name = sampleName(shot, sample)
    if (changes.name !== undefined) return `Rename sample ${name} to ${changes.name}`
    if (changes.follows) {
      const { element, track } = changes.follows
      const followed = track === undefined ? find(shot.elements, element) : find(shot.tracks, track)
      return `Sample ${name} follows ${followed?.name ?? 'what is gone'}`
    }
    return changes.follows === null ? `Sample ${name} stays where it is` : `Move sample ${name}`
  },
})

export const removeSample = editKind<RemoveSample>({
  kind: 'remove-sample',
  schema: fields({ kind: string().required(), sample: id() }),
  apply(draft, { sample }) {
    sampleIn(draft, sample)
    take(draft.samples, sample)
  },
  sentence: (shot, { sample }) => `Remove sample ${sampleName(shot, sample)}`,
})
