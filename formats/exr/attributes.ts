/** Attribute values of an EXR header: from bytes, and to bytes. Only those that mean something here; others stay bytes. */

import type { Window } from '../../core/image/window'
import type { ExrPart, RawAttribute } from './layout'

/** CIE xy of red, green, blue and white, as in the standard attribute `chromaticities`. */
export interface Chromaticities {
  readonly red: readonly [number, number]
  readonly green: readonly [number, number]
  readonly blue: readonly [number, number]
  readonly white: readonly [number, number]
}

/** The standard attributes that a delivery keeps from its source. */
export interface StandardAttributes {
  readonly chromaticities?: Chromaticities
  /** frames per second as numerator and denominator */
  readonly framesPerSecond?: { readonly numerator: number; readonly denominator: number }
  /** SMPTE 12M: the time and flags word, and the user data word */
  readonly timeCode?: { readonly timeAndFlags: number; readonly userData: number }
  readonly pixelAspectRatio?: number
}

function viewOf(attribute: RawAttribute): DataView {
  return new DataView(attribute.bytes.buffer, attribute.bytes.byteOffset, attribute.bytes.byteLength)
}

/** @returns the standard attributes present, each only where its type and length are right */
export function standardAttributes(part: Pick<ExrPart, 'attributes'>): StandardAttributes {
  const of = (name: string, type: string, length: number) => {
    const attribute = part.attributes.get(name)
    return attribute && attribute.type === type && attribute.bytes.length === length ? viewOf(attribute) : null
  }
  const found: { -readonly [K in keyof StandardAttributes]: StandardAttributes[K] } = {}
  const xy = of('chromaticities', 'chromaticities', 32)
  if (xy) {
    const pair = (i: number): [number, number] => [xy.getFloat32(i * 8, true), xy.getFloat32(i * 8 + 4, true)]
    found.chromaticities = { red: pair(0), green: pair(1), blue: pair(2), white: pair(3) }
  }
  const rate = of('framesPerSecond', 'rational', 8)
  if (rate) found.framesPerSecond = { numerator: rate.getInt32(0, true), denominator: rate.getUint32(4, true) }
  const time = of('timeCode', 'timecode', 8)
  if (time) found.timeCode = { timeAndFlags: time.getUint32(0, true), userData: time.getUint32(4, true) }
  const aspect = of('pixelAspectRatio', 'float', 4)
  if (aspect) found.pixelAspectRatio = aspect.getFloat32(0, true)
  return found
}

/** The way back, for writing. */
export function encodeStandardAttributes(values: StandardAttributes): Map<string, RawAttribute> {
  const out = new Map<string, RawAttribute>()
  const { chromaticities: c, framesPerSecond: rate, timeCode } = values
  if (c) out.set('chromaticities', floats('chromaticities', [...c.red, ...c.green, ...c.blue, ...c.white]))
  if (rate) out.set('framesPerSecond', words('rational', [rate.numerator, rate.denominator]))
  if (timeCode) out.set('timeCode', words('timecode', [timeCode.timeAndFlags, timeCode.userData]))
  return out
}

export function floats(type: string, values: readonly number[]): RawAttribute {
  return { type, bytes: new Uint8Array(new Float32Array(values).buffer) }
}

export function words(type: string, values: readonly number[]): RawAttribute {
  const bytes = new Uint8Array(values.length * 4)
  const view = new DataView(bytes.buffer)
  values.forEach((value, i) => view.setUint32(i * 4, value >>> 0, true))
  return { type, bytes }
}

export function text(value: string): RawAttribute {
  return { type: 'string', bytes: new TextEncoder().encode(value) }
}

/** A window as the corners `xMin yMin xMax yMax`, the last ones included. */
export function box(window: Window): RawAttribute {
  return words('box2i', [window.x, window.y, window.x + window.width - 1, window.y + window.height - 1])
}
