/** What can be wrong with a DPX file; every message is a sentence. */

/** The file is cut, corrupted, or no DPX at all. */
export class DamagedDpxError extends Error {
  override readonly name = 'DamagedDpxError'
  constructor(
    readonly file: string,
    readonly what: string,
  ) {
    super(`Reading ${file}: ${what}. Copy or export the file again.`)
  }
}

/** The file is sound but uses a part of the standard that is not read here. */
export class UnsupportedDpxError extends Error {
  override readonly name = 'UnsupportedDpxError'
  constructor(
    readonly file: string,
    readonly what: string,
  ) {
    super(`Reading ${file}: ${what}. Export it as RGB or RGBA with 8, 10, 12 or 16 bits, uncompressed.`)
  }
}
