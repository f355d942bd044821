/** What can be wrong with an EXR file. Each cause the caller can act on is its own class; every message is a sentence. */

/** The file is cut, corrupted, or no EXR at all. Nothing of the part asked for can be trusted. */
export class DamagedExrError extends Error {
  override readonly name = 'DamagedExrError'
  constructor(
    readonly file: string,
    readonly what: string,
  ) {
    super(`Reading ${file}: ${what}. Copy or render the file again.`)
  }
}

/** The file is sound but uses a part of the standard that is not read here. */
export class UnsupportedExrError extends Error {
  override readonly name = 'UnsupportedExrError'
  constructor(
    readonly file: string,
    readonly what: string,
    readonly remedy: string,
  ) {
    super(`Reading ${file}: ${what}. ${remedy}`)
  }
}

/** The file is sound but does not hold the part, channel or row asked for. */
export class NotInExrError extends Error {
  override readonly name = 'NotInExrError'
  constructor(
    readonly file: string,
    readonly what: string,
    readonly has: string,
  ) {
    super(`Reading ${file}: ${what}. ${has}`)
  }
}
