/** Technical checks over the frames: rows of verdicts from what was measured of each. */

import { steadyPlaces, steadyVerdicts, type Verdict } from '../match'
import { find, keyedCurves, type Shot } from '../shot'
import type { Triple } from '../measure/element-facts'
import type { FactsOfElement, FrameFacts } from './frame-facts'
import { companionsOf } from './matching'
import { popsOf } from './pops'

export const checkNames = [
  'files',
  'numbers',
  'below zero',
  'clipped',
  'black',
  'colour',
  'sharpness',
  'shadow',
  'flicker',
  'coverage',
  'place',
  'outline',
  'repeated',
  'keyframes',
] as const
export type CheckName = (typeof checkNames)[number]

export interface CheckCell {
  readonly frame: number
  readonly verdict: Verdict
  /** what was found, as a sentence */
  readonly says: string
  /** how far off, in the check's own unit, where it has one */
  readonly off?: number
}

export interface CheckRow {
  readonly check: CheckName
  /** null: of the whole picture */
  readonly element: string | null
  /** "Black of Diving bell" */
  readonly name: string
  /** of frames that were measured */
  readonly cells: readonly CheckCell[]
}

/**
 * In light, as shares of light, of fine detail (a blur of half a pixel takes about a quarter of it away), of what a shadow takes, of
 * light, of coverage, of the light beside an outline.
 */
const tolerances = {
  black: 0.002,
  colour: 0.016,
  sharpness: 0.18,
  shadow: 0.02,
  flicker: 0.03,
  coverage: 0.02,
  outline: 0.08,
}
/** In pixels. */
const placeTolerance = 0.4

/** @param facts by frame; frames that are not there are not judged */
export function checkRows(shot: Shot, facts: ReadonlyMap<number, FrameFacts>): CheckRow[] {
  const frames = [...facts.keys()].sort((a, b) => a - b)
  const of = (frame: number) => facts.get(frame) as FrameFacts
  const whole = (check: CheckName, name: string, cell: (one: FrameFacts) => Omit<CheckCell, 'frame'>): CheckRow => ({
    ...{ check, element: null, name },
    cells: frames.map((frame) => ({ frame, ...cell(of(frame)) })),
  })
  const found = (count: number, what: string) =>
    count > 0
      ? ({ verdict: 'drifts', says: `${count} ${count === 1 ? 'pixel' : 'pixels'} ${what}`, off: count } as const)
      : ({ verdict: 'agrees', says: `No pixel ${what}` } as const)
  const ids = [...new Set(frames.flatMap((frame) => Object.keys(of(frame).elements)))]
  return [
    whole('files', 'Files', ({ problems }) =>
      problems.length > 0
        ? { verdict: 'drifts', says: problems.join(' ') }
        : { verdict: 'agrees', says: 'Everything is there' },
    ),
    whole('numbers', 'No number', ({ notNumbers }) => found(notNumbers, 'with what is no number')),
    whole('below zero', 'Below zero', ({ belowZero }) => found(belowZero, 'below zero where the plate is not')),
    whole('clipped', 'Clipped', ({ clipped }) => found(clipped, 'lighter than the plate’s encoding can hold')),
    ...ids.flatMap((id) => rowsOf(shot, id, frames, of)),
  ]
}

function rowsOf(shot: Shot, id: string, frames: readonly number[], of: (frame: number) => FrameFacts): CheckRow[] {
  const name = find(shot.elements, id)?.name ?? id
  const facts = frames.map((frame): FactsOfElement | null => of(frame).elements[id] ?? null)
  const row = (check: CheckName, label: string, cells: readonly (Omit<CheckCell, 'frame'> | null)[]): CheckRow => ({
    ...{ check, element: id, name: `${label} of ${name}` },
    cells: cells.flatMap((cell, i) => (cell ? [{ frame: frames[i], ...cell }] : [])),
  })
  const channels = [0, 1, 2] as const
  /** Several values of a frame, of which the one that is farthest off counts. */
  const steady = (
    check: CheckName,
    label: string,
    values: readonly ((one: FactsOfElement, i: number) => number | null)[],
    tolerance: number,
    says: (off: number) => string,
    judge = steadyVerdicts,
  ) => {
    const each = values.map((value) =>
      judge(
        facts.map((one, i) => (one ? value(one, i) : null)),
        tolerance,
      ),
    )
    return row(
      check,
      label,
      frames.map((_, i) => {
        const there = each.flatMap((all) => all[i] ?? [])
        if (there.length < values.length) return null
        const verdict = worstOf(there.map((one) => one.verdict))
        const { off } = there.reduce((a, b) => (Math.abs(b.off) > Math.abs(a.off) ? b : a))
        return { verdict, says: says(off), off }
      }),
    )
  }
  /** Where the plate's own black steps, the element's may step with it. */
  const plateSteps = channels.map((c) =>
    steadyVerdicts(
      facts.map((one) => one?.plate.black?.[c] ?? null),
      tolerances.black / 2,
    ).map((one) => (one?.verdict === 'drifts' ? one.off : 0)),
  )
  const percent = (share: number) => `${share > 0 ? '+' : ''}${(100 * share).toFixed(1)} %`
  return [
    steady(
      'black',
      'Black',
      channels.map((c) => (one, i) => one.black && one.black[c] - plateSteps[c][i]),
      tolerances.black,
      (off) => `${off > 0 ? '+' : ''}${off.toFixed(4)} beside the frames around it`,
    ),
    steady(
      'colour',
      'Colour',
      [0, 2].map(
        (c) =>
          ({ mean }) =>
            mean && logRatio(mean[c], mean[1]),
      ),
      tolerances.colour,
      (off) => `${percent(off)} in a ratio of channels beside the frames around it`,
    ),
    steady(
      'sharpness',
      'Sharpness',
      [({ fine }) => (fine === null ? null : Math.log(fine))],
      tolerances.sharpness,
      (off) => `${percent(off)} of fine detail beside the frames around it`,
    ),
    steady(
      'shadow',
      'Shadow',
      [({ shadow }) => shadow],
      tolerances.shadow,
      (off) => `${off > 0 ? 'darker' : 'lighter'} by ${Math.abs(off).toFixed(3)} than the frames around it`,
    ),
    // Both may grow lighter or darker together, as they do under one lamp.
    steady(
      'flicker',
      'Flicker',
      [({ mean, plate }) => logRatio(sumOf(mean), sumOf(plate.mean))],
      tolerances.flicker,
      (off) => `${percent(off)} of light beside the plate, other than in the frames around it`,
    ),
    steady(
      'coverage',
      'Coverage',
      [({ area }) => (area > 0 ? Math.log(area) : null)],
      tolerances.coverage,
      (off) => `${percent(off)} of coverage beside the frames around it`,
    ),
    steady(
      'place',
      'Place',
      [({ centre }) => centre && centre.x, ({ centre }) => centre && centre.y],
      placeTolerance,
      (off) => `${Math.abs(off).toFixed(2)} px from where its neighbours let one expect it`,
      steadyPlaces,
    ),
    steady(
      'outline',
      'Outline',
      [({ outline }) => outline],
      tolerances.outline,
      (off) => `${off > 0 ? 'lighter' : 'darker'} by ${percent(Math.abs(off))} than in the frames around it`,
    ),
    row(
      'repeated',
      'Repeated frames',
      facts.map((one, i) => {
        const before = facts[i - 1]
        if (!one || !before || one.covered === 0) return null
        const [again, plateAgain] = [one.print === before.print, one.plate.print === before.plate.print]
        const says = again ? 'The element is that of the frame before' : 'The plate is that of the frame before'
        return again || plateAgain ? { verdict: 'drifts', says } : { verdict: 'agrees', says: 'A picture of its own' }
      }),
    ),
    row('keyframes', 'Keyframes', keyframeCells(shot, id, frames)),
  ].filter(({ cells }) => cells.length > 0)
}

/** A change of so many steps of its number cannot be overlooked. */
const stepsOfAPop = 3

/** @returns null for every frame where nothing is keyed */
function keyframeCells(shot: Shot, id: string, frames: readonly number[]): (Omit<CheckCell, 'frame'> | null)[] {
  const element = find(shot.elements, id)
  const others = element ? Object.values(companionsOf(shot, element)).flat() : []
  const keyed = keyedCurves(shot, [id, ...others.map((one) => one.id)])
  if (keyed.length === 0) return frames.map(() => null)
  const pops = new Map<number, { readonly says: string; readonly off: number }>()
  for (const { label, known, curve } of keyed)
    for (const { frame, off } of popsOf(curve, [shot.frames.first, shot.frames.last], stepsOfAPop * known.step))
      if (!pops.has(frame)) pops.set(frame, { says: `${label} leaves its way and comes back`, off })
  return frames.map((frame) => {
    const pop = pops.get(frame)
    return pop ? { verdict: 'drifts', ...pop } : { verdict: 'agrees', says: 'Keyed values go on evenly' }
  })
}

const sumOf = (light: Triple | null): number => (light ? light[0] + light[1] + light[2] : 0)
const logRatio = (a: number, b: number): number | null => (a > 0 && b > 0 ? Math.log(a / b) : null)

export function worstOf(verdicts: readonly Verdict[]): Verdict {
  return verdicts.includes('drifts') ? 'drifts' : verdicts.includes('not judged') ? 'not judged' : 'agrees'
}
