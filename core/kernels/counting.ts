/** What is counted of a window's pixels, and where the counts lie: whole numbers, so that parts can be added in any order. */

export type Weights = readonly [red: number, green: number, blue: number]

export type Counting =
  /** levels of one weighted sum of the channels, column by column across the window */
  | { readonly counts: 'luma'; readonly weights: Weights; readonly columns: number }
  /** levels of red, then green, then blue, each column by column */
  | { readonly counts: 'channels'; readonly columns: number }
  /** a plane of colour differences; see assembly/counts.ts */
  | { readonly counts: 'colours'; readonly size: number }

/** Levels of one column: what is at or below 2^-12, and what is at or above 2^4, lies in the outermost. */
export const levelCount = 512
const lowestBits = (127 - 12) << 5

const bits = new Uint32Array(1)
const float = new Float32Array(bits.buffer)

/** The light at which a level begins: 32 in every doubling, evenly spaced inside it. */
export function levelBegins(level: number): number {
  bits[0] = (lowestBits + level) << 18
  return float[0]
}

/** How many 32-bit words the counts take. */
export function countWords(counting: Counting): number {
  switch (counting.counts) {
    case 'luma':
      return counting.columns * levelCount
    case 'channels':
      return 3 * counting.columns * levelCount
    case 'colours':
      return counting.size ** 2
  }
}
