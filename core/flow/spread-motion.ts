/**
 * Motion of what covers, spread evenly to where nothing does (push and pull over levels, Gortler et al. 1996): what is blurred beyond its
 * own edge has to know how it moves there.
 */

import type { Flow } from './optical-flow'

const { floor, max, min } = Math

interface Level {
  readonly width: number
  readonly height: number
  readonly across: Float32Array
  readonly down: Float32Array
  readonly weight: Float32Array
}

/** @param weight how much each pixel's motion counts, 0 to 1; where it is 1 the motion stays */
export function spreadMotion({ width, height, across, down }: Flow, weight: Float32Array): Flow {
  const whole = pulled({
    ...{ width, height, weight },
    across: across.map((one, i) => one * weight[i]),
    down: down.map((one, i) => one * weight[i]),
  })
  return { width, height, across: whole.across, down: whole.down }
}

/** Sums become means; what is wanting comes from half the size. */
function pulled(level: Level): Level {
  const { width, height, across, down, weight } = level
  if (width === 1 && height === 1) {
    const sure = max(1e-9, weight[0])
    return { ...level, across: across.map((one) => one / sure), down: down.map((one) => one / sure) }
  }
  const coarse = pulled(halved(level))
  const [outX, outY] = [new Float32Array(across.length), new Float32Array(down.length)]
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) {
      const i = y * width + x
      const sure = min(1, weight[i])
      const [cx, cy] = between(coarse, (x - 0.5) / 2, (y - 0.5) / 2)
      const own = weight[i] > 1 ? 1 / weight[i] : 1
      outX[i] = across[i] * own + (1 - sure) * cx
      outY[i] = down[i] * own + (1 - sure) * cy
    }
  return { ...level, across: outX, down: outY }
}

function halved({ width, height, across, down, weight }: Level): Level {
  const [w, h] = [(width + 1) >> 1, (height + 1) >> 1]
  const half = (plane: Float32Array) => {
    const out = new Float32Array(w * h)
    for (let y = 0; y < height; y++)
      for (let x = 0; x < width; x++) out[(y >> 1) * w + (x >> 1)] += plane[y * width + x]
    return out
  }
  return { width: w, height: h, across: half(across), down: half(down), weight: half(weight) }
}

function between({ width, height, across, down }: Level, x: number, y: number): readonly [number, number] {
  const [px, py] = [min(width - 1, max(0, x)), min(height - 1, max(0, y))]
  const [left, top] = [floor(px), floor(py)]
  const [right, below] = [min(width - 1, left + 1), min(height - 1, top + 1)]
  const [u, v] = [px - left, py - top]
  const mean = (plane: Float32Array) => {
    const upper = plane[top * width + left] * (1 - u) + plane[top * width + right] * u
    const lower = plane[below * width + left] * (1 - u) + plane[below * width + right] * u
    return upper * (1 - v) + lower * v
  }
  return [mean(across), mean(down)]
}
