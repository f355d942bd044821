/** Small sums with places, turns and 4 x 4 matrices (column-major, as glTF 2.0 has them). */

type Numbers = readonly number[]
export type Vector3 = readonly [x: number, y: number, z: number]
export type Matrix4 = Numbers

export const unmoved: Matrix4 = [1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1]

export const unit = (values: Numbers): number[] => values.map((value) => value / Math.hypot(...values))

export function multiplied(a: Matrix4, b: Matrix4): Matrix4 {
  return Array.from({ length: 16 }, (_, i) => {
    const [row, column] = [i % 4, 4 * Math.floor(i / 4)]
    return a[row] * b[column] + a[row + 4] * b[column + 1] + a[row + 8] * b[column + 2] + a[row + 12] * b[column + 3]
  })
}

/** @param turn a quaternion, x, y, z, w */
export function matrixOf([px, py, pz]: Numbers, turn: Numbers, [sx, sy, sz]: Numbers): Matrix4 {
  const [x, y, z, w] = unit(turn)
  return [
    (1 - 2 * (y * y + z * z)) * sx, 2 * (x * y + z * w) * sx, 2 * (x * z - y * w) * sx, 0,
    2 * (x * y - z * w) * sy, (1 - 2 * (x * x + z * z)) * sy, 2 * (y * z + x * w) * sy, 0,
    2 * (x * z + y * w) * sz, 2 * (y * z - x * w) * sz, (1 - 2 * (x * x + y * y)) * sz, 0,
    px, py, pz, 1,
  ] // prettier-ignore
}

export function through(m: Matrix4, [x, y, z]: Numbers): Vector3 {
  const row = (i: number) => m[i] * x + m[4 + i] * y + m[8 + i] * z + m[12 + i]
  return [row(0), row(1), row(2)]
}

/** The turn of a matrix that may also enlarge (Shepperd's way: the largest of the four parts first). */
export function turnOf(m: Matrix4): readonly [number, number, number, number] {
  const axis = (i: number) => unit([m[4 * i], m[4 * i + 1], m[4 * i + 2]])
  const [[xx, xy, xz], [yx, yy, yz], [zx, zy, zz]] = [axis(0), axis(1), axis(2)]
  const parts = [xx - yy - zz, yy - xx - zz, zz - xx - yy, xx + yy + zz]
  const largest = parts.indexOf(Math.max(...parts))
  const half = Math.sqrt(1 + parts[largest]) / 2
  const q = 1 / (4 * half)
  if (largest === 0) return [half, (xy + yx) * q, (xz + zx) * q, (yz - zy) * q]
  if (largest === 1) return [(xy + yx) * q, half, (yz + zy) * q, (zx - xz) * q]
  if (largest === 2) return [(xz + zx) * q, (yz + zy) * q, half, (xy - yx) * q]
  return [(yz - zy) * q, (zx - xz) * q, (xy - yx) * q, half]
}

/** Between two turns, at an even pace, the shorter way. */
export function slerped(from: Numbers, to: Numbers, t: number): number[] {
  const dot = from.reduce((sum, value, i) => sum + value * to[i], 0)
  const angle = Math.acos(Math.min(1, Math.abs(dot)))
  const sine = Math.sin(angle)
  const [a, b] = sine < 1e-9 ? [1 - t, t] : [Math.sin((1 - t) * angle) / sine, Math.sin(t * angle) / sine]
  return unit(from.map((value, i) => a * value + Math.sign(dot || 1) * b * to[i]))
}

/** @returns the corners in order around it; null where four places are no rectangle: sides and corners may be off by 1 % */
export function rectangleOf(places: readonly Vector3[]): readonly [Vector3, Vector3, Vector3, Vector3] | null {
  if (places.length !== 4) return null
  const [a, ...others] = places
  const away = (p: Vector3, q: Vector3) => Math.hypot(p[0] - q[0], p[1] - q[1], p[2] - q[2])
  // The farthest from a corner lies across from it.
  const [b, d, c] = [...others].sort((p, q) => away(a, p) - away(a, q))
  const size = away(a, c)
  const gap = Math.hypot(...[0, 1, 2].map((i) => a[i] + c[i] - b[i] - d[i]))
  const isRectangle =
    size > 0 && gap < 0.01 * size && Math.abs(away(b, d) - size) < 0.01 * size && away(a, b) > 0.001 * size
  return isRectangle ? [a, b, c, d] : null
}
