/** Light as the code values of a file. */

import { encodeSteps, primariesSteps, workingSpaces, type EncodingName, type PrimariesName } from '../../core/colour'
import type { OutputEncoding } from '../../core/delivery'
import { colour, type Step } from '../../core/graph/steps'
import type { ColourStep } from '../../core/kernels/colour-program'
import { plateSource, type Shot } from '../../core/shot'

/**
 * A curve is for straight colour; what is linear may stay premultiplied.
 *
 * @param straight whether the file's format has straight alpha
 */
export function stepsToCodes(
  target: EncodingName,
  from: PrimariesName,
  to: PrimariesName,
  hasAlpha: boolean,
  straight: boolean,
): ColourStep[] {
  const curve = encodeSteps(target)
  const divide = hasAlpha && (straight || curve.length > 0)
  const converted = primariesSteps(from, to)
  const steps: ColourStep[] = divide ? [{ do: 'unpremultiply' }, ...converted, ...curve] : [...converted, ...curve]
  return divide && !straight ? [...steps, { do: 'premultiply-covered' }] : steps
}

export interface Codes {
  readonly encoding: EncodingName
  of(picture: Step): Step
}

export function codesFor(wanted: OutputEncoding, shot: Shot, hasAlpha = false, straight = false): Codes {
  const working = workingSpaces[shot.workingSpace]
  const claims = plateSource(shot)?.claims
  const [encoding, primaries]: readonly [EncodingName, PrimariesName] =
    wanted === 'view'
      ? ['srgb', 'rec709']
      : wanted === 'plate' && claims
        ? [claims.encoding, claims.primaries]
        : ['linear', working]
  const steps = stepsToCodes(encoding, working, primaries, hasAlpha, straight)
  return { encoding, of: (picture) => colour(picture, steps) }
}
