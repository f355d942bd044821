/** The shot as it is seen before the finish moves the whole picture, or held still on tracks. Only for the eye and for readings. */

import { allOf, find, newTreatment, type Pin, type Shot, type Use } from '../shot'
import { treatments } from '../treatments'

const unmovedUses = new WeakMap<Shot['uses'], Shot['uses']>()

/** Without what stabilises and reframes: everything lies where the plate has it. */
export function unmovedByFinish(shot: Shot): Shot {
  // A drag makes a new shot at every movement, but leaves its uses as they are.
  let uses = unmovedUses.get(shot.uses)
  if (!uses) {
    const moves = ({ owner, treatment }: Use) => {
      const settings = find(shot.treatments, treatment)
      return owner.kind === 'finish' && settings !== undefined && treatments[settings.kind].side === 'mapping'
    }
    const left = allOf(shot.uses).filter((use) => !moves(use))
    const same = left.length === Object.keys(shot.uses.byId).length
    uses = same ? shot.uses : { byId: Object.fromEntries(left.map((use) => [use.id, use])) }
    unmovedUses.set(shot.uses, uses)
  }
  return uses === shot.uses ? shot : { ...shot, uses }
}

const id = 'held still for the eye'
/** What is shown is planned again and again of the same shot. */
const held = new WeakMap<Shot, WeakMap<Pin, Shot>>()

/**
 * The picture held still: what the tracks follow stays where it is on the pin's frame, and everything else moves about it. The finish's own moves
 * are left out, so that there is one motion to look at.
 */
export function heldStill(shot: Shot, pin: Pin): Shot {
  let known = held.get(shot)
  if (!known) held.set(shot, (known = new WeakMap()))
  let made = known.get(pin)
  if (!made) known.set(pin, (made = holding(shot, pin)))
  return made
}

function holding(shot: Shot, pin: Pin): Shot {
  const unmoved = unmovedByFinish(shot)
  const settings = { ...newTreatment('steady', id), pin }
  const use: Use = { id, rank: 'a', owner: { kind: 'finish' }, treatment: id, on: true, limit: null }
  return {
    ...unmoved,
    treatments: { byId: { ...unmoved.treatments.byId, [id]: settings } },
    uses: { byId: { ...unmoved.uses.byId, [id]: use } },
  }
}
