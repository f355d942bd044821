/**
 * The two-dimensional Haar wavelet of PIZ, on 16-bit words in place.
 *
 * Words below 2^14 use plain differences; larger ones modulo arithmetic, so that nothing overflows.
 */

export interface WaveletPlane {
  /** first word of the plane in `words` */
  readonly start: number
  readonly width: number
  readonly height: number
  /** words from one sample to the next: 1 for halves, 2 for floats */
  readonly step: number
  /** largest word in the plane */
  readonly largest: number
}

let low = 0
let high = 0

function join(l: number, h: number, small: boolean): void {
  if (small) {
    const signedHigh = (h << 16) >> 16
    const a = ((l << 16) >> 16) + (signedHigh & 1) + (signedHigh >> 1)
    low = a & 0xffff
    high = (a - signedHigh) & 0xffff
  } else {
    const b = (l - (h >> 1)) & 0xffff
    high = b
    low = (h + b - 0x8000) & 0xffff
  }
}

function part(a: number, b: number, small: boolean): void {
  if (small) {
    const signedA = (a << 16) >> 16
    const signedB = (b << 16) >> 16
    low = ((signedA + signedB) >> 1) & 0xffff
    high = (signedA - signedB) & 0xffff
  } else {
    const shifted = (a + 0x8000) & 0xffff
    const difference = shifted - b
    const mean = (shifted + b) >> 1
    low = difference < 0 ? (mean + 0x8000) & 0xffff : mean
    high = difference & 0xffff
  }
}

export function decodeWavelet(words: Uint16Array, plane: WaveletPlane): void {
  const { start, width, height, step, largest } = plane
  const small = largest < 1 << 14
  const stride = width * step
  const least = Math.min(width, height)
  let p = 1
  while (p <= least) p <<= 1
  p >>= 1
  let p2 = p
  p >>= 1
  for (; p >= 1; p2 = p, p >>= 1) {
    const right = step * p
    const down = stride * p
    let y = 0
    for (; y <= height - p2; y += p2) {
      let x = 0
      for (; x <= width - p2; x += p2) {
        const at = start + y * stride + x * step
        join(words[at], words[at + down], small)
        const i00 = low
        const i10 = high
        join(words[at + right], words[at + down + right], small)
        const i01 = low
        const i11 = high
        join(i00, i01, small)
        words[at] = low
        words[at + right] = high
        join(i10, i11, small)
        words[at + down] = low
        words[at + down + right] = high
      }
      if (width & p) {
        const at = start + y * stride + x * step
        join(words[at], words[at + down], small)
        words[at] = low
        words[at + down] = high
      }
    }
    if (height & p) {
      for (let x = 0; x <= width - p2; x += p2) {
        const at = start + y * stride + x * step
        join(words[at], words[at + right], small)
        words[at] = low
        words[at + right] = high
      }
    }
  }
}

export function encodeWavelet(words: Uint16Array, plane: WaveletPlane): void {
  const { start, width, height, step, largest } = plane
  const small = largest < 1 << 14
  const stride = width * step
  const least = Math.min(width, height)
  for (let p = 1, p2 = 2; p2 <= least; p = p2, p2 <<= 1) {
    const right = step * p
    const down = stride * p
    let y = 0
    for (; y <= height - p2; y += p2) {
      let x = 0
      for (; x <= width - p2; x += p2) {
        const at = start + y * stride + x * step
        part(words[at], words[at + right], small)
        const i00 = low
        const i01 = high
        part(words[at + down], words[at + down + right], small)
        const i10 = low
        const i11 = high
        part(i00, i10, small)
        words[at] = low
        words[at + down] = high
        part(i01, i11, small)
        words[at + right] = low
        words[at + down + right] = high
      }
      if (width & p) {
        const at = start + y * stride + x * step
        part(words[at], words[at + down], small)
        words[at] = low
        words[at + down] = high
      }
    }
    if (height & p) {
      for (let x = 0; x <= width - p2; x += p2) {
        const at = start + y * stride + x * step
        part(words[at], words[at + right], small)
        words[at] = low
        words[at + right] = high
      }
    }
  }
}
