/** One element at a time: its input, its treatments in its own pixels, one mapping, its treatments in the frame. */

import { workingSpaces } from '../colour'
import {
  carriedBy,
  colour,
  combine,
  constant,
  mix,
  resample,
  type Beyond,
  type Draw,
  type ElementCarries,
  type Step,
} from '../graph/steps'
import { byMatrix } from '../motion/mapping'
import { reduceWindow, type Window } from '../image/window'
import { valueAt, type Curve } from '../motion/curve'
import { blends } from '../set/blends'
import {
  faultOfPin,
  find,
  goesThroughGlass,
  isPlaced,
  leftAtEnd,
  lensOver,
  rememberedPinMatrix,
  rootInput,
  usesOf,
  type Element,
  type Limit,
  type Pin,
  type TreatmentSettings,
  type Use,
} from '../shot'
import { treatments, type Followed, type ParameterValues, type Surroundings, type Treatment } from '../treatments'
import { alphaOf } from '../graph/alpha-of'
import { inputAt, type InputAt } from './input'
import { matteStep, type ElementsForMattes } from './mattes'
import type { Planning } from './memo'
import type { Problem } from './problem'
import { inverse } from './matte-algebra'
import { notMadeYet, sourceStep } from './source'
import { sourceNode } from './source-node'
import { behind, placedAt, sampled, unmoved, type Moved } from './placing'
import { pointsAt, valuesAt } from './values'

export interface ElementAt {
  /** what it shows by itself in the frame; null where it shows nothing at this time */
  readonly step: Step | null
  /** the same without its treatments, where that differs */
  readonly untreated: Step | null
  readonly problems: readonly Problem[]
  /** what goes by what is behind it, and how mattes of its own pixels come into the frame; null: nothing does */
  readonly byBehind?: { readonly uses: readonly ActiveUse[]; readonly moved: Moved }
}

/** How far along its own way an element is wanted: its input alone, or up to and with the use of a treatment. */
export type UpTo = { readonly input: true } | { readonly use: string }

/**
 * @param time shot frame; sources are asked for whole frames
 * @param inside of a group: its elements blended
 */
export function elementAt(planning: Planning, id: string, time: number, inside?: Step, upTo?: UpTo): ElementAt {
  const { memo, scale } = planning
  if (upTo) return planElement(planning, id, time, inside, upTo)
  const name = `${id} ${time} ${scale} ${inside?.key ?? ''}`
  return memo.remember(planning, name, () => planElement(planning, id, time, inside))
}

/** Elements that are being planned, to find circles of elements that show each other. */
const underWay = new WeakMap<Planning['memo'], Set<string>>()

function planElement(planning: Planning, id: string, time: number, inside?: Step, upTo?: UpTo): ElementAt {
  const { memo } = planning
  let open = underWay.get(memo)
  if (!open) underWay.set(memo, (open = new Set()))
  const element = memo.read(planning, ({ shot }) => find(shot.elements, id))
  if (!element) return { step: null, untreated: null, problems: [] }
  // As it came it is made of nothing that could be made of it.
  if (open.has(id) && !(upTo && 'input' in upTo)) {
    const sentence = `${element.name} shows itself, by way of the elements that it is made of.`
    const remedy = 'Choose another input for one of them.'
    return {
      step: null,
      untreated: null,
      problems: [{ at: { kind: 'element', id }, sentence, remedy, missing: 'part' }],
    }
  }
  const outermost = !open.has(id)
  open.add(id)
  try {
    return wayOfLight(planning, id, time, inside, upTo)
  } finally {
    if (outermost) open.delete(id)
  }
}

export interface ActiveUse {
  readonly use: Use
  readonly settings: TreatmentSettings
  readonly treatment: Treatment
}

function wayOfLight(planning: Planning, id: string, time: number, inside?: Step, upTo?: UpTo): ElementAt {
  const { memo } = planning
  const element = memo.read(planning, ({ shot }) => find(shot.elements, id))
  const root = element && rootInput(element)
  if (!element || !root) return { step: null, untreated: null, problems: [] }
  const isPlate = memo.read(planning, ({ shot }) => shot.plate === id)
  const { takes, neutral } = isPlate ? blends.over : blends[element.blend.kind]
  const problems: Problem[] = []
  const input: InputAt | null = inside
    ? { step: inside, mapping: null, opaque: false }
    : inputAt(planning, element, time, takes, problems, elementAt)
  if (!input) return { step: null, untreated: null, problems }
  const all = [
    ...activeUses(planning, { kind: 'element', id }, problems),
    ...(inside ? [] : glassOf(planning, element, takes, problems)),
  ]
  const uses = wantedUses(all, upTo)
  const surroundings = surroundingsOf(planning, time, id, isPlate && input.opaque)
  // Beyond its pixels a picture is empty. A matte that is 1 where it changes nothing is treated as its complement.
  const turned = neutral === 1 ? ([{ do: 'complement' }] as const) : []
  const raw = colour(input.step, turned)
  const finish = (step: Step) => colour(step, turned)

  const moving = uses.filter(({ treatment }) => treatment.side === 'mapping')
  const carried = element.placing !== undefined || element.parent !== null
  // Whether it has a place, not where it lies at this time: the order of what is done stays from frame to frame.
  const moves =
    moving.length > 0 || input.mapping !== null || (carried && memo.read(planning, ({ shot }) => isPlaced(shot, id)))
  const own = uses.filter((one) => one.treatment.side === 'element' && !(moves && liesInFrame(one.use)))
  const byBehind = uses.filter(goesByBehind)
  const framed = uses.filter(
    (one) =>
      !byBehind.includes(one) &&
      (one.treatment.side === 'frame' || (one.treatment.side === 'element' && !own.includes(one))),
  )

  const walk: Walk = { planning, time, surroundings, problems, moved: null }
  const treated = own.reduce((step, one) => treat(walk, step, one), raw)
  const lies = placedAt(planning, element, time, input.mapping, problems)
  if (!lies) return { step: null, untreated: null, problems }
  const { step: mapped, moved } = moveThrough(walk, treated, lies, moving)
  const held = takes !== 'rgba' && mapped !== treated ? colour(mapped, [{ do: 'clamp', least: 0, most: 1 }]) : mapped
  const inFrame = framed.reduce((step, one) => treat({ ...walk, moved }, step, one), held)
  const left = carried ? memo.read(planning, ({ shot }) => leftAtEnd(shot, id, time)) : 1
  const opacity = isPlate || upTo ? 1 : shareAt(element.parameters.opacity?.[0], time) * left
  const step = opacity === 1 ? inFrame : colour(inFrame, [{ do: 'fade', amount: opacity }])
  const plain = uses.length === 0 ? step : moveThrough(walk, raw, lies, []).step
  const isSeen = takes === 'rgba' && !isPlate
  const last = byBehind.length > 0 && isSeen ? { byBehind: { uses: byBehind, moved } } : null
  for (const { use, treatment } of byBehind)
    if (!isSeen && use.owner.kind === 'element') problems.push(nothingBehind(use, treatment))
  return { step: finish(step), untreated: finish(plain), problems, ...last }
}

const goesByBehind = ({ treatment }: ActiveUse) => 'byBehind' in treatment && treatment.byBehind === true

const nothingBehind = ({ id }: Use, { label }: Treatment): Problem => ({
  at: { kind: 'treatment', id },
  sentence: `${label} goes by the light behind an element that is seen, so it does nothing here.`,
  remedy: 'Use it on an element in front of the plate that is no shadow or occlusion.',
  missing: 'part',
})

/** An element as it is before what is behind it. */
export function beforeBehind(
  planning: Planning,
  id: string,
  { step, byBehind }: ElementAt,
  behind: Step,
  time: number,
  problems: Problem[],
): Step | null {
  if (!step || !byBehind) return step
  const surroundings = { ...surroundingsOf(planning, time, id, false), behind }
  const walk: Walk = { planning, time, surroundings, problems, moved: byBehind.moved }
  return byBehind.uses.reduce((lit, one) => treat(walk, lit, one), step)
}

function wantedUses(uses: readonly ActiveUse[], upTo?: UpTo): readonly ActiveUse[] {
  if (!upTo) return uses
  if ('input' in upTo) return []
  const last = uses.findIndex(({ use }) => use.id === upTo.use)
  return uses.slice(0, last + 1)
}

/** What the shot's glass does to an element. A matte does not glow. */
function glassOf(planning: Planning, element: Element, takes: ElementCarries, problems: Problem[]): ActiveUse[] {
  return activeUses(planning, { kind: 'glass' }, problems).filter(
    ({ settings, treatment }) =>
      planning.memo.read(planning, ({ shot }) => goesThroughGlass(shot, element, settings.kind)) &&
      !(takes !== 'rgba' && 'ofLight' in treatment && treatment.ofLight),
  )
}

/** Uses that are on, with what they use, in order. */
export function activeUses(planning: Planning, owner: Use['owner'], problems: Problem[]): ActiveUse[] {
  const { memo } = planning
  return memo
    .read(planning, ({ shot }) => usesOf(shot, owner))
    .filter(({ on }) => on)
    .flatMap((use) => {
      const settings = memo.read(planning, ({ shot }) => find(shot.treatments, use.treatment))
      if (settings) return [{ use, settings, treatment: treatments[settings.kind] }]
      problems.push({
        at: { kind: 'treatment', id: use.id },
        sentence: 'A treatment is used here whose settings are gone.',
        remedy: 'Remove it, or undo what removed them.',
        missing: 'part',
      })
      return []
    })
}

const liesInFrame = ({ limit }: Use) => {
  const matte = limit?.matte
  return Boolean(matte && (matte.kind !== 'source' || matte.lies === 'frame'))
}

/** The shot's frame in pixels of the graph. */
export function frameWindow(planning: Planning): Window {
  const frameSize = planning.memo.read(planning, ({ shot }) => shot.frameSize)
  return reduceWindow({ x: 0, y: 0, ...frameSize }, planning.scale)
}

export function surroundingsOf(planning: Planning, time: number, owner: string, opaque: boolean): Surroundings {
  const { memo, scale } = planning
  const seed = memo.read(planning, ({ shot }) => shot.seed)
  const working = workingSpaces[memo.read(planning, ({ shot }) => shot.workingSpace)]
  const frame = frameWindow(planning)
  const draw: Draw = { seed: `${seed} ${owner}`, frame: time }
  const beyond: Beyond = opaque ? 'extend' : { frame }
  return { scale, opaque, beyond, draw, frame, working, sources: none, choices: none, points: noPoints }
}

const none = {}
const noPoints: Surroundings['points'] = []

export interface Walk {
  readonly planning: Planning
  readonly time: number
  /** what is around each treatment, which adds what is its own */
  readonly surroundings: Surroundings
  readonly problems: Problem[]
  /** by which a matte of the element's own pixels comes into the frame; null where it lies there already */
  readonly moved: Moved | null
}

/** A share that may be keyed: a curve may leave its range between two keyframes. */
const shareAt = (curve: Curve | undefined, time: number) => Math.min(1, Math.max(0, valueAt(curve ?? 1, time)))

export function treat(walk: Walk, input: Step, { use, settings, treatment }: ActiveUse): Step {
  if (treatment.side === 'mapping') return input
  if (goesByBehind({ use, settings, treatment }) && !walk.surroundings.behind) {
    walk.problems.push(nothingBehind(use, treatment))
    return input
  }
  const sources = sourcesOf(walk, use, settings, treatment)
  if (!sources) return input
  const [values, around] = given(walk, use, settings, treatment, sources)
  const pictures = picturesOf(walk, use, settings, treatment, values)
  if (!pictures) return input
  // What is wrong with it is said where the limit is applied.
  const within = treatment.byMatte && use.limit?.matte ? matteAt({ ...walk, problems: [] }, use.limit.matte) : null
  const { behind } = walk.surroundings
  const more = {
    ...(behind ? { behind } : {}),
    ...(pictures === none ? {} : { pictures }),
    ...(within ? { within: turnedIf(walk, within, use) } : {}),
  }
  const treated = treatment.build(input, values, { ...around, ...more })
  return limited(walk, input, treated, use)
}

/** A matte as its limit has it. */
function turnedIf({ planning }: Walk, matte: Step, { limit }: Use): Step {
  return limit?.inverted ? inverse(planning, matte) : matte
}

/** Pictures that a treatment reads, as they lie in the frame. @returns null, with a problem, where one is wanting */
function picturesOf(
  walk: Walk,
  use: Use,
  { sources: named, choices = none }: TreatmentSettings,
  { label, side, sources = [], timeOf }: Treatment,
  values: ParameterValues,
): Readonly<Record<string, Step>> | null {
  const wanted = sources.filter(
    ({ takes, name, without }) => takes === 'rgba' && (without === undefined || named?.[name] !== undefined),
  )
  if (wanted.length === 0) return none
  const { planning } = walk
  const time = timeOf?.(values, choices, walk.time) ?? walk.time
  const found: Record<string, Step> = {}
  for (const { name, label: what } of wanted) {
    const source = planning.memo.read(planning, ({ shot }) => find(shot.sources, named?.[name] ?? ''))
    const usable = source && !source.forComparing
    // Beside an element's own pixels those of the file, beside the frame's as it lies there.
    const step =
      usable && side === 'element'
        ? sourceStep(planning, source.id, null, null, 'rgba', time)
        : usable
          ? sourceNode(planning, source.id, null, undefined, time)
          : null
    if (step) found[name] = step
    else {
      const wanting = source && notMadeYet(planning, source, time)
      walk.problems.push(
        wanting ?? {
          at: { kind: 'treatment', id: use.id },
          sentence: `${label}: ${what.toLowerCase()} ${source?.name ?? 'a source that is gone'}, which shows nothing at frame ${time}.`,
          remedy: 'Choose a frame that it has, or another source that is not for comparing only.',
          missing: 'part',
        },
      )
      return null
    }
  }
  return found
}

/** A treatment's settings at the time; a problem where they cannot mean anything. */
export function given(
  walk: Walk,
  use: Use,
  { parameters, choices = none, points: all, pin }: TreatmentSettings,
  treatment: Treatment,
  sources: Surroundings['sources'],
): readonly [ParameterValues, Surroundings] {
  const values = valuesAt(treatment.parameters, parameters, walk.time)
  const points = all && treatment.points ? pointsAt(treatment.points.parameters, all, walk.time) : noPoints
  const fault = treatment.fault?.(values, { choices, points })
  if (fault)
    walk.problems.push({
      at: { kind: 'treatment', id: use.id },
      sentence: `${treatment.label} ${fault.what} (frame ${walk.time}).`,
      remedy: fault.remedy,
      missing: 'part',
    })
  const followed = pin && followedBy(walk, use, treatment, pin)
  if (followed) return [values, { ...walk.surroundings, sources, choices, points, followed }]
  // Most treatments have nothing of their own: while dragging, hundreds are planned for a picture.
  const plain = sources === none && choices === none && points === noPoints
  return [values, plain ? walk.surroundings : { ...walk.surroundings, sources, choices, points }]
}

/** How the tracks of a pin move things; a problem where they tell nothing. */
function followedBy(walk: Walk, use: Use, { label, side }: Treatment, pin: Pin): Followed | undefined {
  const { planning, time, problems } = walk
  const { memo } = planning
  const shot = memo.read(planning, (context) => context.shot)
  const fault = faultOfPin(shot, pin)
  if (fault) {
    problems.push({
      at: { kind: 'treatment', id: use.id },
      sentence: `${label}: ${fault.sentence.replace('it is not moved by its pin', side === 'mapping' ? 'nothing of its motion is taken away' : 'it follows nothing')}.`,
      remedy: fault.remedy,
      missing: 'part',
    })
    return undefined
  }
  const { owner } = use
  const element = owner.kind === 'element' && owner.id !== shot.plate ? find(shot.elements, owner.id) : undefined
  const lens = lensOver(shot, element ?? null)
  const at = (when: number) => rememberedPinMatrix(shot, pin, when, lens)
  return { at, lens: lens?.at ?? null, rest: pin.frame, frames: shot.frames, time }
}

/** Nothing in the picture may be made of it. */
const isForComparing = (planning: Planning, id: string) =>
  planning.memo.read(planning, ({ shot }) => find(shot.sources, id)?.forComparing) === true

/** @returns null, with a problem, where a source that it reads is wanting */
export function sourcesOf(walk: Walk, use: Use, settings: TreatmentSettings, { label, sources }: Treatment) {
  const files = sources?.filter(({ takes }) => takes !== 'rgba') ?? []
  if (files.length === 0) return none
  const found = files.map(({ name, takes }) => {
    const id = settings.sources?.[name]
    const usable = id !== undefined && !isForComparing(walk.planning, id)
    return [name, usable ? sourceStep(walk.planning, id, null, null, takes, walk.time) : null] as const
  })
  const missing = found.find(([, step]) => !step)
  if (!missing) return Object.fromEntries(found as [string, NonNullable<(typeof found)[number][1]>][])
  walk.problems.push({
    at: { kind: 'treatment', id: use.id },
    sentence: `${label} has no ${missing[0]} at frame ${walk.time}.`,
    remedy: 'Choose a source that reaches it and is not for comparing only, or turn the treatment off.',
    missing: 'part',
  })
  return null
}

function limited(walk: Walk, input: Step, treated: Step, { id, limit }: Use): Step {
  if (!limit) return treated
  const amount = shareAt(limit.parameters.amount?.[0], walk.time)
  if (!limit.matte) return mix(input, treated, null, amount)
  const matte = matteAt(walk, limit.matte)
  if (matte) return mix(input, treated, matte, amount, limit.inverted)
  walk.problems.push({
    at: { kind: 'treatment', id },
    sentence: `The matte of a limit is not there at frame ${walk.time}.`,
    remedy: 'Choose a matte that reaches it and is not for comparing only, or remove the limit.',
    missing: 'part',
  })
  return input
}

const forMattes: ElementsForMattes = {
  show: (planning, element, time, asItCame) =>
    elementAt(planning, element, time, undefined, asItCame ? { input: true } : undefined),
  lay(planning, id, time, coverage, own) {
    const element = planning.memo.read(planning, ({ shot }) => find(shot.elements, id))
    // What is wrong with its place is said at the element.
    const lies = element && placedAt(planning, element, time, own, [])
    if (!element || !lies) return null
    const uses = [...activeUses(planning, { kind: 'element', id }, []), ...glassOf(planning, element, 'rgba', [])]
    const surroundings = surroundingsOf(planning, time, id, false)
    // A limited lens may be limited by the matte itself.
    const bending = uses.filter(({ use, treatment }) => treatment.side === 'mapping' && !use.limit)
    return moveThrough({ planning, time, surroundings, problems: [], moved: null }, coverage, lies, bending).step
  },
}

/** A matte of the shot. */
export const matteOf = (planning: Planning, id: string, time: number): ReturnType<typeof matteStep> =>
  matteStep(planning, id, time, forMattes)

/** One channel held to 0..1 by whoever mixes with it. */
function matteAt(walk: Walk, matte: NonNullable<Limit['matte']>): Step | null {
  const { planning, time } = walk
  if (matte.kind === 'element') {
    const at = elementAt(planning, matte.element, time)
    walk.problems.push(...at.problems)
    return at.step && alphaOf(at.step)
  }
  if (matte.kind === 'matte') {
    const at = matteOf(planning, matte.matte, time)
    walk.problems.push(...at.problems)
    const known = planning.memo.read(planning, ({ shot }) => find(shot.mattes, matte.matte) !== undefined)
    // A matte without a shape on this frame covers nothing; one that is gone is a problem.
    return at.step ?? (known ? constant([0, 0, 0, 0], frameWindow(planning)) : null)
  }
  const channels = matte.channel === null ? null : [matte.channel]
  const usable = !isForComparing(planning, matte.source)
  const step = usable ? sourceStep(planning, matte.source, matte.part, channels, 'scalar', time) : null
  return step && walk.moved && matte.lies === 'element' ? sampled(step, walk.moved) : step
}

/**
 * All that moves the element becomes one mapping: from the frame through the lens, then to the file's own pixels. Only a
 * second lens map, or a limited one, takes a sampling of its own.
 *
 * @param lies where it lies without the lens
 * @returns with the mapping as a whole, for mattes that move along
 */
export function moveThrough(
  walk: Walk,
  input: Step,
  lies: Moved,
  uses: readonly ActiveUse[],
): { readonly step: Step; readonly moved: Moved } {
  const parting = uses.find(({ treatment }) => treatment.side === 'mapping' && treatment.apart)
  return parting ? movedApart(walk, input, lies, uses, parting) : movedTogether(walk, input, lies, uses)
}

/** Red and blue are sampled by themselves, each once, behind the lens; what has one channel goes with green. */
function movedApart(
  walk: Walk,
  input: Step,
  lies: Moved,
  uses: readonly ActiveUse[],
  parting: ActiveUse,
): ReturnType<typeof moveThrough> {
  const { use, settings, treatment } = parting
  const others = uses.filter((one) => one !== parting)
  const green = moveThrough(walk, input, lies, others)
  const told = treatment.side === 'mapping' && treatment.apart?.(...given(walk, use, settings, treatment, none))
  if (!told || carriedBy(input) !== 'rgba') return green
  // What is wrong with the others was said for green.
  const quiet = { ...walk, problems: [] }
  const [red, blue] = [told.red, told.blue].map((matrix) => {
    const own = behind(byMatrix(matrix), lies)
    return own ? moveThrough(quiet, input, own, others).step : resample(green.step, byMatrix(matrix), lies.filter)
  })
  const parted = combine('channels-of', [green.step, red, blue])
  return { step: limited({ ...walk, moved: null }, green.step, parted, use), moved: green.moved }
}

function movedTogether(
  walk: Walk,
  input: Step,
  lies: Moved,
  uses: readonly ActiveUse[],
): ReturnType<typeof moveThrough> {
  let step = input
  let moved = lies
  for (const { use, settings, treatment } of uses) {
    if (treatment.side !== 'mapping') continue
    const sources = sourcesOf(walk, use, settings, treatment)
    if (!sources) continue
    const next = treatment.mapping(...given(walk, use, settings, treatment, sources))
    const together = behind(next, moved)
    if (together && !use.limit) {
      moved = together
      continue
    }
    const before = sampled(step, moved)
    const after = together ? sampled(step, together) : resample(before, next, moved.filter)
    step = limited({ ...walk, moved: null }, before, after, use)
    moved = unmoved
  }
  return { step: sampled(step, moved), moved }
}
