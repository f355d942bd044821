/** What is odd in a run of frames: the same one twice, one without a picture, a jump of brightness. */

/** What is known of one frame without looking at all of it. */
export interface FrameMark {
  readonly frame: number
  /** the same for two frames only when their pixels are */
  readonly digest: string
  /** mean of the colour channels, scene-linear or code values alike */
  readonly mean: number
  /** largest value */
  readonly most: number
}

export interface RunFindings {
  /** frames that repeat the one before; empty when all frames are the same */
  readonly repeated: readonly number[]
  readonly black: readonly number[]
  /** frames that begin at another level than the frame before, with the step in stops */
  readonly jumps: readonly { readonly frame: number; readonly stops: number }[]
}

const blackest = 1e-5
/** A jump is at least this, and so many times what neighbours usually differ by. */
const leastJump = 0.12
const timesUsual = 6

const median = (values: readonly number[]) => [...values].sort((a, b) => a - b)[values.length >> 1] ?? 0

export function findInRun(marks: readonly FrameMark[]): RunFindings {
  const pairs = marks.slice(1).map((mark, i) => [marks[i], mark] as const)
  const repeated = pairs.filter(([before, mark]) => mark.digest === before.digest).map(([, { frame }]) => frame)
  const allBlack = marks.every(({ most }) => most <= blackest)
  const black = allBlack ? [] : marks.filter(({ most }) => most <= blackest).map(({ frame }) => frame)
  const lit = pairs.filter((pair) => pair.every(({ mean }) => mean > blackest))
  const steps = lit.map(([before, mark]) => ({ frame: mark.frame, stops: Math.log2(mark.mean / before.mean) }))
  const usual = median(steps.map(({ stops }) => Math.abs(stops)))
  const jumps = steps.filter(({ stops }) => Math.abs(stops) > Math.max(leastJump, timesUsual * usual))
  return { repeated: repeated.length === pairs.length ? [] : repeated, black, jumps }
}
