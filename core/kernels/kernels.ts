/**
 * The kernel boundary: inner loops over one shared memory, addressed in bytes.
 *
 * Pixels are premultiplied RGBA, four floats each, at addresses divisible by 16; planes of samples at addresses divisible
 * by 4. This is the boundary that the WebAssembly module fills; `typescript-kernels.ts` fills it in plain TypeScript.
 * Only operations with exact or own definitions are used (no Math.pow), so every engine gives the same bits.
 */

/** What the eye sees of a pixel. `luma` uses the Rec.709 weights of the working space. */
export type ChannelView = 'all' | 'red' | 'green' | 'blue' | 'alpha' | 'luma'
export const channelViews: readonly ChannelView[] = ['all', 'red', 'green', 'blue', 'alpha', 'luma']

export interface ViewSettings {
  /** factor on scene-linear values, 2^stops */
  readonly exposure: number
  readonly channel: ChannelView
  readonly encoding: 'srgb'
}

export interface Kernels {
  readonly memory: ArrayBufferLike

  /** Spreads `count` half samples to one channel of pixels: `to` is the first float, four floats apart. */
  channelFromHalf(to: number, from: number, count: number): void
  channelFromFloat(to: number, from: number, count: number): void
  channelFromUint(to: number, from: number, count: number): void
  /** Sets one channel of `count` pixels. */
  fillChannel(to: number, value: number, count: number): void
  /** Sets `count` whole pixels to 0. */
  clear(to: number, count: number): void

  /** sRGB code values (IEC 61966-2-1) to linear, colour only; beyond 0..1 the curve goes on, mirrored for negatives. */
  linearFromSrgb(pixels: number, count: number): void
  /** Straight colour to premultiplied. */
  premultiply(pixels: number, count: number): void

  /** `C = gain C + veil a` per channel, on premultiplied values; alpha stays. */
  gainAndVeil(
    pixels: number,
    count: number,
    gainR: number,
    gainG: number,
    gainB: number,
    veilR: number,
    veilG: number,
    veilB: number,
  ): void
  /** `c = c^exponent` per channel on unpremultiplied colour; where a <= 1e-6 the colour counts as light with a = 1. Values <= 0 stay. */
  power(pixels: number, count: number, exponentR: number, exponentG: number, exponentB: number): void

  /** Porter-Duff over: `F + B (1 - aF)`. A pixel of the element that is all zero changes no bit. */
  over(behind: number, element: number, count: number): void
  /** `B + amount F`, alpha of what is behind stays. */
  addLight(behind: number, element: number, count: number, amountR: number, amountG: number, amountB: number): void
  /** `v + (B - v)(1 - m (1 - s))`, m the first channel of the element; m = 0 changes no bit. */
  shadow(
    behind: number,
    element: number,
    count: number,
    sR: number,
    sG: number,
    sB: number,
    vR: number,
    vG: number,
    vB: number,
  ): void
  /** `v + (B - v) (1 - strength (1 - ao))`, never below 0 of the factor; ao = 1 changes no bit. */
  occlusion(behind: number, element: number, count: number, strength: number, vR: number, vG: number, vB: number): void
  /** `B (1 - m) + P m`, P the plate; m >= 1 copies the plate's bits, m <= 0 leaves B's. */
  reveal(behind: number, element: number, plate: number, count: number): void

  /** To 8-bit RGBA for the screen, opaque. NaN shows as 0. */
  view(to: number, from: number, count: number, settings: ViewSettings): void
}
