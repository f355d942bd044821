/** Deterministic noise for the made-up world: integer hashes, smooth value noise, and Gaussian samples keyed by place. */

/** A 32-bit mix of three integers (multiply-xorshift, constants of the MurmurHash3 finaliser). */
export function hash3(a: number, b: number, c: number): number {
  let h = Math.imul(a | 0, 0x9e3779b1) ^ Math.imul(b | 0, 0x85ebca77) ^ Math.imul(c | 0, 0xc2b2ae3d)
  h = Math.imul(h ^ (h >>> 16), 0x85ebca6b)
  h = Math.imul(h ^ (h >>> 13), 0xc2b2ae35)
  return (h ^ (h >>> 16)) >>> 0
}

/** @returns a number in 0..1 */
export function random3(a: number, b: number, c: number): number {
  return hash3(a, b, c) / 4294967296
}

/** Smooth value noise in 0..1. */
export function valueNoise(x: number, y: number, z: number): number {
  const ix = Math.floor(x)
  const iy = Math.floor(y)
  const iz = Math.floor(z)
  const fx = x - ix
  const fy = y - iy
  const fz = z - iz
  const u = fx * fx * (3 - 2 * fx)
  const v = fy * fy * (3 - 2 * fy)
  const w = fz * fz * (3 - 2 * fz)
  const a = hash3(ix, iy, iz)
  const b = hash3(ix, iy + 1, iz)
  const c = hash3(ix, iy, iz + 1)
  const d = hash3(ix, iy + 1, iz + 1)
  const a1 = a + (hash3(ix + 1, iy, iz) - a) * u
  const b1 = b + (hash3(ix + 1, iy + 1, iz) - b) * u
  const c1 = c + (hash3(ix + 1, iy, iz + 1) - c) * u
  const d1 = d + (hash3(ix + 1, iy + 1, iz + 1) - d) * u
  const near = a1 + (b1 - a1) * v
  const far = c1 + (d1 - c1) * v
  return (near + (far - near) * w) / 4294967296
}

/** Sum of octaves of value noise, 0..1. */
export function fractalNoise(x: number, y: number, z: number, octaves: number): number {
  let sum = 0
  let weight = 0.5
  let total = 0
  for (let i = 0; i < octaves; i++) {
    sum += weight * valueNoise(x, y, z)
    total += weight
    weight *= 0.5
    x = x * 2.03 + 17.1
    y = y * 2.03 + 5.3
    z = z * 2.03 + 11.7
  }
  return sum / total
}

/** A standard normal sample keyed by place (Box-Muller). */
export function gaussian3(a: number, b: number, c: number): number {
  const u = (hash3(a, b, c) + 1) / 4294967297
  const v = hash3(a ^ 0x5bd1e995, b, c) / 4294967296
  return Math.sqrt(-2 * Math.log(u)) * Math.cos(2 * Math.PI * v)
}
