/** When elements are there, as bars over the frames, and what a hand does to them: move, slip, let begin and end elsewhere. */

import type { SetTiming, SingleChange, Together } from './edits'
import { allOf, find } from './find'
import { shotFramesOf, timedFrame } from './source-files'
import type { Element, ElementInput, FrameRange, PassInput, Shot } from './types'

export type TimedInput = PassInput | ElementInput

export const timedInputs = ({ inputs }: Pick<Element, 'inputs'>): readonly TimedInput[] =>
  allOf(inputs).filter((input): input is TimedInput => input.kind === 'pass' || input.kind === 'element')

function framesOf(shot: Shot, input: TimedInput): FrameRange | null {
  if (input.kind === 'element') return shot.frames
  const source = find(shot.sources, input.source)
  return source ? shotFramesOf(source) : null
}

/** The frames on which an input shows anything; without bounds where a still or a held frame does. */
function barOfInput(shot: Shot, input: TimedInput): FrameRange | null {
  const frames = framesOf(shot, input)
  const { from = -Infinity, to = Infinity, offset = 0, speed = 1, held, beyond = 'nothing' } = input.timing ?? {}
  if (!frames || held !== undefined || beyond !== 'nothing' || speed === 0) return { first: from, last: to }
  // Where first + (frame - first) * speed + offset lies inside the files.
  const at = (file: number) => (file - frames.first - offset) / speed + frames.first
  const ends = [at(frames.first - 0.5), at(frames.last + 0.5)].sort((a, b) => a - b)
  const shows = (frame: number) => {
    const shown = timedFrame(frames, input.timing, frame)
    return shown !== null && shown >= frames.first && shown <= frames.last
  }
  let [first, last] = [Math.max(from, Math.floor(ends[0]) - 1), Math.min(to, Math.ceil(ends[1]) + 1)]
  while (first <= last && !shows(first)) first++
  while (last >= first && !shows(last)) last--
  return first <= last ? { first, last } : null
}

/** The frames on which an element shows anything; infinite where nothing bounds it, null where it never does. */
export function barOf(shot: Shot, element: Element): FrameRange | null {
  const inputs = timedInputs(element)
  if (inputs.length === 0) return { first: -Infinity, last: Infinity }
  const bars = inputs.map((input) => barOfInput(shot, input)).filter((bar) => bar !== null)
  if (bars.length === 0) return null
  return { first: Math.min(...bars.map(({ first }) => first)), last: Math.max(...bars.map(({ last }) => last)) }
}

export type BarPart = 'bar' | 'slip' | 'begin' | 'end'

/** How one input's time changes. @param by frames to the right */
function timingFor(shot: Shot, input: TimedInput, part: BarPart, by: number): SetTiming['changes'] | null {
  const bar = barOfInput(shot, input)
  if (!bar) return null
  const { offset = 0, speed = 1, held, from, to } = input.timing ?? {}
  const earlier = offset - Math.round(by * speed)
  const offsetBy = held === undefined ? { offset: earlier === 0 ? null : earlier } : {}
  const bounded = (value: number) => (Number.isFinite(value) ? value : null)
  switch (part) {
    case 'bar':
      return {
        ...offsetBy,
        ...(from === undefined ? {} : { from: from + by }),
        ...(to === undefined ? {} : { to: to + by }),
      }
    case 'slip':
      return held === undefined ? { ...offsetBy, from: bounded(bar.first), to: bounded(bar.last) } : null
    case 'begin': {
      // As it is seen: what lies before the frames of the shot is not.
      const first = Math.max(bar.first, shot.frames.first)
      return { from: Math.min(first + by, bar.last) }
    }
    case 'end': {
      const last = Math.min(bar.last, shot.frames.last)
      return { to: Math.max(last + by, bar.first) }
    }
  }
}

const words: Readonly<Record<BarPart, string>> = {
  bar: 'Move in time:',
  slip: 'Slip',
  begin: 'Begin of',
  end: 'End of',
}

export interface MovedBars {
  readonly edit: Together | null
  /** why an element would not be seen any more, as a sentence; then there is no edit */
  readonly fault: string | null
}

/** @param by whole frames to the right */
export function movedBars(shot: Shot, ids: readonly string[], part: BarPart, by: number): MovedBars {
  const elements = ids.flatMap((id) => find(shot.elements, id) ?? [])
  const changes = elements.flatMap((element) =>
    timedInputs(element).flatMap((input): SingleChange[] => {
      const timing = by === 0 ? null : timingFor(shot, input, part, by)
      return timing ? [{ kind: 'set-timing', element: element.id, input: input.id, changes: timing }] : []
    }),
  )
  if (changes.length === 0) return { edit: null, fault: null }
  const gone = elements.find((element) => {
    const bar = barOf(
      withTimings(shot, element, changes),
      withTimings(shot, element, changes).elements.byId[element.id],
    )
    return bar === null || bar.last < shot.frames.first || bar.first > shot.frames.last
  })
  if (gone)
    return {
      edit: null,
      fault: `${gone.name} would not be seen on any frame from ${shot.frames.first} to ${shot.frames.last}; it was left where it is.`,
    }
  const [first] = elements
  const more = elements.length > 1 ? ` and ${elements.length - 1} more` : ''
  return { edit: { kind: 'together', changes, label: `${words[part]} ${first.name}${more}` }, fault: null }
}

/** The shot with an element's new timings, to look where its bar comes to lie. */
function withTimings(shot: Shot, element: Element, changes: readonly SingleChange[]): Shot {
  const inputs = { ...element.inputs.byId }
  for (const change of changes) {
    if (change.kind !== 'set-timing' || change.element !== element.id) continue
    const timing = Object.fromEntries(
      Object.entries({ ...(inputs[change.input] as TimedInput).timing, ...change.changes }).filter(
        ([, v]) => v !== null,
      ),
    )
    inputs[change.input] = { ...(inputs[change.input] as TimedInput), timing }
  }
  const next = { ...element, inputs: { byId: inputs } }
  return { ...shot, elements: { byId: { ...shot.elements.byId, [element.id]: next } } }
}
