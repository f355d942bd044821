/** For the tests: the platform's zlib, made-up planes, and Debian's OpenImageIO and OpenEXR programs as independent judges. */

import { execFileSync } from 'node:child_process'
import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { deflateSync, inflateSync } from 'node:zlib'
import { allocateSamples, type Plane, type SampleType } from '../../../core/image/planes'
import type { Window } from '../../../core/image/window'
import type { Deflate, Inflate } from '../index'

export const inflate: Inflate = (bytes, size) => inflateSync(bytes, { maxOutputLength: size })
export const deflate: Deflate = (bytes) => deflateSync(bytes, { level: 4 })

/** Samples with flat areas, ramps and noise, so that every codec has something to do. */
export function madeUpPlane(name: string, type: SampleType, window: Window, seed = 1): Plane {
  const samples = allocateSamples(type, window.width * window.height)
  let state = seed * 2654435761 + name.length
  for (let i = 0; i < samples.length; i++) {
    state = (Math.imul(state ^ (state >>> 15), 0x2c1b3c6d) + i) >>> 0
    const x = i % window.width
    const y = Math.floor(i / window.width)
    const flat = (x >> 3) % 3 === 0
    if (type === 'half') samples[i] = flat ? 0x3800 : 0x3000 + ((x * 7 + y * 3 + (state & 31)) & 0x0fff)
    else if (type === 'float') samples[i] = flat ? 0.5 : Math.fround(x / 7 + y / 3 + (state & 1023) / 4096)
    else samples[i] = flat ? 7 : (x * 65537 + y * 257 + (state & 0xff)) >>> 0
  }
  return { name, type, samples }
}

export class ScratchFolder {
  readonly path = mkdtempSync(join(tmpdir(), 'enkrasis-exr-'))
  file(name: string): string {
    return join(this.path, name)
  }
  write(name: string, bytes: Uint8Array): string {
    writeFileSync(this.file(name), bytes)
    return this.file(name)
  }
  read(name: string): Uint8Array {
    return new Uint8Array(readFileSync(this.file(name)))
  }
  remove(): void {
    rmSync(this.path, { recursive: true, force: true })
  }
}

/** Runs one of Debian's image programs; its complaint is the error's message. */
export function run(program: 'oiiotool' | 'exrmaketiled' | 'exrheader', ...args: string[]): string {
  return execFileSync(program, args, { encoding: 'utf8', stdio: ['ignore', 'pipe', 'pipe'], maxBuffer: 1 << 26 })
}
