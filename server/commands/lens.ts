/** `enkrasis lens`: the lens of a plate or of a chart, from straight lines; and its maps for a renderer. */

import { mkdir, readFile } from 'node:fs/promises'
import { join, resolve } from 'node:path'
import { array, number, object } from 'yup'
import {
  ChartTellsNothingError,
  findLines,
  lensFromChart,
  lensFromLines,
  numbersOf,
  type ChartSeen,
  type Line,
} from '../../core/lens'
import type { Lens } from '../../core/motion/lens'
import { filesIn } from '../../core/plan/catalog'
import { allOf, type Shot } from '../../core/shot'
import { writeWhole } from '../delivery/write-whole'
import type { Plane } from '../../core/track/spline'
import { chartPhotographs, framesOfChart, noChart } from '../lens/chart-photographs'
import { lensMapFile } from '../lens/lens-map-file'
import { pictureBrightness } from '../lens/picture-brightness'
import { catalogOf } from '../media/catalog'
import { placeOf } from '../media/media-roots'
import { shotOrSequence } from './new'
import { startEngine, type EngineOptions } from './start-engine'

export interface SolveLensOptions extends EngineOptions {
  /** name or id; absent: the plate */
  readonly source?: string
  readonly frame?: number
  readonly lines?: string
  /** marks of a chart and where each photograph shows them */
  readonly chart?: string
  /** a chart of dark and light squares is looked for on the frames of the source */
  readonly squares?: true
  readonly squeeze: number
  readonly tangential?: true
  readonly json?: string
  readonly maps?: string
  readonly mediaRoot?: readonly string[]
}

export interface LensMapsOptions {
  readonly maps: string
}

const place = () => array(number().strict().required()).length(2).required()
const linesFile = object({ lines: array(array(place()).min(3).max(10_000).required()).min(1).max(1000).required() })
const marks = () => array(place()).max(10_000).required()
const chartFile = object({
  photographs: array(object({ marks: marks(), seen: marks() }).required())
    .min(1)
    .max(200)
    .required(),
})
const lensFile = object({
  focalPx: number().strict().positive().required(),
  centrePx: place(),
  squeeze: number().strict().positive().default(1),
  ...Object.fromEntries(['k1', 'k2', 'k3', 'p1', 'p2'].map((name) => [name, number().strict().default(0)])),
  frameSize: object({
    width: number().strict().integer().positive().required(),
    height: number().strict().integer().positive().required(),
  }).required(),
}).required()

/** @throws Error where there is no such source, LinesTellNothingError, and what reading throws */
export async function solveLens(file: string, options: SolveLensOptions): Promise<void> {
  const { shot, folder } = await shotOrSequence(file)
  if (options.chart !== undefined) return fromChart(shot, await readChart(options.chart), options)
  if (options.squares) return fromChart(shot, await squaresOn(shot, folder, options), options)
  const lines = options.lines === undefined ? await linesOn(shot, folder, options) : await readLines(options.lines)
  const { squeeze, tangential = false } = options
  const given = { frame: shot.frameSize, squeeze, tangential, choose: true }
  const { lens, used, rms, heldOutBow, bows, told } = lensFromLines(lines, given)
  const bowOfUsed = (which: 'before' | 'after') => Math.max(...used.map((i) => bows[i][which]))
  console.log(
    `${used.length} of ${lines.length} lines are straight by one lens: they bow by ${bowOfUsed('before').toFixed(2)} px without it, by ${bowOfUsed('after').toFixed(2)} px with it (rms ${rms.toFixed(3)} px), and by ${heldOutBow.toFixed(2)} px at most where the lens was made of the others.`,
  )
  console.log(numbersLine(lens))
  if (options.json) {
    const found = { shot: shot.name, ...numbersOf(lens, shot.frameSize), told, used, rms, heldOutBow, bows }
    await writeWhole(resolve(options.json), `${JSON.stringify(found, null, 2)}\n`)
  }
  if (options.maps) await writeMaps(lens, shot.frameSize, options.maps)
}

async function fromChart(shot: Shot, views: readonly ChartSeen[], options: SolveLensOptions): Promise<void> {
  const { squeeze, tangential = false } = options
  const { lens, rms } = lensFromChart(views, { frame: shot.frameSize, squeeze, tangential })
  console.log(`The marks lie ${rms.toFixed(3)} px (rms) from where the lens puts them.`)
  console.log(numbersLine(lens))
  if (options.json) {
    const found = { shot: shot.name, ...numbersOf(lens, shot.frameSize), rms }
    await writeWhole(resolve(options.json), `${JSON.stringify(found, null, 2)}\n`)
  }
  if (options.maps) await writeMaps(lens, shot.frameSize, options.maps)
}

const numbersLine = ({ k1, k2, k3, p1, p2, centre, unit }: Lens) =>
  `k1 ${k1.toFixed(6)} k2 ${k2.toFixed(6)} k3 ${k3.toFixed(6)} p1 ${p1.toFixed(6)} p2 ${p2.toFixed(6)}, centre ${centre.map((value) => value.toFixed(2)).join(' ')} px, unit ${unit.toFixed(2)} px`

/** @throws Error where the file holds no lens */
export async function lensMaps(file: string, { maps }: LensMapsOptions): Promise<void> {
  const text = await readFile(resolve(file), 'utf8')
  const { lens, frameSize } = lensIn(file, text)
  await writeMaps(lens, frameSize, maps)
}

async function writeMaps(lens: Lens, frame: Shot['frameSize'], folder: string): Promise<void> {
  await mkdir(resolve(folder), { recursive: true })
  for (const [name, leads] of [
    ['redistort', 'to-straight'],
    ['undistort', 'to-bent'],
  ] as const) {
    const path = join(resolve(folder), `${name}.exr`)
    await writeWhole(path, await lensMapFile(lens, frame, leads))
    console.log(path)
  }
}

function lensIn(file: string, text: string): { readonly lens: Lens; readonly frameSize: Shot['frameSize'] } {
  try {
    const { focalPx, centrePx, frameSize, ...rest } = lensFile.validateSync(JSON.parse(text), { strict: false })
    const { squeeze, k1, k2, k3, p1, p2 } = rest as unknown as Omit<Lens, 'unit' | 'centre'>
    return { lens: { unit: focalPx, centre: [centrePx[0], centrePx[1]], squeeze, k1, k2, k3, p1, p2 }, frameSize }
  } catch (error) {
    throw new Error(
      `${file} holds no lens: ${(error as Error).message}. Write what "enkrasis lens solve --json" writes: focalPx, centrePx, k1 to k3, p1, p2, frameSize.`,
      { cause: error },
    )
  }
}

const linesOn = (shot: Shot, folder: string, options: SolveLensOptions): Promise<readonly Line[]> =>
  onSource(shot, folder, options, async (picture, _source, frame) => findLines(await picture(frame)))

/** @throws Error where none is found on any frame */
async function squaresOn(shot: Shot, folder: string, options: SolveLensOptions): Promise<readonly ChartSeen[]> {
  const { looked, found } = await onSource(shot, folder, options, (picture, source, frame) =>
    chartPhotographs(options.frame === undefined ? framesOfChart(shot, source, frame) : [frame], picture),
  )
  for (const { frame, marks } of found) console.log(`${frame}: ${marks.length} corners of squares`)
  if (found.length === 0) throw new ChartTellsNothingError(noChart(looked))
  return found
}

async function onSource<T>(
  shot: Shot,
  folder: string,
  options: SolveLensOptions,
  look: (picture: (frame: number) => Promise<Plane>, source: string | null, frame: number) => Promise<T>,
): Promise<T> {
  const wanted = options.source
  const source = allOf(shot.sources).find(({ id, name }) => id === wanted || name === wanted)
  if (wanted !== undefined && !source)
    throw new Error(
      `${shot.name} has no source "${wanted}". It has: ${allOf(shot.sources)
        .map(({ name }) => name)
        .join(', ')}.`,
    )
  const where = placeOf(options.mediaRoot, folder)
  const { engine, close } = await startEngine(options, (request) => ({ place: where, request }), true)
  try {
    const files = filesIn(await catalogOf(where, shot))
    const id = source?.id ?? null
    const picture = (frame: number) => pictureBrightness(engine, { shot, files }, id, frame)
    return await look(picture, id, options.frame ?? shot.frames.first)
  } finally {
    await close()
  }
}

async function readChart(file: string): Promise<readonly ChartSeen[]> {
  const text = await readFile(resolve(file), 'utf8')
  try {
    return chartFile.validateSync(JSON.parse(text), { strict: true }).photographs as unknown as readonly ChartSeen[]
  } catch (error) {
    throw new Error(
      `${file} holds no chart: ${(error as Error).message}. Write { "photographs": [{ "marks": [[x, y], …], "seen": [[x, y], …] }, …] }: places on the chart in any unit, and in pixels of the frame.`,
      { cause: error },
    )
  }
}

async function readLines(file: string): Promise<readonly Line[]> {
  const text = await readFile(resolve(file), 'utf8')
  try {
    return linesFile.validateSync(JSON.parse(text), { strict: true }).lines as unknown as readonly Line[]
  } catch (error) {
    throw new Error(
      `${file} holds no lines: ${(error as Error).message}. Write { "lines": [[[x, y], …], …] } with three places or more on each.`,
      { cause: error },
    )
  }
}
