/** A disc as weights: the share of each pixel that it covers, over its area. */

/** Pixels are cut into this many parts along each axis. */
const parts = 32

/** @returns `(2 ceil(radius) + 1)^2` weights, row by row, sum 1; coverage to within a thousandth of a pixel */
export function discWeights(radius: number): number[] {
  const side = 2 * Math.ceil(radius) + 1
  const middle = (side - 1) / 2
  const weights = Array.from({ length: side * side }, (_, i) =>
    coverage(Math.abs((i % side) - middle), Math.abs(Math.floor(i / side) - middle), radius),
  )
  const sum = weights.reduce((a, b) => a + b, 0)
  return weights.map((w) => w / sum)
}

/** Share of the pixel centred at (x, y), both at least 0, that lies in the disc: exact along x, in strips along y. */
function coverage(x: number, y: number, radius: number): number {
  let sum = 0
  for (let i = 0; i < parts; i++) {
    const dy = y - 0.5 + (i + 0.5) / parts
    const half = Math.sqrt(Math.max(0, radius * radius - dy * dy))
    sum += Math.max(0, Math.min(half, x + 0.5) - Math.max(-half, x - 0.5))
  }
  return sum / parts
}
