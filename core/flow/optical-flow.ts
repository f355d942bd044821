/**
 * Motion from one picture to another at every pixel: small patches are aligned from coarse to fine (Lucas and Kanade, inverse
 * compositional), starting from the best of what the coarser level and neighbouring patches found, and overlapping patches are averaged
 * by how well they fit (after Kroeger et al. 2016).
 */

import { featuresOf, levelsOf, type Features, type Picture } from './features'

/** Pixels to the right and down, for every pixel of the first picture. */
export interface Flow {
  readonly width: number
  readonly height: number
  readonly across: Float32Array
  readonly down: Float32Array
}

const patch = 8
const spacing = 4
const steps = 12
/** Patches with less slope than this tell nothing: they keep what the coarser level says. */
const leastSlope = 1e-4
/** A patch that went farther than this from where it began is lost. */
const farthest = patch

const { abs, floor, hypot, max, min } = Math

export function opticalFlow(from: Picture, to: Picture): Flow {
  const [first, second] = [levelsOf(featuresOf(from)), levelsOf(featuresOf(to))]
  let flow: Flow | null = null
  for (let level = first.length - 1; level >= 0; level--) flow = refined(first[level], second[level], flow)
  return flow as Flow
}

/** Of one level, from what was found at half its size. */
function refined(from: Features, to: Features, coarse: Flow | null): Flow {
  const { width, height } = from
  const columns = max(1, floor((width - patch) / spacing) + 1)
  const rows = max(1, floor((height - patch) / spacing) + 1)
  const found = new Float32Array(columns * rows * 2)
  const patches = new Patches(from, to)
  for (let row = 0; row < rows; row++)
    for (let column = 0; column < columns; column++) {
      const [x, y] = [column * spacing, row * spacing]
      const at = 2 * (row * columns + column)
      const starts: (readonly [number, number])[] = [[0, 0]]
      if (coarse) {
        const cx = min(coarse.width - 1, (x + patch / 2) >> 1)
        const cy = min(coarse.height - 1, (y + patch / 2) >> 1)
        const i = cy * coarse.width + cx
        starts.push([2 * coarse.across[i], 2 * coarse.down[i]])
      }
      if (column > 0) starts.push([found[at - 2], found[at - 1]])
      if (row > 0) starts.push([found[at - 2 * columns], found[at - 2 * columns + 1]])
      const [dx, dy] = patches.aligned(x, y, starts)
      found[at] = dx
      found[at + 1] = dy
    }
  // The other way round, so that what was found below and to the right is known above and to the left too.
  for (let row = rows - 1; row >= 0; row--)
    for (let column = columns - 1; column >= 0; column--) {
      const at = 2 * (row * columns + column)
      const starts: (readonly [number, number])[] = [[found[at], found[at + 1]]]
      if (column < columns - 1) starts.push([found[at + 2], found[at + 3]])
      if (row < rows - 1) starts.push([found[at + 2 * columns], found[at + 2 * columns + 1]])
      if (starts.length === 1) continue
      const [dx, dy] = patches.aligned(column * spacing, row * spacing, starts)
      found[at] = dx
      found[at + 1] = dy
    }
  return averaged(from, to, found, columns, rows)
}

/** Patches of one picture that are looked for in another. */
class Patches {
  private readonly own = [new Float64Array(patch * patch), new Float64Array(patch * patch)] as const
  private readonly slopeX = [new Float64Array(patch * patch), new Float64Array(patch * patch)] as const
  private readonly slopeY = [new Float64Array(patch * patch), new Float64Array(patch * patch)] as const

  constructor(
    private readonly from: Features,
    private readonly to: Features,
  ) {}

  /** @param starts places to begin from, of which the one that fits best is taken */
  aligned(x: number, y: number, starts: readonly (readonly [number, number])[]): readonly [number, number] {
    const [xx, xy, yy] = this.take(x, y)
    // Where it is even nothing tells one place from another.
    if (xx + yy < leastSlope) return starts[Math.min(1, starts.length - 1)]
    let best: readonly [number, number] = starts[0]
    let least = this.misfit(x, y, best[0], best[1])
    for (const start of starts.slice(1)) {
      if (start[0] === best[0] && start[1] === best[1]) continue
      const misfit = this.misfit(x, y, start[0], start[1])
      if (misfit < least) [best, least] = [start, misfit]
    }
    const determinant = xx * yy - xy * xy
    // An edge alone: only across it anything is told.
    const damping = 1e-3 * (xx + yy)
    let [dx, dy] = best
    for (let step = 0; step < steps; step++) {
      const [bx, by] = this.pull(x, y, dx, dy)
      const d = determinant + damping * (xx + yy) + damping * damping
      const [mx, my] = [((yy + damping) * bx - xy * by) / d, ((xx + damping) * by - xy * bx) / d]
      dx -= mx
      dy -= my
      if (hypot(mx, my) < 0.01) break
    }
    if (hypot(dx - best[0], dy - best[1]) > farthest) return best
    return this.misfit(x, y, dx, dy) <= least ? [dx, dy] : best
  }

  /** Values and slopes of the patch. @returns the sums of squared slopes */
  private take(x: number, y: number): readonly [number, number, number] {
    const { width, height, planes } = this.from
    let [xx, xy, yy] = [0, 0, 0]
    for (let c = 0; c < 2; c++) {
      const plane = planes[c]
      for (let j = 0, i = 0; j < patch; j++)
        for (let k = 0; k < patch; k++, i++) {
          const [px, py] = [min(width - 1, x + k), min(height - 1, y + j)]
          const at = py * width + px
          const gx = (plane[py * width + min(width - 1, px + 1)] - plane[py * width + max(0, px - 1)]) / 2
          const gy = (plane[min(height - 1, py + 1) * width + px] - plane[max(0, py - 1) * width + px]) / 2
          this.own[c][i] = plane[at]
          this.slopeX[c][i] = gx
          this.slopeY[c][i] = gy
          xx += gx * gx
          xy += gx * gy
          yy += gy * gy
        }
    }
    return [xx, xy, yy]
  }

  private misfit(x: number, y: number, dx: number, dy: number): number {
    let sum = 0
    for (let c = 0; c < 2; c++)
      for (let j = 0, i = 0; j < patch; j++)
        for (let k = 0; k < patch; k++, i++)
          sum += abs(
            bilinear(this.to.planes[c], this.to.width, this.to.height, x + k + dx, y + j + dy) - this.own[c][i],
          )
    return sum
  }

  private pull(x: number, y: number, dx: number, dy: number): readonly [number, number] {
    let [bx, by] = [0, 0]
    for (let c = 0; c < 2; c++)
      for (let j = 0, i = 0; j < patch; j++)
        for (let k = 0; k < patch; k++, i++) {
          const there = bilinear(this.to.planes[c], this.to.width, this.to.height, x + k + dx, y + j + dy)
          const off = there - this.own[c][i]
          bx += off * this.slopeX[c][i]
          by += off * this.slopeY[c][i]
        }
    return [bx, by]
  }
}

function bilinear(plane: Float32Array, width: number, height: number, x: number, y: number): number {
  const px = x < 0 ? 0 : x > width - 1 ? width - 1 : x
  const py = y < 0 ? 0 : y > height - 1 ? height - 1 : y
  const [left, top] = [floor(px), floor(py)]
  const [u, v] = [px - left, py - top]
  const right = left + 1 < width ? left + 1 : left
  const below = (top + 1 < height ? top + 1 : top) * width
  const row = top * width
  const upper = plane[row + left] + u * (plane[row + right] - plane[row + left])
  const lower = plane[below + left] + u * (plane[below + right] - plane[below + left])
  return upper + v * (lower - upper)
}

/** At every pixel the mean of the patches over it, each by how well it fits there. */
function averaged(from: Features, to: Features, found: Float32Array, columns: number, rows: number): Flow {
  const { width, height } = from
  const across = new Float32Array(width * height)
  const down = new Float32Array(width * height)
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) {
      const i = y * width + x
      const firstColumn = max(0, min(columns - 1, Math.ceil((x - patch + 1) / spacing)))
      const lastColumn = min(columns - 1, max(firstColumn, floor(x / spacing)))
      const firstRow = max(0, min(rows - 1, Math.ceil((y - patch + 1) / spacing)))
      const lastRow = min(rows - 1, max(firstRow, floor(y / spacing)))
      let [sum, dx, dy] = [0, 0, 0]
      for (let row = firstRow; row <= lastRow; row++)
        for (let column = firstColumn; column <= lastColumn; column++) {
          const at = 2 * (row * columns + column)
          const [px, py] = [found[at], found[at + 1]]
          let off = 0
          for (let c = 0; c < 2; c++)
            off += abs(bilinear(to.planes[c], width, height, x + px, y + py) - from.planes[c][i])
          const weight = 1 / (0.01 + off)
          sum += weight
          dx += weight * px
          dy += weight * py
        }
      across[i] = dx / sum
      down[i] = dy / sum
    }
  return { width, height, across, down }
}
