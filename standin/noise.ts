/** Deterministic noise for the made-up world: integer hashes, smooth value noise, and Gaussian samples keyed by place. */

const factorA = 0x9e3779b1 | 0
const factorB = 0x85ebca77 | 0
const factorC = 0xc2b2ae3d | 0

/** The finaliser of MurmurHash3 (multiply-xorshift). */
function mixed(h: number): number {
  h = Math.imul(h ^ (h >>> 16), 0x85ebca6b)
  h = Math.imul(h ^ (h >>> 13), 0xc2b2ae35)
  return (h ^ (h >>> 16)) >>> 0
}

/** A 32-bit mix of three integers. */
export function hash3(a: number, b: number, c: number): number {
  return mixed(Math.imul(a, factorA) ^ Math.imul(b, factorB) ^ Math.imul(c, factorC))
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
  // The corners as `hash3` mixes them, each product made once: a step of one adds the factor.
  const x0 = Math.imul(ix, factorA)
  const y0 = Math.imul(iy, factorB)
  const z0 = Math.imul(iz, factorC)
  const x1 = (x0 + factorA) | 0
  const y1 = (y0 + factorB) | 0
  const z1 = (z0 + factorC) | 0
  const a = mixed(x0 ^ y0 ^ z0)
  const b = mixed(x0 ^ y1 ^ z0)
  const c = mixed(x0 ^ y0 ^ z1)
  const d = mixed(x0 ^ y1 ^ z1)
  const a1 = a + (mixed(x1 ^ y0 ^ z0) - a) * u
  const b1 = b + (mixed(x1 ^ y1 ^ z0) - b) * u
  const c1 = c + (mixed(x1 ^ y0 ^ z1) - c) * u
  const d1 = d + (mixed(x1 ^ y1 ^ z1) - d) * u
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
