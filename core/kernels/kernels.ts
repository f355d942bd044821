/**
 * The kernel boundary: inner loops of the WebAssembly module, over one shared memory addressed in bytes.
 *
 * The module is built from core/kernels/assembly by `npm run build`; web workers and Node's threads load the same bytes, so
 * the same picture has the same bits everywhere. Only operations that IEEE 754 defines exactly are used. A NaN that a kernel
 * computes has all bits set; values that are copied keep their bits. What each kernel does with alpha, negatives and
 * infinities stands with its source.
 *
 * Pixels lie in one of two ways. A **strip** is a piece of a row, at most `stripPixels` pixels, as four planes (red, green,
 * blue, alpha) of floats, `planeBytes` apart, premultiplied. **Packed** pixels are RGBA together, 16 bytes each. Addresses of
 * strips and packed pixels are divisible by 16.
 */

import { writeViewTable } from './srgb'

export const stripPixels = 512
export const planeBytes = 2112
export const stripBytes = 4 * planeBytes
export const pixelBytes = 16
/** What stands for 1 in planes of whole numbers of 16 bits. */
export const shortOne = 8192

/** Bytes that a thread gives the kernels to work in. */
export const kernelScratchBytes = 32768
/** What lies below belongs to the module: its constants, and the tables that are written when it is loaded. */
export const firstFreeByte = 65536
const viewTableAddress = 8192
const lanczosAddress = 61440

/** What the eye sees of a pixel. */
export type ChannelView = 'all' | 'red' | 'green' | 'blue' | 'alpha' | 'luma'
export const channelViews: readonly ChannelView[] = ['all', 'red', 'green', 'blue', 'alpha', 'luma']

export interface ViewSettings {
  /** factor on scene-linear values, 2^stops */
  readonly exposure: number
  readonly channel: ChannelView
  /** `codes`: the pixels are code values already */
  readonly encoding: 'srgb' | 'codes'
  /** of luma, by the working space's primaries; absent: Rec.709 */
  readonly weights?: readonly [number, number, number]
  /** what the screen cannot show, negatives and what is no number are marked */
  readonly marks?: boolean
}

/** What a plane holds, by the module's numbers. */
export const planeTypes = { half: 0, float: 1, uint: 2 } as const

/** Filters for pixels between pixels, by the module's numbers. */
export const resampling = { bilinear: 0, 'catmull-rom': 1, 'lanczos-3': 2, area: 3 } as const
export type Resampling = keyof typeof resampling

/** Operators of the W3C's Compositing and Blending Level 1, in the order of the module's numbers. */
export const porterDuffOperators = [
  'clear',
  'copy',
  'destination',
  'source-over',
  'destination-over',
  'source-in',
  'destination-in',
  'source-out',
  'destination-out',
  'source-atop',
  'destination-atop',
  'xor',
  'lighter',
] as const
export const separableBlends = [
  'normal',
  'multiply',
  'screen',
  'overlay',
  'darken',
  'lighten',
  'color-dodge',
  'color-burn',
  'hard-light',
  'soft-light',
  'difference',
  'exclusion',
] as const
export const hslBlends = ['hue', 'saturation', 'color', 'luminosity'] as const

/** The module's functions, as they are. */
interface Exports {
  useScratch(address: number): void
  /** the table of the widened filter, 4096 bytes */
  writeLanczos(address: number): void

  /** `count` samples of a plane; halves and unsigned integers to floats and back. */
  fromHalves(to: number, from: number, count: number): void
  fromUints(to: number, from: number, count: number): void
  /** `count` samples of each plane from sample `first` on; the list holds address and `planeTypes` of each */
  readPlanes(strip: number, list: number, planes: number, first: number, count: number): void
  toHalves(to: number, from: number, count: number): void
  fill(to: number, value: number, count: number): void
  copy(to: number, from: number, bytes: number): void
  clear(to: number, bytes: number): void
  clearStrip(strip: number, count: number): void
  mostOfChannels(strip: number, count: number): void
  /** strip to packed pixels, and back */
  pack(to: number, strip: number, count: number): void
  unpack(strip: number, from: number, count: number): void

  /** colour steps in place; see colour-program.ts */
  colourProgram(strip: number, count: number, program: number): void
  table1d(plane: number, count: number, table: number, size: number, least: number, most: number): void
  table3d(strip: number, count: number, table: number, size: number, least: number, most: number): void

  over(behind: number, element: number, count: number): void
  addLight(behind: number, element: number, count: number, r: number, g: number, b: number): void
  shadow(
    behind: number,
    element: number,
    count: number,
    ratioR: number,
    ratioG: number,
    ratioB: number,
    veilR: number,
    veilG: number,
    veilB: number,
  ): void
  occlusion(
    behind: number,
    element: number,
    count: number,
    strength: number,
    veilR: number,
    veilG: number,
    veilB: number,
  ): void
  reveal(behind: number, matte: number, shown: number, count: number): void
  multiplyLight(strip: number, other: number, count: number): void
  emptyWhere(strip: number, other: number, count: number): void
  takeWhereChanged(strip: number, treated: number, plate: number, count: number): void
  porterDuff(behind: number, element: number, count: number, operator: number): void
  blend(behind: number, element: number, count: number, mode: number): void
  blendHsl(behind: number, element: number, count: number, mode: number): void
  /** in sRGB encoding; see assembly/encoded-blends.ts */
  blendEncoded(behind: number, element: number, count: number, mode: number): void

  /** weighted sums over packed pixels; see assembly/filters.ts */
  filterRow(to: number, from: number, count: number, weights: number, radius: number): void
  filterColumn(to: number, from: number, count: number, stride: number, weights: number, radius: number): void
  reduceRow(to: number, from: number, count: number, step: number, weights: number, taps: number): void
  sumRows(to: number, from: number, count: number, stride: number, weights: number, taps: number): void
  enlargeRow(to: number, from: number, count: number, step: number, phase: number, weights: number, taps: number): void

  /** packed pixels from where a mapping leads; see assembly/resample.ts */
  resample(
    to: number,
    count: number,
    x: number,
    y: number,
    offsets: number,
    matrix: number,
    source: number,
    left: number,
    top: number,
    width: number,
    height: number,
    filter: number,
  ): void

  /** the same of a bent picture: `leading` is 24 doubles */
  resampleBent: Exports['resample']
  addPacked(to: number, from: number, count: number): void
  dividePacked(to: number, count: number, by: number): void

  /** colour by tables; see assembly/tones.ts and colour/tones.ts */
  toneChannel(plane: number, alpha: number, count: number, table: number): void
  toneLuma(strip: number, count: number, table: number, r: number, g: number, b: number): void
  tintByLuma(strip: number, count: number, table: number, mixed: number, r: number, g: number, b: number): void
  changeByHue(strip: number, count: number, table: number, r: number, g: number, b: number): void
  clampCovered(strip: number, count: number, least: number, most: number): void
  /** by the place of a pixel: settings are doubles */
  vignetteRow(strip: number, count: number, x: number, y: number, settings: number): void
  whitesRow(strip: number, count: number, x: number, y: number, places: number, many: number): void

  /** what was filmed before a backing; `settings` are doubles, see assembly/key-backing.ts; `clean` a strip of the backing alone, or 0 */
  keyStands(to: number, count: number, x: number, y: number, channel: number, settings: number, clean: number): void
  keySure(to: number, strip: number, count: number, channel: number, stands: number): void
  keyCells(to: number, strip: number, cells: number, cell: number, share: number): void
  /** @returns not 0 where anything is near */
  keyBetween(
    to: number,
    upper: number,
    lower: number,
    share: number,
    count: number,
    x: number,
    cell: number,
    work: number,
  ): number
  /** @returns not 0 where something has light without coverage */
  keyCoverage(to: number, strip: number, count: number, channel: number, stands: number, sure: number): number
  keyOut(
    strip: number,
    count: number,
    x: number,
    y: number,
    channel: number,
    settings: number,
    clean: number,
    around: number,
    sure: number,
    clear: number,
    overClear: number,
    solid: number,
    overSolid: number,
    spill: number,
    toMean: number,
    shows: number,
    lit: number,
  ): void

  /** whole numbers of 16 bits, of which `shortOne` is 1 */
  sumShorts(to: number, from: number, count: number, stride: number, weights: number, taps: number): void
  /** @returns a bit for each block */
  blocksAbove(from: number, blocks: number, size: number, limit: number): number
  meanShorts(to: number, upper: number, lower: number, count: number): void
  widenShorts(to: number, from: number, count: number): void
  fromShorts(to: number, from: number, count: number): void

  spillRow(
    strip: number,
    count: number,
    channel: number,
    amount: number,
    toMean: number,
    r: number,
    g: number,
    b: number,
  ): void
  /** coverage grown or shrunk, packed pixels; see assembly/grow.ts */
  growRow(
    to: number,
    above: number,
    below: number,
    share: number,
    count: number,
    half: number,
    part: number,
    work: number,
    sign: number,
    first: number,
  ): void
  turnPacked(to: number, count: number): void
  /** other coverage for an element; see assembly/edges.ts */
  edgeRow(strip: number, count: number, covered: number, inner: number, fill: number): void
  /** a picture filled from another; see assembly/patches.ts */
  patchRow(strip: number, count: number, taken: number, near: number, wide: number, border: number): void

  /** pictures made from nothing; see assembly/made.ts */
  gradientRow(
    strip: number,
    count: number,
    x: number,
    y: number,
    radial: number,
    settings: number,
    table: number,
    size: number,
  ): void
  noiseRow(strip: number, count: number, x: number, y: number, octaves: number, settings: number, seed: number): void

  viewAll(to: number, strip: number, count: number, exposure: number, table: number): void
  viewGrey(to: number, plane: number, count: number, exposure: number, table: number): void
  viewShare(to: number, plane: number, count: number): void
  luma(to: number, strip: number, count: number, r: number, g: number, b: number): void
  viewCodes(to: number, strip: number, count: number): void
  markOdd(to: number, strip: number, count: number, exposure: number, x: number, y: number): void

  philoxWords(to: number, c0: number, c1: number, c2: number, c3: number, keyLow: number, keyHigh: number): void
  normals(
    strip: number,
    count: number,
    x: number,
    y: number,
    frame: number,
    stream: number,
    keyLow: number,
    keyHigh: number,
  ): void
  addMissingGrain(
    strip: number,
    noise: number,
    plate: number,
    share: number,
    count: number,
    shotR: number,
    shotG: number,
    shotB: number,
    readR: number,
    readG: number,
    readB: number,
  ): void
  addGrain(
    strip: number,
    noise: number,
    count: number,
    shotR: number,
    shotG: number,
    shotB: number,
    readR: number,
    readG: number,
    readB: number,
  ): void

  /** see counting.ts */
  countLevels(
    counts: number,
    plane: number,
    alpha: number,
    count: number,
    place: number,
    width: number,
    columns: number,
  ): void
  countColours(counts: number, strip: number, count: number, size: number): void

  /** bytes of EXR blocks; see assembly/byte-planes.ts */
  gatherBytes(to: number, stored: number, count: number): void
  spreadBytes(to: number, from: number, count: number): void

  /** see assembly/statistics.ts */
  gather(to: number, plane: number, count: number): void
  valueOfRank(values: number, count: number, rank: number, bins: number): number
}

export interface Kernels extends Omit<Exports, 'useScratch' | 'writeLanczos'> {
  readonly memory: ArrayBufferLike
  /**
   * A strip to 8-bit RGBA for the screen, opaque.
   *
   * @param work a plane to work in
   * @param x place of the strip in the frame, with `y`
   */
  view(to: number, strip: number, count: number, settings: ViewSettings, work: number, x: number, y: number): void
}

/**
 * @param module compiled from the built kernels.wasm
 * @param memory shared; the module never grows it
 * @param scratch `kernelScratchBytes` bytes that no other thread uses
 */
export function kernelsOn(module: WebAssembly.Module, memory: WebAssembly.Memory, scratch: number): Kernels {
  const exports = new WebAssembly.Instance(module, { env: { memory } }).exports as unknown as Exports
  exports.useScratch(scratch)
  // Every thread writes the same bytes.
  exports.writeLanczos(lanczosAddress)
  writeViewTable(memory.buffer, viewTableAddress)
  return { ...exports, memory: memory.buffer, view: viewWith(exports) }
}

const rec709 = [0.2126, 0.7152, 0.0722] as const
const planeOf = { red: 0, green: 1, blue: 2 } as const

function viewWith(kernels: Exports): Kernels['view'] {
  return (to, strip, count, settings, work, x, y) => {
    viewPixels(kernels, to, strip, count, settings, work)
    if (settings.marks) kernels.markOdd(to, strip, count, settings.exposure, x, y)
  }
}

function viewPixels(
  kernels: Exports,
  to: number,
  strip: number,
  count: number,
  { exposure, channel, encoding, weights = rec709 }: ViewSettings,
  work: number,
): void {
  if (encoding === 'codes') kernels.viewCodes(to, strip, count)
  else if (channel === 'all') {
    kernels.viewAll(to, strip, count, exposure, viewTableAddress)
  } else if (channel === 'alpha') kernels.viewShare(to, strip + 3 * planeBytes, count)
  else if (channel === 'luma') {
    kernels.luma(work, strip, count, ...weights)
    kernels.viewGrey(to, work, count, exposure, viewTableAddress)
  } else kernels.viewGrey(to, strip + planeOf[channel] * planeBytes, count, exposure, viewTableAddress)
}
