/** What tables of all formats are made of: operations on straight colour, one after the other. */

export type Triple = readonly [number, number, number]

export type TableOperation =
  /** `size` entries a channel over least..most, linear between them */
  | {
      readonly kind: 'table-1d'
      readonly size: number
      readonly least: number
      readonly most: number
      /** red's entries, then green's, then blue's */
      readonly entries: Float32Array
    }
  /** `size`^3 entries of three over least..most, red fastest, tetrahedral between them */
  | {
      readonly kind: 'table-3d'
      readonly size: number
      readonly least: number
      readonly most: number
      readonly entries: Float32Array
    }
  | { readonly kind: 'matrix'; readonly rows: readonly [Triple, Triple, Triple]; readonly offset: Triple }
  /** `c scale + offset`, then held to least..most */
  | {
      readonly kind: 'range'
      readonly scale: number
      readonly offset: number
      readonly least: number
      readonly most: number
    }
  /** ASC CDL 1.2; not clamped when `clamp` is false */
  | {
      readonly kind: 'cdl'
      readonly slope: Triple
      readonly offset: Triple
      readonly power: Triple
      readonly saturation: number
      readonly clamp: boolean
    }
  | { readonly kind: 'power'; readonly exponent: number; readonly mirrored: boolean }
  | { readonly kind: 'log' | 'antilog'; readonly base: number }
  /** `logSlope log_base(linSlope x + linOffset) + logOffset`, straight below `linBreak` where there is one; or its inverse */
  | {
      readonly kind: 'camera-log'
      readonly direction: 'encode' | 'decode'
      readonly base: number
      readonly logSlope: number
      readonly logOffset: number
      readonly linSlope: number
      readonly linOffset: number
      readonly linBreak: number | null
      readonly linearSlope: number | null
    }
