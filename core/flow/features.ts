/** What pictures are compared by when motion between them is looked for: brightness as the eye sees it, and coverage; in levels of size. */

export interface Picture {
  readonly width: number
  readonly height: number
  /** premultiplied scene-linear RGBA */
  readonly light: Float32Array
}

/** Planes of one size: brightness, coverage. */
export interface Features {
  readonly width: number
  readonly height: number
  readonly planes: readonly [Float32Array, Float32Array]
}

const { floor, max, sqrt } = Math

/** Light is compared by its root, so that dark and bright places count alike. Light without coverage counts as light. */
export function featuresOf({ width, height, light }: Picture): Features {
  const brightness = new Float32Array(width * height)
  const coverage = new Float32Array(width * height)
  for (let i = 0; i < brightness.length; i++) {
    const sum = light[4 * i] + light[4 * i + 1] + light[4 * i + 2]
    brightness[i] = sqrt(max(0, Number.isFinite(sum) ? sum / 3 : 0))
    coverage[i] = Number.isFinite(light[4 * i + 3]) ? light[4 * i + 3] : 0
  }
  return { width, height, planes: [brightness, coverage] }
}

/** The smallest level has this many pixels a side or a few more. */
const leastSide = 20

/** Each half as large as the one before, by means of two by two. */
export function levelsOf(features: Features): readonly Features[] {
  const levels = [features]
  for (let now = features; now.width >= 2 * leastSide && now.height >= 2 * leastSide;) {
    const [width, height] = [floor(now.width / 2), floor(now.height / 2)]
    const planes = now.planes.map((plane) => halved(plane, now.width, width, height)) as unknown as Features['planes']
    levels.push((now = { width, height, planes }))
  }
  return levels
}

function halved(plane: Float32Array, stride: number, width: number, height: number): Float32Array {
  const out = new Float32Array(width * height)
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) {
      const at = 2 * y * stride + 2 * x
      out[y * width + x] = (plane[at] + plane[at + 1] + plane[at + stride] + plane[at + stride + 1]) / 4
    }
  return out
}
