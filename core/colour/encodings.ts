/**
 * How code values stand for scene-linear light: every encoding that a file can have, both ways.
 *
 * Linear 0.18 is mid grey. The engine runs an encoding as colour steps; `decode` and `encode` are the same formulas in double
 * precision, for single numbers; `decoder` and `encoder` give them as functions. Values beyond 0..1 follow each definition; where a standard defines no negative values the
 * curve is mirrored at zero, so that nothing is lost on the way there and back.
 */

import { hlg, type ColourStep, type ExponentialPiece, type Pieces } from '../kernels/colour-program'

export const encodingNames = [
  'linear',
  'srgb',
  'bt1886',
  'g22',
  'g26',
  'pq',
  'hlg',
  'cineon',
  'acescc',
  'acescct',
  'logc3',
  'logc4',
  'slog3',
  'vlog',
  'clog2',
  'clog3',
] as const

export type EncodingName = (typeof encodingNames)[number]

/** What an encoding is for: the screen, a log of a camera or of a working space, or light itself. */
export type EncodingFamily = 'linear' | 'display' | 'log'

type Curve =
  | { readonly kind: 'linear' | 'srgb' | 'hlg' | 'pq' }
  | { readonly kind: 'power'; readonly exponent: number }
  | { readonly kind: 'pieces'; readonly pieces: Pieces }

export interface Encoding {
  readonly label: string
  readonly family: EncodingFamily
  /** the standard or paper that defines it */
  readonly source: string
  readonly curve: Curve
}

/** `slope log10(x / s + b) + offset`, as an exponential piece. */
const logOfTen = (slope: number, offset: number, b: number, inverseS: number): ExponentialPiece => ({
  o: offset,
  k: Math.log2(10) / slope,
  b,
  s: 1 / inverseS,
})

/** A log with a straight toe: `codeCut` and `lightCut` are where they meet. */
function toed(
  upper: ExponentialPiece,
  straight: Pieces['straight'],
  codeCut: number,
  lightCut: number,
): { kind: 'pieces'; pieces: Pieces } {
  const cutsInCode = [-Infinity, codeCut] as const
  return { kind: 'pieces', pieces: { upper, lower: null, straight, cutsInCode, cutsInLight: [-Infinity, lightCut] } }
}

const cineonOffset = 10 ** (((95 - 685) * 0.002) / 0.6)

const logC4 = (() => {
  const a = (2 ** 18 - 16) / 117.45
  const b = (1023 - 95) / 1023
  const c = 95 / 1023
  const s = (7 * Math.LN2 * 2 ** (7 - (14 * c) / b)) / (a * b)
  const t = (2 ** (14 * (-c / b) + 6) - 64) / a
  const upper = { o: c - (6 * b) / 14, k: 14 / b, b: 64, s: 1 / a }
  return toed(upper, { zero: -t / s, slope: s }, 0, t)
})()

const logC3 = (() => {
  const [cut, a, b, c, d, e, f] = [0.010591, 5.555556, 0.052272, 0.24719, 0.385537, 5.367655, 0.092809]
  return toed(logOfTen(c, d, b, a), { zero: f, slope: 1 / e }, e * cut + f, cut)
})()

const sLog3 = (() => {
  const toe = (171.2102946929 - 95) / 0.01125
  const upper = logOfTen(261.5 / 1023, 420 / 1023, 0.01 / 0.19, 1 / 0.19)
  return toed(upper, { zero: 95 / 1023, slope: 1023 / toe }, 171.2102946929 / 1023, 0.01125)
})()

/** Canon's logs take reflectances of which 0.9 is scene-linear 1. */
const canonWhite = 0.9

const acesCcCut = (9.72 - 15) / 17.52

export const encodings: Readonly<Record<EncodingName, Encoding>> = {
  linear: { label: 'scene-linear', family: 'linear', source: 'light itself', curve: { kind: 'linear' } },
  srgb: { label: 'sRGB', family: 'display', source: 'IEC 61966-2-1', curve: { kind: 'srgb' } },
  bt1886: {
    label: 'BT.1886',
    family: 'display',
    source: 'ITU-R BT.1886, gamma 2.4 with black at zero',
    curve: { kind: 'power', exponent: 2.4 },
  },
  g22: { label: 'gamma 2.2', family: 'display', source: 'a pure power', curve: { kind: 'power', exponent: 2.2 } },
  g26: {
    label: 'gamma 2.6',
    family: 'display',
    source: 'SMPTE RP 431-2, normalised',
    curve: { kind: 'power', exponent: 2.6 },
  },
  pq: {
    label: 'PQ',
    family: 'display',
    source: 'ITU-R BT.2100 and SMPTE ST 2084; linear 1 is 100 cd/m²',
    curve: { kind: 'pq' },
  },
  hlg: {
    label: 'HLG',
    family: 'display',
    source: 'ITU-R BT.2100, opto-electronic transfer, linear 1 at code 1',
    curve: { kind: 'hlg' },
  },
  cineon: {
    label: 'printing density (Cineon)',
    family: 'log',
    source: 'codes 95 and 685 of 1023, density 0.002 a code, negative gamma 0.6',
    curve: {
      kind: 'pieces',
      pieces: {
        upper: {
          o: 685 / 1023,
          k: ((1023 * 0.002) / 0.6) * Math.log2(10),
          b: cineonOffset,
          s: 1 / (1 - cineonOffset),
        },
        lower: null,
        straight: { zero: 0, slope: 1 },
        cutsInCode: [-Infinity, -Infinity],
        cutsInLight: [-Infinity, -Infinity],
      },
    },
  },
  acescc: {
    label: 'ACEScc',
    family: 'log',
    source: 'S-2014-003',
    curve: {
      kind: 'pieces',
      pieces: {
        upper: { o: 9.72 / 17.52, k: 17.52, b: 0, s: 1 },
        lower: { o: 9.72 / 17.52, k: 17.52, b: 2 ** -16, s: 2 },
        straight: { zero: 0, slope: 1 },
        cutsInCode: [acesCcCut, acesCcCut],
        cutsInLight: [2 ** -15, 2 ** -15],
        least: 0,
        most: 65504,
      },
    },
  },
  acescct: {
    label: 'ACEScct',
    family: 'log',
    source: 'S-2016-001',
    curve: toed(
      { o: 9.72 / 17.52, k: 17.52, b: 0, s: 1 },
      { zero: 0.0729055341958355, slope: 1 / 10.5402377416545 },
      0.155251141552511,
      0.0078125,
    ),
  },
  logc3: { label: 'LogC3 (EI 800)', family: 'log', source: 'ARRI, LogC3, 2017', curve: logC3 },
  logc4: { label: 'LogC4', family: 'log', source: 'ARRI, LogC4, 2022', curve: logC4 },
  slog3: { label: 'S-Log3', family: 'log', source: 'Sony, technical summary of S-Log3', curve: sLog3 },
  vlog: {
    label: 'V-Log',
    family: 'log',
    source: 'Panasonic, V-Log and V-Gamut, 2014',
    curve: toed(logOfTen(0.241514, 0.598206, 0.00873, 1), { zero: 0.125, slope: 1 / 5.6 }, 0.181, 0.01),
  },
  clog2: {
    label: 'C-Log2',
    family: 'log',
    source: 'Canon, Log gamma curves, 2020',
    curve: {
      kind: 'pieces',
      pieces: {
        upper: logOfTen(0.24136077, 0.092864125, 1, 87.09937546 / canonWhite),
        lower: logOfTen(-0.24136077, 0.092864125, 1, -87.09937546 / canonWhite),
        straight: { zero: 0, slope: 1 },
        cutsInCode: [0.092864125, 0.092864125],
        cutsInLight: [0, 0],
      },
    },
  },
  clog3: {
    label: 'C-Log3',
    family: 'log',
    source: 'Canon, Log gamma curves, 2020',
    curve: {
      kind: 'pieces',
      pieces: {
        upper: logOfTen(0.36726845, 0.12240537, 1, 14.98325 / canonWhite),
        lower: logOfTen(-0.36726845, 0.12783901, 1, -14.98325 / canonWhite),
        straight: { zero: 0.12512219, slope: canonWhite / 1.9754798 },
        cutsInCode: [0.097465473, 0.15277891],
        cutsInLight: [-0.014 * canonWhite, 0.014 * canonWhite],
      },
    },
  },
}

/** Linear light of 10000 cd/m² in PQ: 1 is 100 cd/m². */
const pqUnit = 100

/** @returns the steps from code values to scene-linear */
export function decodeSteps(name: EncodingName): readonly ColourStep[] {
  const { curve } = encodings[name]
  switch (curve.kind) {
    case 'linear':
      return []
    case 'srgb':
      return [{ do: 'linear-from-srgb' }]
    case 'power':
      return [{ do: 'mirrored-power', exponent: curve.exponent }]
    case 'hlg':
      return [{ do: 'linear-from-hlg' }]
    case 'pq':
      return [{ do: 'linear-from-pq', unit: pqUnit }]
    case 'pieces':
      return [{ do: 'linear-from-pieces', pieces: curve.pieces }]
  }
}

/** @returns the steps from scene-linear to code values */
export function encodeSteps(name: EncodingName): readonly ColourStep[] {
  const { curve } = encodings[name]
  switch (curve.kind) {
    case 'linear':
      return []
    case 'srgb':
      return [{ do: 'srgb-from-linear' }]
    case 'power':
      return [{ do: 'mirrored-power', exponent: 1 / curve.exponent }]
    case 'hlg':
      return [{ do: 'hlg-from-linear' }]
    case 'pq':
      return [{ do: 'pq-from-linear', unit: pqUnit }]
    case 'pieces':
      return [{ do: 'pieces-from-linear', pieces: curve.pieces }]
  }
}

type OneNumber = (value: number) => number

const mirrored =
  (f: OneNumber): OneNumber =>
  (x) =>
    x < 0 ? -f(-x) : f(x)

const pq = {
  m1: 2610 / 16384,
  m2: (2523 / 4096) * 128,
  c1: 3424 / 4096,
  c2: (2413 / 4096) * 32,
  c3: (2392 / 4096) * 32,
}

/** @returns the function from a code value to scene-linear light, in double precision */
export function decoder(name: EncodingName): OneNumber {
  const { curve } = encodings[name]
  switch (curve.kind) {
    case 'linear':
      return (code) => code
    case 'srgb':
      return mirrored((c) => (c <= 0.04045 ? c / 12.92 : Math.pow((c + 0.055) / 1.055, 2.4)))
    case 'power': {
      const { exponent } = curve
      return mirrored((c) => Math.pow(c, exponent))
    }
    case 'hlg':
      return mirrored((c) => (c <= 0.5 ? (c * c) / 3 : (Math.exp((c - hlg.c) / hlg.a) + hlg.b) / 12))
    case 'pq':
      return mirrored((c) => {
        const raised = Math.pow(c, 1 / pq.m2)
        return pqUnit * Math.pow(Math.max(raised - pq.c1, 0) / (pq.c2 - pq.c3 * raised), 1 / pq.m1)
      })
    case 'pieces':
      return decoderOfPieces(curve.pieces)
  }
}

function decoderOfPieces({ upper, lower, straight, cutsInCode, most = Infinity }: Pieces): OneNumber {
  const exponential = ({ o, k, b, s }: ExponentialPiece): OneNumber => {
    return (code) => (Math.pow(2, (code - o) * k) - b) * s
  }
  const [low, high] = [lower ? cutsInCode[0] : -Infinity, cutsInCode[1]]
  const [above, below] = [exponential(upper), exponential(lower ?? upper)]
  const { zero, slope } = straight
  return (code) => {
    if (code >= high) return Math.min(most, above(code))
    return code < low ? below(code) : (code - zero) * slope
  }
}

/** @returns the function from scene-linear light to a code value, in double precision */
export function encoder(name: EncodingName): OneNumber {
  const { curve } = encodings[name]
  switch (curve.kind) {
    case 'linear':
      return (light) => light
    case 'srgb':
      return mirrored((x) => (x <= 0.0031308 ? 12.92 * x : 1.055 * Math.pow(x, 1 / 2.4) - 0.055))
    case 'power': {
      const { exponent } = curve
      return mirrored((x) => Math.pow(x, 1 / exponent))
    }
    case 'hlg':
      return mirrored((x) => (12 * x <= 1 ? Math.sqrt(3 * x) : hlg.a * Math.log(12 * x - hlg.b) + hlg.c))
    case 'pq':
      return mirrored((x) => {
        if (x === 0) return 0
        const raised = Math.pow(x / pqUnit, pq.m1)
        return Math.pow((pq.c1 + pq.c2 * raised) / (1 + pq.c3 * raised), pq.m2)
      })
    case 'pieces':
      return encoderOfPieces(curve.pieces)
  }
}

function encoderOfPieces({ upper, lower, straight, cutsInLight, least = -Infinity }: Pieces): OneNumber {
  const logarithm = ({ o, k, b, s }: ExponentialPiece): OneNumber => {
    return (x) => Math.log2(Math.max(1.17549435e-38, x / s + b)) / k + o
  }
  const [low, high] = [lower ? cutsInLight[0] : -Infinity, cutsInLight[1]]
  const [above, below] = [logarithm(upper), logarithm(lower ?? upper)]
  const { zero, slope } = straight
  return (light) => {
    const x = Math.max(least, light)
    if (x >= high) return above(x)
    return x < low ? below(x) : x / slope + zero
  }
}

/** @returns scene-linear light of one code value, in double precision */
export function decode(name: EncodingName, code: number): number {
  return decoder(name)(code)
}

/** @returns the code value of scene-linear light, in double precision */
export function encode(name: EncodingName, light: number): number {
  return encoder(name)(light)
}
