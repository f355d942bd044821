/** Tables by which the kernels draw a curve of light; their layout stands with the kernels (assembly/tones.ts). */

/** Entries from 2^-16 to 2^8, 128 an octave. */
export const toneSteps = 3072
const perOctave = 128
const firstOctave = -16
const end = 2 ** 8

/** The light that an entry stands for; the last stands for the end. */
export const lightOfEntry = (i: number) =>
  2 ** (firstOctave + Math.floor(i / perOctave)) * (1 + (i % perOctave) / perOctave)

/**
 * @param curve from light to light, for 0 and above
 * @returns the table that `toneChannel` and `toneLuma` read
 */
export function toneTable(curve: (light: number) => number): Float32Array {
  const table = new Float32Array(4 + 2 * toneSteps)
  const zero = curve(0)
  const first = lightOfEntry(0)
  const slope = (curve(first) - zero) / first
  table.set([zero, slope, slope, (curve(2 * end) - curve(end)) / end])
  let value = curve(first)
  for (let i = 0; i < toneSteps; i++) {
    const next = curve(lightOfEntry(i + 1))
    table[4 + 2 * i] = value
    table[5 + 2 * i] = next - value
    value = next
  }
  return table
}

export interface CurvePoint {
  readonly in: number
  readonly out: number
}

/**
 * A line through points that never turns between two (Fritsch and Carlson 1980), straight beyond the first and the last.
 *
 * @param points by rising `in`, no two alike
 */
export function monotoneLine(points: readonly CurvePoint[]): (value: number) => number {
  const last = points.length - 1
  if (last < 1) return (value) => value
  const slopes = points.slice(1).map((to, i) => (to.out - points[i].out) / (to.in - points[i].in))
  const tangents = points.map((_, i) => {
    if (i === 0) return slopes[0]
    if (i === last) return slopes[last - 1]
    const [before, after] = [slopes[i - 1], slopes[i]]
    return before * after <= 0 ? 0 : (2 * before * after) / (before + after)
  })
  return (value) => {
    if (value <= points[0].in) return points[0].out + (value - points[0].in) * tangents[0]
    if (value >= points[last].in) return points[last].out + (value - points[last].in) * tangents[last]
    let i = 0
    while (points[i + 1].in <= value) i++
    const [from, to] = [points[i], points[i + 1]]
    const span = to.in - from.in
    const t = (value - from.in) / span
    const [t2, t3] = [t * t, t * t * t]
    return (
      (2 * t3 - 3 * t2 + 1) * from.out +
      (t3 - 2 * t2 + t) * tangents[i] * span +
      (3 * t2 - 2 * t3) * to.out +
      (t3 - t2) * tangents[i + 1] * span
    )
  }
}

/** The points of a curve that an artist drew: it also goes through 0 and through 1, unless it has points there or beyond. */
export function withEnds(points: readonly CurvePoint[]): readonly CurvePoint[] {
  const sorted = [...points].sort((a, b) => a.in - b.in)
  // Of two on one place the first counts.
  const apart = sorted.filter((point, i) => i === 0 || point.in !== sorted[i - 1].in)
  if (apart.length === 0) return []
  return [
    ...(apart[0].in > 0 ? [{ in: 0, out: 0 }] : []),
    ...apart,
    ...(apart[apart.length - 1].in < 1 ? [{ in: 1, out: 1 }] : []),
  ]
}
