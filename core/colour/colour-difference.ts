/** CIE colour difference through one fixed view: sRGB's primaries and white, without its curve, values held to 0..1. */

export type Lab = readonly [lightness: number, a: number, b: number]

/** XYZ of sRGB's white (D65), Y = 1 (IEC 61966-2-1). */
const white = [0.95047, 1, 1.08883] as const

/** @param red scene-linear Rec.709, with green and blue; what the view cannot show is held to what it can */
export function labOf(red: number, green: number, blue: number): Lab {
  const [r, g, b] = [red, green, blue].map((value) => Math.min(1, Math.max(0, value)))
  const x = 0.4124564 * r + 0.3575761 * g + 0.1804375 * b
  const y = 0.2126729 * r + 0.7151522 * g + 0.072175 * b
  const z = 0.0193339 * r + 0.119192 * g + 0.9503041 * b
  const [fx, fy, fz] = [x / white[0], y / white[1], z / white[2]].map((t) =>
    t > 216 / 24389 ? Math.cbrt(t) : (24389 / 27 / 116) * t + 16 / 116,
  )
  return [116 * fy - 16, 500 * (fx - fy), 200 * (fy - fz)]
}

const degrees = Math.PI / 180

/** dE2000 (CIE 142-2001), as Sharma, Wu and Dalal write it (Color Research and Application 30, 2005, equations 2 to 22). */
export function differenceOf([l1, a1, b1]: Lab, [l2, a2, b2]: Lab): number {
  const meanC = (Math.hypot(a1, b1) + Math.hypot(a2, b2)) / 2
  const seventh = meanC ** 7
  const g = 0.5 * (1 - Math.sqrt(seventh / (seventh + 25 ** 7)))
  const [p1, p2] = [a1 * (1 + g), a2 * (1 + g)]
  const [c1, c2] = [Math.hypot(p1, b1), Math.hypot(p2, b2)]
  const [h1, h2] = [hueOf(p1, b1), hueOf(p2, b2)]
  const grey = c1 * c2 === 0
  const apart = h2 - h1
  const dh = grey ? 0 : Math.abs(apart) <= 180 ? apart : apart > 180 ? apart - 360 : apart + 360
  const dH = 2 * Math.sqrt(c1 * c2) * Math.sin((dh / 2) * degrees)
  const sum = h1 + h2
  const h = grey ? sum : Math.abs(apart) <= 180 ? sum / 2 : sum < 360 ? (sum + 360) / 2 : (sum - 360) / 2
  const [l, c] = [(l1 + l2) / 2, (c1 + c2) / 2]
  const t =
    1 -
    0.17 * Math.cos((h - 30) * degrees) +
    0.24 * Math.cos(2 * h * degrees) +
    0.32 * Math.cos((3 * h + 6) * degrees) -
    0.2 * Math.cos((4 * h - 63) * degrees)
  const turn = 30 * Math.exp(-(((h - 275) / 25) ** 2))
  const rc = 2 * Math.sqrt(c ** 7 / (c ** 7 + 25 ** 7))
  const sl = 1 + (0.015 * (l - 50) ** 2) / Math.sqrt(20 + (l - 50) ** 2)
  const [sc, sh] = [1 + 0.045 * c, 1 + 0.015 * c * t]
  const [dl, dc, dhue] = [(l2 - l1) / sl, (c2 - c1) / sc, dH / sh]
  return Math.sqrt(dl * dl + dc * dc + dhue * dhue - Math.sin(2 * turn * degrees) * rc * dc * dhue)
}

function hueOf(a: number, b: number): number {
  if (a === 0 && b === 0) return 0
  const hue = Math.atan2(b, a) / degrees
  return hue >= 0 ? hue : hue + 360
}
