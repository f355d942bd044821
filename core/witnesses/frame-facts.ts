/** What is measured of a whole frame at full scale: of its composite, its plate, and each element that stands over it. */

import { decode } from '../colour'
import { contentKey } from '../graph/content-key'
import { cutWindow } from '../image/cut'
import { dilate, intersect, pixelCount, type Window } from '../image/window'
import { elementFacts, outlineExcess, shadowDepth, type ElementFacts } from '../measure/element-facts'
import type { FramePlan } from '../plan/plan'
import { plateSource, type Shot } from '../shot'
import type { Look } from './look'
import { companionsOf, toBeMatched } from './matching'

export interface FactsOfElement extends ElementFacts {
  /** of the plate, as it is treated, around and behind it */
  readonly plate: Pick<ElementFacts, 'black' | 'mean' | 'print'>
  /** see `outlineExcess` */
  readonly outline: number | null
  /** see `shadowDepth`; null where it throws none */
  readonly shadow: number | null
}

export interface FrameFacts {
  /** what is in the way of the picture, as sentences */
  readonly problems: readonly string[]
  /** pixels of the composite of which something is no number */
  readonly notNumbers: number
  /** pixels that differ from the plate and are below zero where it is not */
  readonly belowZero: number
  /** pixels that differ from the plate and are lighter than its encoding can hold */
  readonly clipped: number
  readonly elements: Readonly<Record<string, FactsOfElement>>
}

/** As they are kept: of another key, of another picture. */
export interface KeptFacts extends FrameFacts {
  readonly key: string
}

/** Equal key, equal facts. */
export function factsKey(shot: Shot, plan: FramePlan): string {
  const elements = toBeMatched(shot).map(({ id }) => [id, plan.elements.get(id)?.key ?? null])
  const problems = plan.problems.map(({ sentence }) => sentence)
  const pictures = [plan.composite, plan.plate, plan.reference].map((step) => step?.key ?? null)
  return contentKey('facts', 4, ...pictures, elements, problems)
}

/** @throws only when `look` is called off: a file that cannot be read is among the problems */
export async function factsOf(
  shot: Shot,
  plan: FramePlan,
  look: Pick<Look, 'light' | 'bounds'>,
  signal?: AbortSignal,
): Promise<FrameFacts> {
  const nothing = { notNumbers: 0, belowZero: 0, clipped: 0, elements: {} }
  const problems = plan.problems.map(({ sentence }) => sentence)
  if (!plan.composite || !plan.plate) return { ...nothing, problems }
  try {
    return { problems, ...(await measured(shot, plan, look)) }
  } catch (error) {
    if (signal?.aborted) throw error
    return { ...nothing, problems: [...problems, error instanceof Error ? error.message : String(error)] }
  }
}

async function measured(shot: Shot, plan: FramePlan, look: Pick<Look, 'light' | 'bounds'>) {
  const { composite, plate, reference } = plan
  if (!composite || !plate || !reference) throw new Error('There is no picture.')
  const whole: Window = { x: 0, y: 0, ...shot.frameSize }
  const steps = [composite, plate, ...(reference.key === plate.key ? [] : [reference])]
  const [seen, came, treated] = await Promise.all(steps.map((step) => look.light(step, whole)))
  const behind = reference.key === plate.key ? came : treated
  let [notNumbers, belowZero, clipped] = [0, 0, 0]
  const most = lightestOf(shot)
  for (let i = 0; i < seen.length; i += 4) {
    const sum = seen[i] + seen[i + 1] + seen[i + 2] + seen[i + 3]
    if (!Number.isFinite(sum)) notNumbers++
    else {
      let [below, above] = [false, false]
      for (let c = i; c < i + 3; c++) {
        if (seen[c] < -negligible && seen[c] < came[c] - negligible) below = true
        if (seen[c] > most && seen[c] > came[c] * (1 + negligible)) above = true
      }
      if (below) belowZero++
      if (above) clipped++
    }
  }
  const elements: Record<string, FactsOfElement> = {}
  for (const element of toBeMatched(shot)) {
    const step = plan.elements.get(element.id)
    if (!step) continue
    const body = await look.bounds(step)
    const window = intersect(dilate(body, body.width >> 2, body.height >> 2), whole)
    if (pixelCount(window) === 0) continue
    const cover = await look.light(step, window)
    const facts = elementFacts(cover, window)
    const { black, mean, print } = elementFacts(cutWindow(behind, whole, window), window)
    const shadow = companionsOf(shot, element).shadows.find(({ blend }) => blend.kind === 'shadow')
    const matte = shadow && plan.elements.get(shadow.id)
    elements[element.id] = {
      ...facts,
      plate: { black, mean, print },
      outline: outlineExcess(cutWindow(seen, whole, window), cover, window),
      shadow: matte ? await depthOf(look, { seen, behind, whole }, { matte, body: step }) : null,
    }
  }
  return { notNumbers, belowZero, clipped, elements }
}

/** The light of the plate's highest code: what is lighter is cut off where it is delivered as the plate is encoded. */
function lightestOf(shot: Shot): number {
  const encoding = plateSource(shot)?.claims.encoding ?? 'linear'
  return encoding === 'linear' ? largestHalf : decode(encoding, 1)
}

const largestHalf = 65504

/** Filters that move pictures go a little below zero beside bright places. */
const negligible = 0.002

interface Pictures {
  readonly seen: Float32Array
  readonly behind: Float32Array
  readonly whole: Window
}
type Step = NonNullable<FramePlan['plate']>

async function depthOf(
  look: Pick<Look, 'light' | 'bounds'>,
  { seen, behind, whole }: Pictures,
  { matte, body }: { readonly matte: Step; readonly body: Step },
): Promise<number | null> {
  const window = intersect(await look.bounds(matte), whole)
  if (pixelCount(window) === 0) return null
  const [shade, cover] = await Promise.all([look.light(matte, window), look.light(body, window)])
  return shadowDepth(
    cutWindow(seen, whole, window),
    cutWindow(behind, whole, window),
    shade,
    (i) => !(cover[4 * i + 3] > 0),
  )
}
