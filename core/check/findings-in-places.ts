/** Findings about where things come to lie. */

import { allOf, coveringScale, elementsInOrder, wayOf } from '../shot'
import { frameList, type Check } from './finding'

/** An element that reached the frame's edge as it came leaves it uncovered on its way. */
export const uncovered: Check = ({ shot, source }) => {
  const made = elementsInOrder(shot)
    .map(({ element }) => element)
    .filter(
      ({ placing, inputs }) =>
        placing && allOf(inputs).some((input) => input.kind === 'pass' && input.source === source.id),
    )
  const gaps = made.flatMap(({ id, name }) => {
    const gap = wayOf(shot, id)?.gap
    return gap ? [{ id, name, ...gap }] : []
  })
  if (gaps.length === 0) return []
  const [{ id, name, sides, frames, pixels }] = gaps
  const cure = coveringScale(shot, id, frames[0])
  return [
    {
      kind: 'uncovered',
      severity: 'wrong',
      what: `${name} does not cover the ${sides.join(', ')} of the frame`,
      where: frameList(frames),
      why: `What is behind shows there: ${pixels.toFixed(1)} px of overscan are wanting.`,
      fix: cure && { label: `Scale it by ${cure.scale}`, edit: cure.edit },
    },
  ]
}
