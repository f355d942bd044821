/** Which elements a matte has to do with, as they are where it does not cut them: where they pass, it has to be drawn. */

import { allOf, find, isGroup, type Shot, type Use } from '../shot'

export interface PassingElements {
  /** without the treatments that the matte limits */
  readonly shot: Shot
  /** those whose treatments it limits; where there are none, everything in front of the plate */
  readonly elements: readonly string[]
}

export function passingElements(shot: Shot, matte: string): PassingElements {
  const limited = ({ limit }: Use) => limit?.matte?.kind === 'matte' && limit.matte.matte === matte
  const uses = allOf(shot.uses)
  const left = { byId: Object.fromEntries(uses.filter((use) => !limited(use)).map((use) => [use.id, use])) }
  const cut = uses.filter(limited).flatMap(({ owner }) => (owner.kind === 'element' ? withInside(shot, owner.id) : []))
  const all = allOf(shot.elements).map(({ id }) => id)
  const named = cut.length > 0 ? cut : all
  const seen = named.filter((id) => {
    const element = find(shot.elements, id)
    return element !== undefined && id !== shot.plate && element.visible && !isGroup(element)
  })
  return { shot: { ...shot, uses: left }, elements: [...new Set(seen)] }
}

/** A group stands for what is in it. */
function withInside(shot: Shot, id: string): string[] {
  const inside = allOf(shot.elements).filter(({ parent }) => parent === id)
  return [id, ...inside.flatMap((one) => withInside(shot, one.id))]
}
