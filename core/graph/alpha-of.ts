/** A picture's coverage as a grey in all four channels. */

import { colour, type Step } from './steps'

const none = [0, 0, 0] as const

export function alphaOf(picture: Step): Step {
  return colour(picture, [
    { do: 'matrix', rows: [none, none, none] },
    { do: 'affine', gain: [1, 1, 1], veil: [1, 1, 1] },
  ])
}
