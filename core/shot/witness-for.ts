/** What a witness needs beside its purpose: ground in the light for a shadow, sides that follow for staying in place. */

import type { Shot, Witness, WitnessSide } from './types'
import type { SetWitness } from './edits/witnesses'

/**
 * @param places where its sides lie on the frame that is looked at
 * @returns what changes with the purpose; what is there already stays
 */
export function changesForPurpose(
  shot: Pick<Shot, 'frameSize'>,
  { reference, adjusted, lit }: Witness,
  purpose: Witness['purpose'],
  frame: number,
  places?: { readonly reference: WitnessSide; readonly adjusted: WitnessSide },
): SetWitness['changes'] {
  if (purpose === 'shadow') return lit ? { purpose } : { purpose, lit: besideIt(reference, shot.frameSize.width) }
  if (purpose !== 'registration') return { purpose }
  const following = (side: WitnessSide, now: WitnessSide | undefined): WitnessSide => {
    const { x, y, width, height } = now ?? side
    return side.follows === undefined ? { x, y, width, height, follows: frame } : side
  }
  return {
    purpose,
    reference: following(reference, places?.reference),
    adjusted: following(adjusted, places?.adjusted),
  }
}

/** As far to the right as it is wide, or to the left where the frame ends: nearer ground is more alike. */
function besideIt({ x, y, width, height }: WitnessSide, frameWidth: number): NonNullable<Witness['lit']> {
  const right = x + 2 * width
  return { x: right + width <= frameWidth ? right : x - 2 * width, y, width, height }
}
