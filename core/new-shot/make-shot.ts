/** The document of a new shot: plate, then what darkens and lights the ground, then what stands before it. */

import type { BlendKind } from '../set/blends'
import {
  firstRanks,
  lastRank,
  newBlend,
  newElement,
  newShutter,
  newId,
  newTreatment,
  passInputs,
  schemaVersion,
  tableOf,
  type Element,
  type Input,
  type ReferenceObject,
  type Shot,
  type Source,
  type Table,
  type TreatmentSettings,
  type Use,
} from '../shot'
import type { PassRole } from './pass-names'
import {
  clipAt,
  enlargementFor,
  framesFor,
  offsetFor,
  type Answers,
  type Proposal,
  type ProposedClip,
  type ProposedPass,
} from './propose'

/** The answers do not fit the files; says what to answer. */
export class ImpossibleShotError extends Error {
  override readonly name = 'ImpossibleShotError'
}

/** Roles that are sources and nothing in the picture yet. */
const inPicture = (role: ProposedClip['role']) => role === 'render'
const usable = ({ role, problem }: ProposedClip) => role !== 'none' && role !== 'movie' && problem === null

/** Passes that act on the plate, farthest first, and how. */
const onGround: readonly { readonly role: PassRole; readonly blend: BlendKind; readonly words: string }[] = [
  { role: 'shadow', blend: 'shadow', words: 'shadow' },
  { role: 'occlusion', blend: 'occlusion', words: 'contact' },
  { role: 'ground-reflection', blend: 'plus-lighter', words: 'reflection' },
]

/**
 * @param pathFromShot from a path as the browser names it to one relative to where the shot lies
 * @throws ImpossibleShotError
 */
export function makeShot(proposal: Proposal, answers: Answers, pathFromShot: (path: string) => string): Shot {
  const plateClip = clipAt(proposal, answers.plate)
  if (!plateClip || !plateClip.size || !usable(plateClip))
    throw new ImpossibleShotError(
      'Nothing is chosen that can be the plate. Choose a sequence or a still that is opaque.',
    )
  const frames = framesFor(proposal, plateClip, answers.handles)
  if (frames.last < frames.first)
    throw new ImpossibleShotError(
      `Handles of ${answers.handles} frames at each end leave nothing of the plate. Give fewer.`,
    )
  const clips = proposal.clips.filter((clip) => usable(clip) && !answers.without.includes(clip.path))
  const forComparing = new Set(proposal.objects.flatMap(({ photographed, rendered }) => [photographed, rendered]))
  const sources = new Map(
    [...new Set([plateClip, ...clips])].map((clip) => {
      const source = sourceOf(clip, plateClip, frames, pathFromShot(clip.path))
      const compared = clip !== plateClip && forComparing.has(clip.path)
      return [clip.path, compared ? { ...source, forComparing: true as const } : source]
    }),
  )
  const idOf = (clip: ProposedClip) => (sources.get(clip.path) as Source).id
  const [rank] = firstRanks(1)
  const plate = newElement(newId(), 'Plate', rank, newBlend('over'), passInputs(idOf(plateClip)))
  const elements: Element[] = [plate]
  const add = (name: string, blend: BlendKind, inputs: Table<Input>) =>
    elements.push(newElement(newId(), name, lastRank(elements), newBlend(blend), inputs))
  const renders = clips.filter((clip) => inPicture(clip.role) && clip !== plateClip)
  for (const { role, blend, words } of onGround)
    for (const clip of renders)
      for (const pass of clip.passes)
        if (pass.role === role) add(`${clip.name} ${words}`, blend, passInputs(idOf(clip), pass.part))
  for (const clip of renders) {
    const inputs = ownLight(clip, idOf(clip))
    if (inputs) add(clip.name, clip.claims.alpha === 'none' && !hasAlpha(clip) ? 'plus-lighter' : 'over', inputs)
  }
  return {
    schema: schemaVersion,
    name: answers.name,
    seed: newId(),
    frames,
    rate: answers.rate,
    frameSize: plateClip.size,
    pixelAspect: plateClip.pixelAspect,
    workingSpace: answers.workingSpace,
    sources: tableOf([...sources.values()]),
    plate: plate.id,
    elements: tableOf(elements),
    tries: tableOf([]),
    samples: tableOf([]),
    markers: tableOf([]),
    witnesses: tableOf([]),
    tracks: tableOf([]),
    mattes: tableOf([]),
    referenceObjects: objectsOf(proposal, sources, renders.at(0)),
    shutter: newShutter(),
    ...bent(answers.bentBy === null ? undefined : sources.get(answers.bentBy)),
  }
}

/** In the place of the first render; none without one. */
function objectsOf(
  { objects }: Proposal,
  sources: ReadonlyMap<string, Source>,
  render: ProposedClip | undefined,
): Table<ReferenceObject> {
  const insteadOf = render && sources.get(render.path)?.id
  const made: ReferenceObject[] = []
  for (const { name, photographed, rendered } of objects) {
    const both = [photographed, rendered].map((path) => sources.get(path)?.id)
    const [photo, own] = both
    if (insteadOf === undefined || photo === undefined || own === undefined) continue
    made.push({ ...{ id: newId(), name, rank: lastRank(made) }, photographed: photo, rendered: own, insteadOf })
  }
  return tableOf(made)
}

function sourceOf(clip: ProposedClip, plate: ProposedClip, shot: Shot['frames'], path: string): Source {
  const { name, role, frames, size, claims, pixelAspect, firstFile } = clip
  const offset = frames && clip !== plate ? offsetFor(frames, shot) : 0
  const enlarge = role === 'render' && size && plate.size ? enlargementFor(size, plate.size) : 1
  return {
    ...{ id: newId(), name: clip === plate ? 'Plate' : name, path, frames, claims },
    ...(firstFile ? { firstFile } : {}),
    ...(offset === 0 ? {} : { offset }),
    ...(enlarge === 1 ? {} : { enlarge }),
    // A table or a map has no pixels of its own shape.
    ...(role === 'render' && pixelAspect !== plate.pixelAspect ? { pixelAspect } : {}),
  }
}

const hasAlpha = ({ passes }: ProposedClip) => passes.some(({ role }) => role === 'alpha')

/** The beauty; where there is none, the light passes added up; nothing where a render has only passes of the ground. */
function ownLight({ passes }: ProposedClip, source: string): Table<Input> | null {
  const beauty = passes.find(({ role }) => role === 'beauty')
  if (beauty) return passInputs(source, beauty.part)
  const light = passes.filter(({ role }) => role === 'light')
  if (light.length === 0) {
    const other = passes.find(({ role }) => role === 'other')
    return other && passes.length === 1 ? passInputs(source, other.part) : null
  }
  return sumOf(
    source,
    light,
    passes.find(({ role }) => role === 'alpha'),
  )
}

function sumOf(source: string, light: readonly ProposedPass[], alpha: ProposedPass | undefined): Table<Input> {
  const [rank, ...ranks] = firstRanks(light.length + 2)
  const part = (id: string, { part, channels }: ProposedPass, rank: string): Input => ({
    ...passInputs(source, part, channels.length === 1 ? { channels } : {}).byId.pass,
    ...{ id, parent: 'sum', rank },
  })
  return tableOf<Input>([
    { id: 'sum', kind: 'sum', parent: null, rank, parameters: {}, ...(alpha ? { alpha: 'alpha' } : {}) },
    ...light.map((pass, i) => part(`pass-${i + 1}`, pass, ranks[i])),
    ...(alpha ? [part('alpha', alpha, ranks[light.length])] : []),
  ])
}

/** One lens map in the glass: it bends everything but the plate, and is changed in one place. */
function bent(map: Source | undefined): { readonly treatments: Table<TreatmentSettings>; readonly uses: Table<Use> } {
  if (!map) return { treatments: tableOf([]), uses: tableOf([]) }
  const settings: TreatmentSettings = { ...newTreatment('lens-map', newId()), sources: { map: map.id } }
  const [rank] = firstRanks(1)
  const use: Use = { id: newId(), rank, owner: { kind: 'glass' }, treatment: settings.id, on: true, limit: null }
  return { treatments: tableOf([settings]), uses: tableOf([use]) }
}
