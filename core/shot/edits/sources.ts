/** Edits of sources: what is imported, and what is taken to be true of it. */

import { object, string } from 'yup'
import { ImpossibleEditError } from '../impossible-edit'
import { limitsOfSource } from '../limits'
import { faultOf, id, sourceSchema } from '../schema'
import type { Claims, Source } from '../types'
import { editKind, put, sourceIn, sourceName, take } from './kind'

export type SourceChanges = Partial<Pick<Source, (typeof changeable)[number]>>
const changeable = [
  'name',
  'path',
  'frames',
  'rate',
  'offset',
  'missing',
  'pixelAspect',
  'enlarge',
  'framing',
  'greenUp',
  'forComparing',
  'firstFile',
  'made',
] as const

export interface AddSource {
  readonly kind: 'add-source'
  readonly source: Source
}
export interface RemoveSource {
  readonly kind: 'remove-source'
  readonly source: string
}
export interface SetClaims {
  readonly kind: 'set-claims'
  readonly source: string
  readonly claims: Partial<Claims>
}
/** what is taken to be true of a source besides its claims; null: as the shot has it */
export interface SetSource {
  readonly kind: 'set-source'
  readonly source: string
  readonly changes: { readonly [Name in keyof SourceChanges]: SourceChanges[Name] | null }
}

const fields = (shape: Parameters<typeof object>[0]) => object(shape).noUnknown().strict().required()
/** Its values are checked by what becomes of the source. */
const anyOf = (names: readonly string[]) =>
  object()
    .strict()
    .required()
    .test('names', '${path} changes what it may not', (value) =>
      Object.keys(value ?? {}).every((name) => names.includes(name)),
    )

function check(source: Source): void {
  const shape = faultOf(sourceSchema, source)
  if (shape) throw new ImpossibleEditError(`${source.name || source.id}: ${shape}.`)
  if (source.made?.kind === 'clean-plate' && source.made.source === source.id)
    throw new ImpossibleEditError(`${source.name} cannot be made of itself. Choose another source.`)
  const [beyond] = limitsOfSource(source)
  if (beyond) throw new ImpossibleEditError(`${beyond.charAt(0).toUpperCase()}${beyond.slice(1)}.`)
}

const plain = (value: unknown) => JSON.parse(JSON.stringify(value)) as Source

export const addSource = editKind<AddSource>({
  kind: 'add-source',
  schema: fields({ kind: string().required(), source: sourceSchema }),
  apply(draft, { source }) {
    check(source)
    put(draft.sources, source, 'source')
  },
  sentence: (_shot, { source }) => `Import ${source.name}`,
})

/** Whoever still refers to it is told so; nothing else changes. */
export const removeSource = editKind<RemoveSource>({
  kind: 'remove-source',
  schema: fields({ kind: string().required(), source: id() }),
  apply(draft, { source }) {
    sourceIn(draft, source)
    take(draft.sources, source)
  },
  sentence: (shot, { source }) => `Remove ${sourceName(shot, source)}`,
})

export const setClaims = editKind<SetClaims>({
  kind: 'set-claims',
  schema: fields({ kind: string().required(), source: id(), claims: anyOf(['encoding', 'primaries', 'alpha']) }),
  apply(draft, { source: named, claims }) {
    const source = sourceIn(draft, named)
    Object.assign(source.claims, claims)
    check(plain(source))
  },
  sentence: (shot, { source }) => `Claims of ${sourceName(shot, source)}`,
})

export const setSource = editKind<SetSource>({
  kind: 'set-source',
  schema: fields({ kind: string().required(), source: id(), changes: anyOf(changeable) }),
  apply(draft, { source: named, changes }) {
    const source = sourceIn(draft, named)
    for (const [name, value] of Object.entries(changes)) {
      // A still is said by frames that are null; everything else that is null is as the shot has it.
      if (value === undefined || (value === null && name !== 'frames')) delete source[name as keyof SourceChanges]
      else Object.assign(source, { [name]: value })
    }
    check(plain(source))
  },
  sentence(shot, { source, changes }) {
    const name = sourceName(shot, source)
    if (changes.made) return `How ${name} is made`
    if (changes.forComparing !== undefined)
      return `${name} ${changes.forComparing ? 'is' : 'is not'} for comparing only`
    return `${Object.keys(changes).join(', ')} of ${name}`
  },
})
