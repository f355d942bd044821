/** `enkrasis render`: frames of a shot file to a sequence, or to a movie for looking at. */

import { mkdir, readFile } from 'node:fs/promises'
import { dirname, join, resolve } from 'node:path'
import {
  deliveryFault,
  fileName,
  moviePattern,
  outputSchema,
  sequencePattern,
  versionName,
  type DeliveryOutput,
  type ExrCompression,
  type OutputEncoding,
  type OutputFormat,
  type OutputOf,
  type SampleChoice,
} from '../../core/delivery'
import type { Scale } from '../../core/graph/steps'
import { filesIn } from '../../core/plan/catalog'
import { PlanMemo } from '../../core/plan/memo'
import { allOf, type Shot } from '../../core/shot'
import { framesAtOnce, inOrder } from '../delivery/in-order'
import { PictureStore } from '../delivery/picture-store'
import { makeMovie } from '../delivery/preview-movie'
import { clampedSentence, renderOutputs } from '../delivery/render-outputs'
import { catalogOf } from '../media/catalog'
import { placeOf } from '../media/media-roots'
import { readShotFile } from '../shots/shot-store'
import { prove } from '../matching/prove'
import { makeMissing } from './make'
import { startEngine, type EngineOptions } from './start-engine'

export interface RenderOptions extends EngineOptions {
  readonly frames?: { first: number; last: number }
  readonly out: string
  readonly scale: Scale
  /** `composite`, or an element's name, or `matte of` an element's name */
  readonly of: string
  readonly format: OutputFormat
  readonly encoding?: OutputEncoding
  readonly compression: ExrCompression
  readonly samples: SampleChoice
  readonly bits?: number
  readonly cut?: true
  readonly line?: true
  readonly table?: string
  readonly name?: string
  /** JSON with several outputs, as deliveries have them */
  readonly outputs?: string
  /** a new folder in `out` for every run */
  readonly versions?: true
  readonly cache?: string
  readonly mediaRoot?: readonly string[]
}

/** Without a version, so that rendering again into the same folder makes the same names. */
const plainPattern = '{shot}_{output}.{frame}'

export async function render(file: string, options: RenderOptions): Promise<void> {
  const shot = await readShotFile(resolve(file))
  const { first, last } = options.frames ?? shot.frames
  const outputs = await outputsFor(shot, options)
  const fault = deliveryFault(shot, { first, last, scale: options.scale, outputs })
  if (fault) throw new Error(fault)
  const { version, folder } = await folderFor(shot, options)
  const place = placeOf(options.mediaRoot, dirname(resolve(file)))
  const { engine, close } = await startEngine(options, (request) => ({ place, request }), true)
  const store = options.cache === undefined ? undefined : new PictureStore(resolve(options.cache))
  const always = { shot, place, scale: options.scale, outputs, version, revision: null, store, memo: new PlanMemo() }
  let failed = 0
  try {
    await makeMissing({ shot, place, engine }, { first, last }, options)
    const files = filesIn(await catalogOf(place, shot))
    const frames = Array.from({ length: last - first + 1 }, (_, i) => first + i)
    const renderOne = (frame: number) => renderOutputs(engine, { ...always, frame, files }, folder)
    for await (const ended of inOrder(frames, framesAtOnce, renderOne)) {
      if ('error' in ended) {
        failed++
        const { item: frame, error } = ended
        console.error(`Frame ${frame} was not rendered. ${error instanceof Error ? error.message : String(error)}`)
        continue
      }
      const { files: written, clamped } = ended.result
      for (const { name } of written) console.log(join(folder, name))
      if (clamped > 0) console.log(clampedSentence(ended.item, clamped))
    }
    for (const output of outputs) {
      if (output.format !== 'proof') continue
      const html = join(folder, fileName(shot.name, output, version, first))
      const about = { shot, files, revision: null, frames: { first, last } }
      await prove(engine, about, { html, json: html.replace(/html$/, 'json') })
      console.log(html)
    }
  } finally {
    await close()
  }
  if (failed > 0) throw new Error(`${failed} of ${last - first + 1} frames were not rendered; the others are complete.`)
  await makeMovies(shot, outputs, { ...options, folder, version, first, last })
}

async function makeMovies(
  shot: Shot,
  outputs: readonly DeliveryOutput[],
  about: RenderOptions & { folder: string; version: number; first: number; last: number },
): Promise<void> {
  const { folder, version, first, last, scale, built } = about
  for (const output of outputs) {
    if (output.format !== 'movie') continue
    const name = fileName(shot.name, output, version, first)
    await makeMovie({
      ...{ folder, name, first, last, rate: shot.rate, built, attempt: String(process.pid) },
      width: Math.ceil(shot.frameSize.width / scale),
      height: Math.ceil(shot.frameSize.height / scale),
      line: output.line ? `${shot.name}  ${versionName(version)}` : null,
    })
    console.log(join(folder, name))
  }
}

/** Two who render at the same time get two folders: making one that is there already fails. */
async function folderFor(shot: Shot, { out, versions }: RenderOptions) {
  const root = resolve(out)
  if (!versions) return { version: 1, folder: root }
  await mkdir(join(root, shot.name), { recursive: true })
  for (let version = 1; ; version++) {
    const folder = join(root, shot.name, versionName(version))
    try {
      await mkdir(folder)
      return { version, folder }
    } catch (error) {
      if ((error as NodeJS.ErrnoException).code !== 'EEXIST') throw error
    }
  }
}

async function outputsFor(shot: Shot, options: RenderOptions): Promise<readonly DeliveryOutput[]> {
  if (options.outputs === undefined) return [outputFor(shot, options)]
  const text = await readFile(resolve(options.outputs), 'utf8')
  try {
    return outputSchema.validateSync(JSON.parse(text), { strict: true }) as unknown as readonly DeliveryOutput[]
  } catch (error) {
    throw new Error(
      `${options.outputs} is no list of outputs (${error instanceof Error ? error.message : String(error)}). docs/shot-file.md shows one.`,
      { cause: error },
    )
  }
}

function sourceCalled(shot: Shot, name: string): string {
  const found = allOf(shot.sources).find((one) => one.name === name)
  if (!found)
    throw new Error(
      `${shot.name} has no source "${name}". It has ${allOf(shot.sources)
        .map((one) => one.name)
        .join(', ')}.`,
    )
  return found.id
}

function outputFor(shot: Shot, options: RenderOptions): DeliveryOutput {
  const { format, compression, samples, bits } = options
  const of = whatOf(shot, options.of)
  const name = of.what === 'composite' ? 'comp' : options.of.replace(/[^\w-]+/g, '_')
  const usual = options.versions ? sequencePattern : plainPattern
  if (format === 'proof') return { of, name: 'proof', pattern: options.name ?? moviePattern, format }
  if (format === 'movie') {
    const movie = { of, name, pattern: options.name ?? moviePattern, format, line: options.line === true }
    return options.table === undefined ? movie : { ...movie, table: sourceCalled(shot, options.table) }
  }
  const encoding = options.encoding ?? (format === 'exr' ? 'linear' : format === 'dpx' ? 'plate' : 'view')
  const about = { of, name, pattern: options.name ?? usual, encoding }
  if (format === 'exr') return { ...about, format, compression, samples, window: options.cut ? 'content' : 'frame' }
  if (format === 'dpx') return { ...about, format, bits: chosen(bits ?? 10, [10, 16], format) }
  return { ...about, format, bits: chosen(bits ?? 8, [8, 16], format) }
}

function chosen<T extends number>(bits: number, allowed: readonly T[], format: string): T {
  const found = allowed.find((one) => one === bits)
  if (found === undefined) throw new Error(`${format.toUpperCase()} is written with ${allowed.join(' or ')} bits.`)
  return found
}

function whatOf(shot: Shot, text: string): OutputOf {
  if (text === 'composite') return { what: 'composite' }
  const [, matte, name] = /^(matte of )?(.+)$/.exec(text) ?? []
  const element = allOf(shot.elements).find((one) => one.name === name || one.id === name)
  const own = allOf(shot.mattes).find((one) => `matte ${one.name}` === text || one.name === name || one.id === name)
  if (!element && own) return { what: 'shot-matte', id: own.id }
  if (!element)
    throw new Error(
      `${shot.name} has no element or matte "${name}". It has: ${[...allOf(shot.elements), ...allOf(shot.mattes)]
        .map((one) => one.name)
        .join(', ')}.`,
    )
  return { what: matte ? 'matte' : 'element', id: element.id }
}
