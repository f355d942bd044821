/** The kernels in plain TypeScript. Each does its sums in double and rounds once when it stores. */

import { halfTable } from './half'
import type { Kernels, ViewSettings } from './kernels'
import { power } from './power'
import { linearFromSrgb, srgb8 } from './srgb'

/** @param memory the engine's shared memory; it must not grow afterwards */
export function typescriptKernels(memory: ArrayBufferLike): Kernels {
  const f = new Float32Array(memory)
  const words = new Uint32Array(memory)
  const halves = new Uint16Array(memory)
  const bytes = new Uint8Array(memory)

  return {
    memory,
    channelFromHalf(to, from, count) {
      for (let i = 0, t = to >> 2, s = from >> 1; i < count; i++, t += 4, s++) f[t] = halfTable[halves[s]]
    },
    channelFromFloat(to, from, count) {
      for (let i = 0, t = to >> 2, s = from >> 2; i < count; i++, t += 4, s++) words[t] = words[s]
    },
    channelFromUint(to, from, count) {
      for (let i = 0, t = to >> 2, s = from >> 2; i < count; i++, t += 4, s++) f[t] = words[s]
    },
    fillChannel(to, value, count) {
      for (let i = 0, t = to >> 2; i < count; i++, t += 4) f[t] = value
    },
    clear(to, count) {
      f.fill(0, to >> 2, (to >> 2) + count * 4)
    },

    linearFromSrgb(pixels, count) {
      for (let p = pixels >> 2, end = p + count * 4; p < end; p += 4) {
        f[p] = linearFromSrgb(f[p])
        f[p + 1] = linearFromSrgb(f[p + 1])
        f[p + 2] = linearFromSrgb(f[p + 2])
      }
    },
    premultiply(pixels, count) {
      for (let p = pixels >> 2, end = p + count * 4; p < end; p += 4) {
        const a = f[p + 3]
        f[p] *= a
        f[p + 1] *= a
        f[p + 2] *= a
      }
    },

    gainAndVeil(pixels, count, gainR, gainG, gainB, veilR, veilG, veilB) {
      for (let p = pixels >> 2, end = p + count * 4; p < end; p += 4) {
        const a = f[p + 3]
        f[p] = f[p] * gainR + veilR * a
        f[p + 1] = f[p + 1] * gainG + veilG * a
        f[p + 2] = f[p + 2] * gainB + veilB * a
      }
    },
    power(pixels, count, exponentR, exponentG, exponentB) {
      const exponents = [exponentR, exponentG, exponentB]
      for (let p = pixels >> 2, end = p + count * 4; p < end; p += 4) {
        const a = f[p + 3] > 1e-6 ? f[p + 3] : 1
        for (let c = 0; c < 3; c++) {
          const value = f[p + c]
          if (value > 0 && exponents[c] !== 1) f[p + c] = power(value / a, exponents[c]) * a
        }
      }
    },

    over(behind, element, count) {
      for (let b = behind >> 2, e = element >> 2, end = b + count * 4; b < end; b += 4, e += 4) {
        const r = f[e]
        const g = f[e + 1]
        const bl = f[e + 2]
        const a = f[e + 3]
        if (a === 0 && r === 0 && g === 0 && bl === 0) continue
        const k = 1 - a
        f[b] = r + f[b] * k
        f[b + 1] = g + f[b + 1] * k
        f[b + 2] = bl + f[b + 2] * k
        f[b + 3] = a + f[b + 3] * k
      }
    },
    addLight(behind, element, count, amountR, amountG, amountB) {
      for (let b = behind >> 2, e = element >> 2, end = b + count * 4; b < end; b += 4, e += 4) {
        if (f[e] === 0 && f[e + 1] === 0 && f[e + 2] === 0) continue
        f[b] += amountR * f[e]
        f[b + 1] += amountG * f[e + 1]
        f[b + 2] += amountB * f[e + 2]
      }
    },
    shadow(behind, element, count, sR, sG, sB, vR, vG, vB) {
      for (let b = behind >> 2, e = element >> 2, end = b + count * 4; b < end; b += 4, e += 4) {
        const m = f[e]
        if (m === 0) continue
        f[b] = vR + (f[b] - vR) * (1 - m * (1 - sR))
        f[b + 1] = vG + (f[b + 1] - vG) * (1 - m * (1 - sG))
        f[b + 2] = vB + (f[b + 2] - vB) * (1 - m * (1 - sB))
      }
    },
    occlusion(behind, element, count, strength, vR, vG, vB) {
      for (let b = behind >> 2, e = element >> 2, end = b + count * 4; b < end; b += 4, e += 4) {
        const ao = f[e]
        if (ao === 1 || strength === 0) continue
        const k = Math.max(0, 1 - strength * (1 - ao))
        f[b] = vR + (f[b] - vR) * k
        f[b + 1] = vG + (f[b + 1] - vG) * k
        f[b + 2] = vB + (f[b + 2] - vB) * k
      }
    },
    reveal(behind, element, plate, count) {
      for (
        let b = behind >> 2, e = element >> 2, p = plate >> 2, end = b + count * 4;
        b < end;
        b += 4, e += 4, p += 4
      ) {
        const m = f[e]
        if (m <= 0) continue
        if (m >= 1) {
          for (let c = 0; c < 4; c++) words[b + c] = words[p + c]
        } else {
          for (let c = 0; c < 4; c++) f[b + c] = f[b + c] * (1 - m) + f[p + c] * m
        }
      }
    },

    view(to, from, count, { exposure, channel }: ViewSettings) {
      const single = { all: -1, red: 0, green: 1, blue: 2, alpha: 3, luma: -1 }[channel]
      for (let i = 0, p = from >> 2, t = to; i < count; i++, p += 4, t += 4) {
        if (channel === 'all') {
          bytes[t] = srgb8(f[p] * exposure)
          bytes[t + 1] = srgb8(f[p + 1] * exposure)
          bytes[t + 2] = srgb8(f[p + 2] * exposure)
        } else {
          const value =
            channel === 'alpha'
              ? f[p + 3]
              : exposure * (channel === 'luma' ? 0.2126 * f[p] + 0.7152 * f[p + 1] + 0.0722 * f[p + 2] : f[p + single])
          // alpha is a share, not light: it is shown as code value
          const code = channel === 'alpha' ? Math.round(Math.min(1, Math.max(0, value || 0)) * 255) : srgb8(value)
          bytes[t] = bytes[t + 1] = bytes[t + 2] = code
        }
        bytes[t + 3] = 255
      }
    },
  }
}
