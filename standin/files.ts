/** Writes the stand-in's pictures as EXR; a file appears under its name only when it is complete. */

import { existsSync, mkdirSync, readFileSync, renameSync, writeFileSync } from 'node:fs'
import { dirname } from 'node:path'
import { deflateSync } from 'node:zlib'
import { floatToHalf } from '../core/image/half'
import type { Plane } from '../core/image/planes'
import type { Window } from '../core/image/window'
import { writeExr, type ExrPartToWrite } from '../formats/exr'

/** Interleaved values to planes, one for each name. */
export function planesOf(values: Float32Array, names: readonly string[], type: 'half' | 'float'): Plane[] {
  const count = values.length / names.length
  return names.map((name, c) => {
    const samples = type === 'half' ? new Uint16Array(count) : new Float32Array(count)
    for (let i = 0; i < count; i++) {
      const value = values[i * names.length + c]
      samples[i] = type === 'half' ? floatToHalf(value) : value
    }
    return { name, type, samples }
  })
}

export const framesPerSecond = { numerator: 24, denominator: 1 }
const rec709 = { red: [0.64, 0.33], green: [0.3, 0.6], blue: [0.15, 0.06], white: [0.3127, 0.329] } as const

/** SMPTE 12M time code at 24 frames a second, counting from 01:00:00:00 at frame 1001. */
function timeCode(frame: number): { timeAndFlags: number; userData: number } {
  const counted = frame - 1001
  const bcd = (n: number) => (Math.floor(n / 10) << 4) | (n % 10)
  const seconds = Math.floor(counted / 24)
  return {
    timeAndFlags: (1 << 24) | (bcd(Math.floor(seconds / 60) % 60) << 16) | (bcd(seconds % 60) << 8) | bcd(counted % 24),
    userData: 0,
  }
}

export function part(
  name: string | undefined,
  dataWindow: Window,
  displayWindow: Window,
  planes: readonly Plane[],
  frame: number,
): ExrPartToWrite {
  return {
    name,
    dataWindow,
    displayWindow,
    planes,
    standard: { framesPerSecond, chromaticities: rec709, timeCode: timeCode(Math.max(1001, frame)) },
  }
}

export async function writePicture(path: string, parts: readonly ExrPartToWrite[]): Promise<void> {
  const bytes = await writeExr(parts, { compression: 'zip', deflate: (raw) => deflateSync(raw, { level: 4 }) })
  writeWhole(path, bytes)
}

export function writeJson(path: string, value: unknown): void {
  writeWhole(path, `${JSON.stringify(value, null, 2)}\n`)
}

export function writeWhole(path: string, content: Uint8Array | string): void {
  // What is there already keeps its date: whatever was computed from it stays good.
  if (existsSync(path) && readFileSync(path).equals(Buffer.from(content as Uint8Array))) return
  mkdirSync(dirname(path), { recursive: true })
  const unfinished = `${path}.unfinished-${process.pid}`
  writeFileSync(unfinished, content)
  renameSync(unfinished, path)
}
