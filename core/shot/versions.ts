/** Versions in paths: `cg/v003/bell_v003.####.exr` is version 3 of what `cg/v004/bell_v004.####.exr` is version 4 of. */

/** A letter v and a number, not in the middle of a word. */
const versions = /(?<![A-Za-z0-9])v(\d{1,6})(?![A-Za-z0-9])/gi

export interface VersionInPath {
  readonly number: number
  /** the path with another number in every place where this version's stands, as wide as it is there */
  readonly with: (number: number) => string
  /** whether a path is another version of the same, or this one; its number */
  readonly numberOf: (path: string) => number | null
}

/** By the last version in it, which is that of the file; null where there is none. */
export function versionIn(path: string): VersionInPath | null {
  const found = [...path.matchAll(versions)].at(-1)
  if (!found) return null
  const number = Number(found[1])
  const other = (wanted: number) =>
    path.replace(versions, (text, digits: string) =>
      Number(digits) === number ? text[0] + String(wanted).padStart(digits.length, '0') : text,
    )
  return {
    number,
    with: other,
    numberOf: (candidate) => {
      const last = [...candidate.matchAll(versions)].at(-1)
      const its = last ? Number(last[1]) : null
      return its !== null && other(its) === candidate ? its : null
    },
  }
}
