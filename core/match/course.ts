/** A setting over the frames: one for all of them where noise explains what differs, else few keyframes, jumps kept. */

import { medianOf } from '../algebra/median'
import type { Rgb } from './side-reading'

export interface ValueOnFrame {
  readonly frame: number
  readonly value: Rgb
  /** standard errors */
  readonly error: Rgb
}

export type Course =
  | { readonly kind: 'one'; readonly value: Rgb }
  /** straight lines between them */
  | { readonly kind: 'keyed'; readonly keyframes: readonly { readonly frame: number; readonly value: Rgb }[] }

/** Of so many errors noise alone leaves a value off. */
const byNoise = 3
/** So large a share of the frames may lie farther off before one setting no longer holds. */
const mostOff = 0.05

/**
 * @param values in the order of their frames, at least one @param least what differs by less is no matter
 * @returns keyframes on some of the given frames, so that straight lines between them leave every value within noise
 *   (Ramer 1972, Douglas and Peucker 1973)
 */
export function courseOf(values: readonly ValueOnFrame[], least: number): Course {
  const middle = [0, 1, 2].map((c) => medianOf(values.map(({ value }) => value[c]))) as unknown as Rgb
  const limit = ({ error }: ValueOnFrame, c: number) => least + byNoise * error[c]
  const off = values.filter((one) => one.value.some((value, c) => Math.abs(value - middle[c]) > limit(one, c)))
  if (off.length <= mostOff * values.length) return { kind: 'one', value: middle }
  const kept = new Set([0, values.length - 1])
  const split = (from: number, to: number): void => {
    const [a, b] = [values[from], values[to]]
    let [worst, most] = [-1, 1]
    for (let i = from + 1; i < to; i++) {
      const share = (values[i].frame - a.frame) / (b.frame - a.frame)
      for (let c = 0; c < 3; c++) {
        const line = a.value[c] + share * (b.value[c] - a.value[c])
        const far = Math.abs(values[i].value[c] - line) / limit(values[i], c)
        if (far > most) [worst, most] = [i, far]
      }
    }
    if (worst < 0) return
    kept.add(worst)
    split(from, worst)
    split(worst, to)
  }
  split(0, values.length - 1)
  const keyframes = [...kept].sort((a, b) => a - b).map((i) => ({ frame: values[i].frame, value: values[i].value }))
  return { kind: 'keyed', keyframes }
}
