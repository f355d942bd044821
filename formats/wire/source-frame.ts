/**
 * A source frame as it travels from server to browser: a length, a JSON head, then the planes' samples as they are.
 *
 * Layout: uint32 length of the head (little endian); the head in UTF-8, padded with spaces so that samples start at a
 * multiple of 8; for every plane its samples, little endian, each padded to a multiple of 8.
 */

import { allocateSamples, type Plane, type Planes, type SampleType } from '../../core/image/planes'
import type { Window } from '../../core/image/window'

export interface WireFrame extends Planes {
  /** already linear and premultiplied */
  readonly decoded: boolean
}

interface Head {
  readonly dataWindow: Window
  readonly displayWindow: Window
  readonly decoded: boolean
  readonly planes: readonly {
    readonly name: string
    readonly type: SampleType
    readonly count: number
    readonly same?: number
  }[]
}

const padded = (bytes: number) => Math.ceil(bytes / 8) * 8

/** @returns the pieces to send one after the other */
export function encodeSourceFrame(frame: WireFrame): Uint8Array[] {
  const head: Head = {
    dataWindow: frame.dataWindow,
    displayWindow: frame.displayWindow,
    decoded: frame.decoded,
    planes: frame.planes.map(({ name, type, samples }, i) => {
      const same = frame.planes.findIndex((other) => other.samples === samples)
      return same < i ? { name, type, count: samples.length, same } : { name, type, count: samples.length }
    }),
  }
  const json = new TextEncoder().encode(JSON.stringify(head))
  const length = padded(4 + json.length) - 4
  const spaced = new Uint8Array(length).fill(32)
  spaced.set(json)
  const prefix = new Uint8Array(4)
  new DataView(prefix.buffer).setUint32(0, length, true)
  const pieces: Uint8Array[] = [prefix, spaced]
  head.planes.forEach((plane, i) => {
    if (plane.same !== undefined) return
    const { samples } = frame.planes[i]
    pieces.push(new Uint8Array(samples.buffer, samples.byteOffset, samples.byteLength))
    const rest = padded(samples.byteLength) - samples.byteLength
    if (rest > 0) pieces.push(new Uint8Array(rest))
  })
  return pieces
}

/** @throws RangeError when the bytes are cut */
export function decodeSourceFrame(buffer: ArrayBuffer): WireFrame {
  const length = new DataView(buffer).getUint32(0, true)
  const head = JSON.parse(new TextDecoder().decode(new Uint8Array(buffer, 4, length))) as Head
  let at = 4 + length
  const planes: Plane[] = []
  for (const { name, type, count, same } of head.planes) {
    if (same !== undefined) {
      planes.push({ ...planes[same], name })
      continue
    }
    const constructor = allocateSamples(type, 0).constructor as Float32ArrayConstructor
    const samples = new constructor(buffer, at, count)
    at += padded(samples.byteLength)
    planes.push({ name, type, samples })
  }
  return { dataWindow: head.dataWindow, displayWindow: head.displayWindow, decoded: head.decoded, planes }
}
