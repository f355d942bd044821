/** Linear equations, by elimination with pivots (Golub and Van Loan, "Matrix Computations", section 3.4). */

/** The equations do not say what is asked: some of the unknowns are not told, or not by so much that rounding leaves it. */
const leastPivot = 1e-12

/**
 * @param matrix row by row, as many rows as columns; left as it is
 * @param right one number a row
 * @param least a pivot below it says nothing any more
 * @returns what solves them; null where they do not tell
 */
export function solved(matrix: ArrayLike<number>, right: ArrayLike<number>, least = leastPivot): Float64Array | null {
  const count = right.length
  const a = Float64Array.from(matrix)
  const x = Float64Array.from(right)
  for (let k = 0; k < count; k++) {
    let pivot = k
    for (let i = k + 1; i < count; i++) if (Math.abs(a[i * count + k]) > Math.abs(a[pivot * count + k])) pivot = i
    if (!(Math.abs(a[pivot * count + k]) > least)) return null
    if (pivot !== k) {
      for (let j = 0; j < count; j++)
        [a[k * count + j], a[pivot * count + j]] = [a[pivot * count + j], a[k * count + j]]
      ;[x[k], x[pivot]] = [x[pivot], x[k]]
    }
    for (let i = k + 1; i < count; i++) {
      const by = a[i * count + k] / a[k * count + k]
      for (let j = k; j < count; j++) a[i * count + j] -= by * a[k * count + j]
      x[i] -= by * x[k]
    }
  }
  for (let k = count - 1; k >= 0; k--) {
    for (let j = k + 1; j < count; j++) x[k] -= a[k * count + j] * x[j]
    x[k] /= a[k * count + k]
  }
  return x
}
