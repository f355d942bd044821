const { cos, imul, log, PI, sqrt } = Math

/** Numbers for the tests that are the same every time: mulberry32, and Gaussian ones after Box and Muller. */
export function randomOf(seed: number) {
  let state = seed
  const uniform = () => {
    state = (state + 0x6d2b79f5) | 0
    let t = imul(state ^ (state >>> 15), 1 | state)
    t = (t + imul(t ^ (t >>> 7), 61 | t)) ^ t
    return ((t ^ (t >>> 14)) >>> 0) / 4294967296
  }
  const normal = () => sqrt(-2 * log(1 - uniform())) * cos(2 * PI * uniform())
  return { uniform, normal }
}
