/** A shot while it is being matched: settings that were found, those that were left, and what they change. */

import type { Sure } from '../match'
import { blends } from '../set/blends'
import {
  applyEdit,
  childrenOf,
  framesOfReferenceObject,
  inOrder,
  isGroup,
  type Element,
  type ReferenceObject,
  type Shot,
  type Witness,
} from '../shot'
import { changesOf } from './changes'
import type { Look } from './look'
import type { LeftPart, Matched, MatchedPart, PlanOf } from './parts'

/** Below these bars a setting is sure. */
const sureEnough: Readonly<Record<Matched, (value: number, frameWidth: number) => number>> = {
  // A tenth of a pixel of a frame 1280 wide.
  softness: (_value, frameWidth) => (0.1 * frameWidth) / 1280,
  veil: () => 0.0012,
  'plate veil': () => 0.0012,
  gain: (value) => 0.03 * value,
  'shadow ratio': () => 0.03,
  'occlusion strength': () => 0.1,
}

const wouldMakeSurer: Readonly<Record<Matched, string>> = {
  softness: 'Shoot a chart with sharp edges, for more frames.',
  veil: 'Shoot the ball and the chart for more frames.',
  'plate veil': 'Shoot the ball and the chart for more frames.',
  gain: 'Shoot the chart for more frames, or in more light.',
  'shadow ratio':
    'Shoot for more frames, or something as tall as the element. A shadow pass in colour tells more than a grey one.',
  'occlusion strength': 'Shoot something that stands on the ground as the element does.',
}

/** Each setting is looked for on the pictures that those before it make, whether they will be accepted or not. */
export class ShotBeingMatched {
  private readonly found = new Map<string, MatchedPart>()
  readonly witnesses: Witness[] = []
  readonly left: LeftPart[] = []
  private made: Shot | null = null

  constructor(
    private readonly original: Shot,
    readonly look: Look,
    readonly plan: PlanOf,
  ) {}

  /** The shot with everything that was found so far. */
  get shot(): Shot {
    this.made ??= changesOf(this.original, this).reduce((before, one) => applyEdit(before, one).shot, this.original)
    return this.made
  }

  get parts(): readonly MatchedPart[] {
    return [...this.found.values()]
  }

  /**
   * Found once more, it replaces what was found before.
   *
   * @param sharedBy elements that take the same settings along @param surerBy what would make it surer
   */
  find(
    element: Element,
    what: Matched,
    values: readonly Sure[],
    rests: readonly string[],
    sharedBy: readonly string[] = [],
    surerBy: string = wouldMakeSurer[what],
  ): void {
    const { width } = this.original.frameSize
    const sure = values.every(({ value, bar }) => bar <= sureEnough[what](value, width))
    const surer = sure ? null : surerBy
    this.found.set(`${element.id} ${what}`, { element: element.id, what, values, sure, rests, surer, sharedBy })
    this.made = null
  }

  leave(element: Element, what: Matched, why: string): void {
    this.left.push({ element: element.id, what, why })
  }

  keep(witness: Witness): void {
    this.witnesses.push(witness)
    this.made = null
  }
}

export const isByHand = 'it is set by hand'

function showsSource({ inputs }: Element, source: string): boolean {
  return Object.values(inputs.byId).some((input) => input.kind === 'pass' && input.source === source)
}

/** Elements that are no groups, far to near. */
function allElements(shot: Shot, parent: string | null = null): Element[] {
  return childrenOf(shot, parent).flatMap((one) => (isGroup(one) ? allElements(shot, one.id) : [one]))
}

const sourcesOf = ({ inputs }: Element): string[] =>
  Object.values(inputs.byId).flatMap((input) => (input.kind === 'pass' ? [input.source] : []))

/** Pictures that stand over the plate. */
export function toBeMatched(shot: Shot): Element[] {
  return allElements(shot).filter(
    (one) => one.visible && one.id !== shot.plate && one.blend.kind === 'over' && sourcesOf(one).length > 0,
  )
}

/** Those that witnesses are suggested for: shadows that are laid on the plate as well. */
export const toBeSuggestedFor = (shot: Shot): Element[] => [
  ...toBeMatched(shot),
  ...allElements(shot).filter(({ visible, blend }) => visible && blend.kind === 'shadow'),
]

/** Other elements of the same render: what is added as light, and what darkens. */
export function companionsOf(shot: Shot, element: Element) {
  const sources = sourcesOf(element)
  const others = allElements(shot).filter(
    (one) => one.id !== element.id && one.id !== shot.plate && sources.some((source) => showsSource(one, source)),
  )
  return {
    light: others.filter(({ blend }) => blends[blend.kind].takes === 'rgba' && blend.kind !== 'over'),
    shadows: others.filter(({ blend }) => blend.kind === 'shadow' || blend.kind === 'occlusion'),
  }
}

/** Reference objects that stand for a render which the element shows. */
export const objectsOf = (shot: Shot, element: Element): ReferenceObject[] =>
  inOrder(shot.referenceObjects).filter(
    ({ id, insteadOf }) => showsSource(element, insteadOf) && framesOfReferenceObject(shot, id) !== null,
  )

/** Whether nothing was shot for reference of something that is to be matched. */
export const lacksReference = (shot: Shot): boolean =>
  toBeMatched(shot).some((element) => objectsOf(shot, element).length === 0)
