/** Converts files and sequences: format, bit depth, encoding, primaries. What `enkrasis convert` does. */

import { readdir } from 'node:fs/promises'
import { basename, dirname, resolve } from 'node:path'
import type { PictureHeader } from '../../core/check'
import type { EncodingName, PrimariesName } from '../../core/colour'
import type { Engine } from '../../core/engine/engine'
import { colour, fileStep, type Claims } from '../../core/graph/steps'
import { pixelCount } from '../../core/image/window'
import { framePath } from '../../core/shot'
import { readExrHeader, standardAttributes } from '../../formats/exr'
import { stepsToCodes } from '../delivery/encoded-light'
import { writeWhole } from '../delivery/write-whole'
import { withFile } from '../media/file-source'
import { readPicture, readPictureHeader } from '../media/picture-files'
import { encodePicture, writableFormat, type PictureToWrite } from '../media/write-picture'
import { groupFiles } from '../media/sequences'

export interface ConvertRequest {
  /** a run of # stands for the frame number */
  readonly input: string
  readonly output: string
  /** of a sequence; all its frames when null */
  readonly frames: { readonly first: number; readonly last: number } | null
  /** null: what the file says */
  readonly from: EncodingName | null
  readonly to: EncodingName | null
  readonly fromPrimaries: PrimariesName | null
  readonly toPrimaries: PrimariesName | null
  readonly bits?: number
}

/** What is asked for cannot be done with these files. */
export class ImpossibleConversionError extends Error {
  override readonly name = 'ImpossibleConversionError'
}

/** @returns the paths written, as they are */
export async function* convert(engine: Engine, request: ConvertRequest): AsyncGenerator<string> {
  const { input, output } = request
  writableFormat(output)
  if (input.includes('#') !== output.includes('#'))
    throw new ImpossibleConversionError('Either both IN and OUT have a run of # for the frame number, or neither has.')
  if (resolve(input) === resolve(output)) throw new ImpossibleConversionError('OUT is IN. Give it another name.')
  for (const number of await framesOf(request)) {
    const from = resolve(framePath(input, number))
    const to = resolve(framePath(output, number))
    await writeWhole(to, await convertFile(engine, from, to, request))
    yield to
  }
}

async function framesOf({ input, frames }: ConvertRequest): Promise<readonly (number | null)[]> {
  if (!input.includes('#')) return [null]
  if (frames) return Array.from({ length: frames.last - frames.first + 1 }, (_, i) => frames.first + i)
  const folder = dirname(resolve(input))
  const pattern = basename(input)
  const names = await readdir(folder).catch(() => [] as string[])
  const group = groupFiles(names).find((one) => one.pattern === pattern)
  if (!group?.frames)
    throw new ImpossibleConversionError(`There is no sequence ${input}. Check the path and the number of #.`)
  const { first, last } = group.frames
  const there = new Set(names)
  return Array.from({ length: last - first + 1 }, (_, i) => first + i).filter((n) => there.has(framePath(pattern, n)))
}

const colourNames = ['R', 'G', 'B'] as const

async function convertFile(engine: Engine, from: string, to: string, request: ConvertRequest): Promise<Uint8Array> {
  const name = basename(from)
  return withFile(from, name, async (file) => {
    const header = await readPictureHeader(file)
    const standard = header.format === 'exr' ? standardAttributes((await readExrHeader(file)).parts[0]) : undefined
    const about = { standard, rate: header.says.rate ?? undefined }
    const { from: fromEncoding, to: toEncoding, fromPrimaries, toPrimaries, bits } = request
    if (!fromEncoding && !toEncoding && !fromPrimaries && !toPrimaries) {
      const planes = await readPicture(file, null, (available) => keptChannels(available))
      return encodePicture(to, { ...planes, ...about, encoding: header.says.encoding ?? 'srgb' }, bits)
    }
    const depth = bits ?? (writableFormat(to) === 'exr' ? 16 : undefined)
    return encodePicture(to, { ...(await recoded(engine, from, name, header, to, request)), ...about }, depth)
  })
}

/** In the order in which formats without names hold them. */
function keptChannels(available: readonly string[]): readonly string[] {
  const usual = ['Y', 'R', 'G', 'B', 'A'].filter((name) => available.includes(name))
  return usual.length > 0 ? usual : available.slice(0, 1)
}

async function recoded(
  engine: Engine,
  path: string,
  name: string,
  header: PictureHeader,
  to: string,
  request: ConvertRequest,
): Promise<PictureToWrite> {
  const { says, parts } = header
  const encoding = request.from ?? says.encoding
  if (!encoding) throw new ImpossibleConversionError(`${name} does not say how it is encoded. Say it with --from.`)
  const target = request.to ?? 'linear'
  const primaries = request.fromPrimaries ?? says.primaries ?? 'rec709'
  const working = request.toPrimaries ?? primaries
  const claims: Claims = { encoding, primaries, alpha: says.alpha }
  const { dataWindow, displayWindow } = parts[0]
  const step = fileStep(path, name, 'rgba', claims, working)
  const hasAlpha = says.alpha !== 'none'
  const straightOut = hasAlpha && writableFormat(to) !== 'exr'
  const light = await engine.light(
    colour(step, stepsToCodes(target, working, working, hasAlpha, straightOut)),
    dataWindow,
    { once: true },
  )
  const names = hasAlpha ? [...colourNames, 'A'] : colourNames
  const count = pixelCount(dataWindow)
  const planes = names.map((channel, c) => {
    const samples = new Float32Array(count)
    for (let i = 0; i < count; i++) samples[i] = light[i * 4 + c]
    return { name: channel, type: 'float' as const, samples }
  })
  return { dataWindow, displayWindow, planes, encoding: target }
}
