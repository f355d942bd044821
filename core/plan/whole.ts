/** What is done to the picture as a whole: moved by the finish, recorded by the sensor, treated by the finish. */

import { combine, type Mapping, type Step, type Way } from '../graph/steps'
import { composed, joined, unmoved as asItIs } from '../motion/mapping'
import { wayAtScale } from '../motion/way'
import { usesOf } from '../shot'
import { activeUses, given, moveThrough, sourcesOf, surroundingsOf, treat, type Walk } from './element'
import type { Planning } from './memo'
import { unmoved } from './placing'
import type { Problem } from './problem'

/** Whether anything is done to the picture by the sensor. */
export function hasSensor(planning: Planning): boolean {
  return usesOf(planning.shot, { kind: 'sensor' }).some(({ on }) => on)
}

/**
 * What the recording does to the picture where it is not the plate, which has been recorded.
 *
 * @param share how much of the plate's light is left
 */
export function recorded(
  planning: Planning,
  composite: Step,
  plate: Step,
  share: Step,
  time: number,
  problems: Problem[],
): Step {
  const uses = activeUses(planning, { kind: 'sensor' }, problems)
  const surroundings = { ...surroundingsOf(planning, time, 'sensor', true), recorded: { plate, share } }
  const walk: Walk = { planning, time, surroundings, problems, moved: null }
  return uses.reduce((step, one) => {
    const treated = treat(walk, step, one)
    const exact = treated === step || ('sparesPlate' in one.treatment && one.treatment.sparesPlate && !one.use.limit)
    return exact ? treated : combine('where-changed', [step, treated, plate])
  }, composite)
}

const ofFinish = (planning: Planning, time: number, problems: Problem[]) => {
  const surroundings = surroundingsOf(planning, time, 'finish', true)
  const walk: Walk = { planning, time, surroundings, problems, moved: null }
  return { walk, uses: activeUses(planning, { kind: 'finish' }, problems) }
}

/** Treatments of the whole picture, after everything was blended, moved and recorded. */
export function treatedFinish(planning: Planning, composite: Step, time: number, problems: Problem[]): Step {
  const { walk, uses } = ofFinish(planning, time, problems)
  return uses
    .filter(({ treatment }) => treatment.side !== 'mapping')
    .reduce((step, one) => treat(walk, step, one), composite)
}

/**
 * How the finish moves the whole picture, as one sampling: stabilised, reframed. It comes before the sensor, so that grain is
 * the recording's, not enlarged.
 *
 * @returns what moves a picture of the frame; null where nothing does
 */
export function movedFinish(planning: Planning, time: number, problems: Problem[]): ((picture: Step) => Step) | null {
  const { walk, uses } = ofFinish(planning, time, problems)
  const moving = uses.filter(({ treatment }) => treatment.side === 'mapping')
  return moving.length === 0 ? null : (picture) => moveThrough(walk, picture, unmoved, moving).step
}

/**
 * From a place of the whole picture as it is delivered to one of the plate, full scale.
 *
 * @returns null where they are the same, or where only a file's map or a limit says it
 */
export function outputWay(planning: Planning, time: number): Way | null {
  const { walk, uses } = ofFinish(planning, time, [])
  const moving = uses.filter(({ treatment, use }) => treatment.side === 'mapping' && !use.limit)
  let mapping: Mapping = asItIs
  for (const { use, settings, treatment } of moving) {
    const sources = treatment.side === 'mapping' ? sourcesOf(walk, use, settings, treatment) : null
    if (!sources || treatment.side !== 'mapping') continue
    const next = treatment.mapping(...given(walk, use, settings, treatment, sources))
    const together = composed(next, mapping)
    if (!together || together.warp || (together.field && !together.field.request.way)) return null
    mapping = together
  }
  const way = joined(mapping.field?.request.way?.way ?? [], [{ matrix: mapping.matrix }])
  return way.length === 0 ? null : wayAtScale(way, 1 / planning.scale)
}
