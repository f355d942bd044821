/** Named edits: the only way a shot document changes. The browser and the server apply them with this same code. */

import { applyPatches, enablePatches, produceWithPatches, type Draft, type Patch } from 'immer'
import { valueAt, withKey, withValue, withoutKey, type Curve } from '../motion/curve'
import { blends } from '../set/blends'
import { treatmentKinds, treatments, type Description } from '../treatments'
import { ImpossibleEditError } from './impossible-edit'
import { dropTry, keepTry, nextTryName, takeTry } from './tries'
import type { Claims, Element, Parameter, Shot, Source, TreatmentSettings } from './types'

enablePatches()

/** A parameter of a treatment, or of the blend when `treatment` is null; `channel` null means all channels. */
export interface ParameterAddress {
  readonly element: string
  readonly treatment: string | null
  readonly parameter: string
  readonly channel: number | null
}

export type SourceChanges = Partial<
  Pick<Source, 'name' | 'frames' | 'rate' | 'offset' | 'missing' | 'pixelAspect' | 'enlarge'>
>

export type Edit =
  /** on a keyed curve this sets the key at `frame` */
  | { readonly kind: 'set-parameter'; readonly at: ParameterAddress; readonly frame: number; readonly value: number }
  /** one value a channel */
  | {
      readonly kind: 'set-channels'
      readonly at: Omit<ParameterAddress, 'channel'>
      readonly frame: number
      readonly values: readonly number[]
    }
  | { readonly kind: 'reset-parameter'; readonly at: ParameterAddress }
  | { readonly kind: 'add-key'; readonly at: ParameterAddress; readonly frame: number }
  | { readonly kind: 'remove-key'; readonly at: ParameterAddress; readonly frame: number }
  | {
      readonly kind: 'enable-treatment'
      readonly element: string
      readonly treatment: string
      readonly enabled: boolean
    }
  /** where the light path has it: after those of its kind and of kinds before it */
  | { readonly kind: 'add-treatment'; readonly element: string; readonly settings: TreatmentSettings }
  | { readonly kind: 'remove-treatment'; readonly element: string; readonly treatment: string }
  /** which source it reads under a name of its description */
  | {
      readonly kind: 'set-treatment-source'
      readonly element: string
      readonly treatment: string
      readonly name: string
      readonly source: string
    }
  | { readonly kind: 'show-element'; readonly element: string; readonly visible: boolean }
  | { readonly kind: 'set-claims'; readonly source: string; readonly claims: Partial<Claims> }
  /** what is taken to be true of a source besides its claims; undefined: as the shot has it */
  | { readonly kind: 'set-source'; readonly source: string; readonly changes: SourceChanges }
  /** the farthest element of a shot stays its plate, so a new one is never first */
  | { readonly kind: 'add-source'; readonly source: Source }
  /** only one that nothing reads */
  | { readonly kind: 'remove-source'; readonly source: string }
  /** nearest of all */
  | { readonly kind: 'add-element'; readonly element: Element }
  | { readonly kind: 'remove-element'; readonly element: string }
  /** keeps how elements and finish stand */
  | { readonly kind: 'keep-try' }
  /** elements and finish stand again as they did then; how they stood is kept as a try of its own if it is not already */
  | { readonly kind: 'take-try'; readonly id: string }
  | { readonly kind: 'drop-try'; readonly id: string }
  /** undo and redo: changes made before, taken back or made again */
  | { readonly kind: 'restore'; readonly what: string; readonly patches: readonly Patch[] }

export interface Edited {
  readonly shot: Shot
  readonly patches: readonly Patch[]
  readonly inverse: readonly Patch[]
}

/** @throws ImpossibleEditError when what it names is gone */
export function applyEdit(shot: Shot, edit: Edit): Edited {
  if (edit.kind === 'restore') return restore(shot, edit.patches)
  const [next, patches, inverse] = produceWithPatches(shot, (draft) => change(draft, edit))
  return { shot: next, patches, inverse }
}

function restore(shot: Shot, patches: readonly Patch[]): Edited {
  try {
    const [next, made, inverse] = produceWithPatches(shot, (draft) => {
      applyPatches(draft, [...patches])
    })
    return { shot: next, patches: made, inverse }
  } catch (error) {
    throw new ImpossibleEditError(
      `This cannot be taken back any more: ${error instanceof Error ? error.message : String(error)}.`,
    )
  }
}

function change(draft: Draft<Shot>, edit: Exclude<Edit, { kind: 'restore' }>): void {
  switch (edit.kind) {
    case 'set-parameter':
      return changeCurves(draft, edit.at, (curve) => withValue(curve, edit.frame, edit.value))
    case 'set-channels':
      edit.values.forEach((value, channel) =>
        changeCurves(draft, { ...edit.at, channel }, (curve) => withValue(curve, edit.frame, value)),
      )
      return
    case 'reset-parameter':
      return changeCurves(draft, edit.at, (_curve, initial) => initial)
    case 'add-key':
      return changeCurves(draft, edit.at, (curve) => withKey(curve, edit.frame, valueAt(curve, edit.frame)))
    case 'remove-key':
      return changeCurves(draft, edit.at, (curve) => withoutKey(curve, edit.frame))
    case 'enable-treatment':
      findTreatment(findElement(draft, edit.element), edit.treatment).enabled = edit.enabled
      return
    case 'add-treatment':
      return addTreatment(findElement(draft, edit.element), edit.settings)
    case 'remove-treatment': {
      const { treatments: settings } = findElement(draft, edit.element)
      settings.splice(settings.indexOf(findTreatment(findElement(draft, edit.element), edit.treatment)), 1)
      return
    }
    case 'set-treatment-source':
      Object.assign((findTreatment(findElement(draft, edit.element), edit.treatment).sources ??= {}), {
        [edit.name]: findSource(draft, edit.source).id,
      })
      return
    case 'show-element':
      findElement(draft, edit.element).visible = edit.visible
      return
    case 'set-claims':
      Object.assign(findSource(draft, edit.source).claims, edit.claims)
      return
    case 'set-source':
      return changeSource(findSource(draft, edit.source), edit.changes)
    case 'add-source':
      if (draft.sources.some(({ id }) => id === edit.source.id))
        throw new ImpossibleEditError(`There is a source "${edit.source.id}" already.`)
      draft.sources.push(edit.source as Draft<Source>)
      return
    case 'remove-source': {
      const source = findSource(draft, edit.source)
      const readers = readersOf(draft, edit.source)
      if (readers.length > 0)
        throw new ImpossibleEditError(`${source.name} is read by ${readers.join(', ')}. Remove them first.`)
      draft.sources.splice(draft.sources.indexOf(source), 1)
      return
    }
    case 'add-element':
      if (draft.elements.some(({ id }) => id === edit.element.id))
        throw new ImpossibleEditError(`There is an element "${edit.element.id}" already.`)
      draft.elements.push(edit.element as Draft<Element>)
      return
    case 'remove-element': {
      const element = findElement(draft, edit.element)
      if (draft.elements[0] === element)
        throw new ImpossibleEditError('The plate cannot be removed: all else lands on it.')
      draft.elements.splice(draft.elements.indexOf(element), 1)
      return
    }
    case 'keep-try':
      return keepTry(draft)
    case 'take-try':
      return takeTry(draft, edit.id)
    case 'drop-try':
      return dropTry(draft, edit.id)
  }
}

function findSource(draft: Draft<Shot>, id: string): Draft<Source> {
  const source = draft.sources.find((s) => s.id === id)
  if (!source) throw new ImpossibleEditError(`There is no source "${id}" in this shot.`)
  return source
}

function changeSource(source: Draft<Source>, changes: SourceChanges): void {
  for (const [name, value] of Object.entries(changes)) {
    if (value === undefined) delete source[name as keyof SourceChanges]
    else Object.assign(source, { [name]: value })
  }
}

/** Names of the elements that read a source, themselves or by a treatment. */
function readersOf({ elements, finish = [], tries = [] }: Draft<Shot>, id: string): string[] {
  const reads = (settings: Draft<Element>['treatments']) =>
    settings.some(({ sources = {} }) => Object.values(sources).includes(id))
  const readBy = (e: Draft<Element>) => e.source === id || reads(e.treatments)
  return [
    ...elements.filter(readBy).map(({ name }) => name),
    ...(reads(finish) ? ['the finish'] : []),
    ...tries.filter((one) => one.elements.some(readBy) || reads(one.finish ?? [])).map(({ name }) => name),
  ]
}

function findElement(draft: Draft<Shot>, id: string): Draft<Element> {
  const element = draft.elements.find((e) => e.id === id)
  if (!element) throw new ImpossibleEditError(`There is no element "${id}" in this shot.`)
  return element
}

function findTreatment(element: Draft<Element>, id: string) {
  const treatment = element.treatments.find((t) => t.id === id)
  if (!treatment) throw new ImpossibleEditError(`"${element.name}" has no treatment "${id}".`)
  return treatment
}

function addTreatment(element: Draft<Element>, settings: TreatmentSettings): void {
  if (element.treatments.some(({ id }) => id === settings.id))
    throw new ImpossibleEditError(`"${element.name}" has a treatment "${settings.id}" already.`)
  const place = (kind: TreatmentSettings['kind']) => treatmentKinds.indexOf(kind)
  const next = element.treatments.findIndex(({ kind }) => place(kind) > place(settings.kind))
  element.treatments.splice(next < 0 ? element.treatments.length : next, 0, settings as Draft<TreatmentSettings>)
}

function changeCurves(draft: Draft<Shot>, at: ParameterAddress, next: (curve: Curve, initial: number) => Curve): void {
  const element = findElement(draft, at.element)
  const settings = at.treatment === null ? element.blend : findTreatment(element, at.treatment)
  const description: Description =
    at.treatment === null ? blends[element.blend.kind] : treatments[findTreatment(element, at.treatment).kind]
  const known = description.parameters.find((p) => p.name === at.parameter)
  const curves = settings.parameters[at.parameter] as Curve[] | undefined
  if (!known || !curves || (at.channel !== null && at.channel >= known.channels)) {
    throw new ImpossibleEditError(
      `${description.label} has no parameter "${at.parameter}"${at.channel === null ? '' : ` with a channel ${at.channel}`}.`,
    )
  }
  curves.forEach((curve, channel) => {
    if (at.channel === null || at.channel === channel) curves[channel] = next(curve, known.initial) as never
  })
}

const channelNames = ['red', 'green', 'blue']

/** What an edit did, for history and undo: "Veil red of Bell". */
export function describeEdit(shot: Shot, edit: Edit): string {
  const sourceName = (id: string) => shot.sources.find((s) => s.id === id)?.name ?? id
  const tryName = (id: string) => shot.tries?.find((one) => one.id === id)?.name ?? id
  const nameOf = (id: string) => shot.elements.find((e) => e.id === id)?.name ?? id
  const parameter = (at: Omit<ParameterAddress, 'channel'> & { channel?: number | null }) => {
    const element = shot.elements.find((e) => e.id === at.element)
    const treatment = element?.treatments.find((t) => t.id === at.treatment)
    const description = treatment ? treatments[treatment.kind] : element ? blends[element.blend.kind] : undefined
    const known = description?.parameters.find((p) => p.name === at.parameter)
    const channel =
      at.channel !== null && at.channel !== undefined && known?.channels === 3 ? ` ${channelNames[at.channel]}` : ''
    return `${known?.label ?? at.parameter}${channel} of ${nameOf(at.element)}`
  }
  switch (edit.kind) {
    case 'set-parameter':
    case 'set-channels':
      return parameter(edit.at)
    case 'reset-parameter':
      return `Reset ${parameter(edit.at)}`
    case 'add-key':
      return `Key at ${edit.frame} for ${parameter(edit.at)}`
    case 'remove-key':
      return `Remove key at ${edit.frame} from ${parameter(edit.at)}`
    case 'enable-treatment':
      return `${edit.enabled ? 'Use' : 'Bypass'} a treatment of ${nameOf(edit.element)}`
    case 'add-treatment':
      return `Add ${treatments[edit.settings.kind].label.toLowerCase()} to ${nameOf(edit.element)}`
    case 'remove-treatment':
      return `Remove a treatment of ${nameOf(edit.element)}`
    case 'set-treatment-source':
      return `${sourceName(edit.source)} for ${nameOf(edit.element)}`
    case 'show-element':
      return `${edit.visible ? 'Show' : 'Hide'} ${nameOf(edit.element)}`
    case 'set-claims':
      return `Claims of ${sourceName(edit.source)}`
    case 'set-source':
      return `${Object.keys(edit.changes).join(', ')} of ${sourceName(edit.source)}`
    case 'add-source':
      return `Import ${edit.source.name}`
    case 'remove-source':
      return `Remove ${sourceName(edit.source)}`
    case 'add-element':
      return `Add ${edit.element.name}`
    case 'remove-element':
      return `Remove ${nameOf(edit.element)}`
    case 'keep-try':
      return `Keep ${nextTryName(shot)}`
    case 'take-try':
      return `Take ${tryName(edit.id)}`
    case 'drop-try':
      return `Drop ${tryName(edit.id)}`
    case 'restore':
      return edit.what
  }
}

/** @returns the first place that both changes write to, or null when they do not meet */
export function overlap(a: readonly Patch[], b: readonly Patch[]): string | null {
  for (const one of a) {
    for (const other of b) {
      const shorter = Math.min(one.path.length, other.path.length)
      if (one.path.slice(0, shorter).every((step, i) => step === other.path[i])) return one.path.join('.')
    }
  }
  return null
}

export type { Patch, Parameter }
