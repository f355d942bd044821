/** A picture as it would be without its lens, whole: made smaller so that all of it fits the frame. Only for the eye. */

import { resample, wayField, type Lens, type Step } from '../graph/steps'
import type { Window } from '../image/window'
import { overscanOf } from '../lens'
import { byField, byMatrix, composed } from '../motion/mapping'

/** @param lens in the graph's pixels, as is the frame; one that folds inside the frame is shown without being made smaller */
export function straightened(picture: Step, lens: Lens, frame: Window): Step {
  const whole = overscanOf(lens, frame) ?? frame
  const by = Math.max(1, whole.width / frame.width, whole.height / frame.height)
  const [x, y] = [whole.x + (whole.width - frame.width * by) / 2, whole.y + (whole.height - frame.height * by) / 2]
  // The lens in the smaller picture's pixels; from where it leads, larger again.
  const smaller: Lens = {
    ...lens,
    centre: [(lens.centre[0] - x) / by, (lens.centre[1] - y) / by],
    unit: lens.unit / by,
  }
  const field = wayField({ way: [{ lens: smaller, leads: 'to-bent' }], window: frame })
  const mapping = composed(byField(field), byMatrix([by, 0, x, 0, by, y, 0, 0, 1]))
  return mapping ? resample(picture, mapping, 'catmull-rom') : picture
}
