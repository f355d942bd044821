/** The rows of the tally below its frames: what has keyframes of what is selected. */

import { keyframesOf, type Curve } from '../../../../core/motion/curve'
import { allOf, find, usesOf, type Element, type Shot } from '../../../../core/shot'
import { treatments } from '../../../../core/treatments'

export interface TallyRow {
  readonly id: string
  /** what the keyframes belong to */
  readonly name: string
  /** in order, each once */
  readonly keyframes: readonly number[]
}

type Parameters = Readonly<Record<string, readonly Curve[]>>

const framesOf = (parameters: readonly Parameters[]) => {
  const curves = parameters.flatMap((one) => Object.values(one).flat())
  return [...new Set(curves.flatMap((curve) => keyframesOf(curve).map(({ frame }) => frame)))].sort((a, b) => a - b)
}

/** The element's own, its blend's, its inputs', and each treatment's with its limit; only those that have keyframes. */
function rowsOf(shot: Shot, element: Element): TallyRow[] {
  const uses = usesOf(shot, { kind: 'element', id: element.id }).flatMap(({ id, treatment, limit }) => {
    const settings = find(shot.treatments, treatment)
    return settings
      ? [{ id, name: treatments[settings.kind].label, of: [settings.parameters, ...(limit ? [limit.parameters] : [])] }]
      : []
  })
  const own = [
    { id: 'element', name: 'Element', of: [element.parameters] },
    { id: 'inputs', name: 'Inputs', of: allOf(element.inputs).map(({ parameters }) => parameters) },
    ...uses,
    { id: 'blend', name: 'Blend', of: [element.blend.parameters] },
  ]
  return own
    .map(({ id, name, of }) => ({
      id: `${element.id} ${id}`,
      name: `${element.name}: ${name}`,
      keyframes: framesOf(of),
    }))
    .filter(({ keyframes }) => keyframes.length > 0)
}

/** @param elements ids, in the order in which they were selected */
export function tallyRows(shot: Shot, elements: readonly string[]): TallyRow[] {
  return elements.flatMap((id) => {
    const element = find(shot.elements, id)
    return element ? rowsOf(shot, element) : []
  })
}
