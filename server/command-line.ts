/** The command line: works on shot files, needs neither server nor database (but for `export`). */

import { availableParallelism } from 'node:os'
import { dirname, resolve } from 'node:path'
import { Command, InvalidArgumentError, Option } from 'commander'
import { readFileSync } from 'node:fs'
import { encodingNames, primariesNames, type EncodingName, type PrimariesName } from '../core/colour'
import type { Scale } from '../core/graph/steps'
import { treatmentKinds } from '../core/treatments'
import { apply, readAnywhere } from './apply'
import { checkShotFile, inWords } from './check/check-shot-file'
import { convert } from './convert'
import type { LoadFrame } from '../core/engine/source-frame'
import { nodeEngine } from './engine/node-engine'
import { connect } from './database/connect'
import { defineModels } from './database/models'
import { PictureStore } from './delivery/picture-store'
import { clampedSentence, renderFrameToFile } from './delivery/render-frame'
import { writeWhole } from './delivery/write-whole'
import { filesIn } from '../core/plan/catalog'
import { PlanMemo } from '../core/plan/memo'
import { sampleChoices, type SampleChoice } from '../core/shot'
import { catalogOf } from './media/catalog'
import { placeOf } from './media/media-roots'
import { FrameReaders } from './media/frame-readers'
import { readShotFile, ShotStore } from './shots/shot-store'

interface RenderOptions {
  readonly frames?: { first: number; last: number }
  readonly out: string
  readonly scale: Scale
  readonly samples: SampleChoice
  readonly cache?: string
  readonly mediaRoot?: readonly string[]
  readonly threads: number
  readonly memory: number
}

function frameRange(text: string): { first: number; last: number } {
  const match = /^(\d+)(?:-(\d+))?$/.exec(text)
  if (!match) throw new InvalidArgumentError('Write one frame (1001) or a range (1001-1010).')
  const first = Number(match[1])
  const last = Number(match[2] ?? match[1])
  if (last < first) throw new InvalidArgumentError('The range ends before it starts.')
  return { first, last }
}

function oneOf<T extends number>(allowed: readonly T[]): (text: string) => T {
  return (text) => {
    const value = allowed.find((number) => String(number) === text)
    if (value === undefined) throw new InvalidArgumentError(`It must be one of ${allowed.join(', ')}.`)
    return value
  }
}

function positive(text: string): number {
  const value = Number(text)
  if (!Number.isInteger(value) || value < 1) throw new InvalidArgumentError('It must be a whole number from 1 up.')
  return value
}

const collected = (text: string, before: readonly string[]) => [...before, text]

/** Pages that are never used cost nothing; pictures that do not fit are made in bands. */
const defaultMegabytes = 768
const leastMegabytes = 64

interface EngineOptions {
  readonly threads: number
  readonly memory: number
}

/** @throws Error when the memory is too small for an engine */
function startEngine({ threads, memory }: EngineOptions, load: (readers: FrameReaders) => LoadFrame) {
  const built = new URL('.', import.meta.url)
  if (memory < leastMegabytes)
    throw new Error(`${memory} MB of working memory are too few for an engine. Give it ${leastMegabytes} or more.`)
  const readers = new FrameReaders(new URL('frame-reader.mjs', built), threads)
  const engine = nodeEngine({ load: load(readers), threads, memoryBytes: memory * 2 ** 20, built })
  const close = async () => {
    engine.close()
    await readers.close()
  }
  return { engine, close }
}

async function render(file: string, options: RenderOptions): Promise<void> {
  const shot = await readShotFile(resolve(file))
  const folder = dirname(resolve(file))
  const { first, last } = options.frames ?? shot.frames
  if (first < shot.frames.first || last > shot.frames.last) {
    throw new Error(
      `Frames ${first} to ${last} are not inside the range of ${shot.name}, ${shot.frames.first} to ${shot.frames.last}. Choose frames inside it.`,
    )
  }
  const place = placeOf(options.mediaRoot, folder)
  const { engine, close } = startEngine(options, (readers) => readers.loader(place))
  const files = filesIn(await catalogOf(place, shot))
  const store = options.cache === undefined ? undefined : new PictureStore(resolve(options.cache))
  const memo = new PlanMemo()
  let failed = 0
  try {
    for (let frame = first; frame <= last; frame++) {
      try {
        const { path, clamped } = await renderFrameToFile(
          engine,
          { shot, place, frame, scale: options.scale, samples: options.samples, files, store, memo },
          resolve(options.out),
        )
        console.log(path)
        if (clamped > 0) console.log(clampedSentence(frame, clamped))
      } catch (error) {
        failed++
        console.error(`Frame ${frame} was not rendered. ${error instanceof Error ? error.message : String(error)}`)
      }
    }
  } finally {
    await close()
  }
  if (failed > 0) throw new Error(`${failed} of ${last - first + 1} frames were not rendered; the others are complete.`)
}

interface ApplyOptions {
  readonly in: string
  readonly out: string
  readonly frames?: { first: number; last: number }
  readonly set: readonly string[]
  readonly source: readonly string[]
  readonly threads: number
  readonly memory: number
}

async function applyTreatment(treatment: string, options: ApplyOptions): Promise<void> {
  const { engine, close } = startEngine(options, readAnywhere)
  const { set: settings, source: sources, in: input, out: output, frames = null } = options
  try {
    for await (const path of apply(engine, { treatment, input, output, frames, settings, sources })) console.log(path)
  } finally {
    await close()
  }
}

interface ConvertOptions extends EngineOptions {
  readonly from?: EncodingName
  readonly to?: EncodingName
  readonly fromPrimaries?: PrimariesName
  readonly toPrimaries?: PrimariesName
  readonly bits?: number
  readonly frames?: { first: number; last: number }
}

async function convertFiles(input: string, output: string, options: ConvertOptions): Promise<void> {
  const { from = null, to = null, fromPrimaries = null, toPrimaries = null, bits, frames = null } = options
  const { engine, close } = startEngine(options, readAnywhere)
  const request = { input, output, frames, from, to, fromPrimaries, toPrimaries, bits }
  try {
    for await (const path of convert(engine, request)) console.log(path)
  } finally {
    await close()
  }
}

async function exportShot(name: string, { out }: { out?: string }): Promise<void> {
  const url = process.env.ENKRASIS_DATABASE ?? databaseOfTheDemo()
  const sequelize = connect(url)
  try {
    const store = new ShotStore(sequelize, defineModels(sequelize))
    const row = await store.findByName(name)
    const path = resolve(out ?? `${row.folder}/${name}.shot.json`)
    await writeWhole(path, `${JSON.stringify(store.documentOf(row), null, 2)}\n`)
    console.log(`${path} (revision ${row.revision})`)
  } finally {
    await sequelize.close()
  }
}

/** The demo writes down where its database answers. */
function databaseOfTheDemo(): string {
  try {
    return (JSON.parse(readFileSync('.data/running.json', 'utf8')) as { database: string }).database
  } catch {
    throw new Error(
      'No database is known. Set ENKRASIS_DATABASE, or start the demo with "npm run demo" and run this in its folder.',
    )
  }
}

const program = new Command('enkrasis').description('Matches CG passes to plates, on every frame of the shot.')
program
  .command('render')
  .description('render frames of a shot file to an EXR sequence')
  .argument('<shot file>')
  .option('--frames <range>', 'one frame or first-last; default the whole shot', frameRange)
  .requiredOption('--out <folder>', 'where the frames go')
  .option('--scale <factor>', 'full, half or quarter size: 1, 2 or 4', oneOf<Scale>([1, 2, 4]), 1)
  .addOption(
    new Option('--samples <type>', 'of the files: as the plate, half floats, floats')
      .choices(sampleChoices)
      .default('plate'),
  )
  .option('--media-root <folders...>', 'files may be read below them; default the folder of the shot file')
  .option('--cache <folder>', 'keep computed pictures there; frames that did not change come from it')
  .option('--threads <count>', 'worker threads', positive, availableParallelism())
  .option('--memory <MB>', 'working memory of the engine', positive, defaultMegabytes)
  .action(render)
program
  .command('apply')
  .description('run one treatment on an EXR file or sequence')
  .argument('<treatment>', treatmentKinds.join(', '))
  .requiredOption('--in <file>', 'a run of # stands for the frame number')
  .requiredOption('--out <file>', 'likewise')
  .option('--frames <range>', 'of a sequence: one frame or first-last', frameRange)
  .option('--set <name=value>', 'a parameter; three values with commas for red, green, blue', collected, [])
  .option('--source <name=file>', 'a file that the treatment reads besides', collected, [])
  .option('--threads <count>', 'worker threads', positive, availableParallelism())
  .option('--memory <MB>', 'working memory of the engine', positive, defaultMegabytes)
  .action(applyTreatment)
program
  .command('convert')
  .description('convert files or sequences: format, bit depth, encoding, primaries')
  .argument('<in>', 'a run of # stands for the frame number')
  .argument('<out>', 'likewise; its extension says the format')
  .addOption(new Option('--from <encoding>', 'of the pixels; default what the file says').choices(encodingNames))
  .addOption(new Option('--to <encoding>', 'default linear once anything is converted').choices(encodingNames))
  .addOption(new Option('--from-primaries <name>', 'default what the file says').choices(primariesNames))
  .addOption(new Option('--to-primaries <name>', 'default as they are').choices(primariesNames))
  .option('--bits <count>', 'of a sample: 8, 10, 12, 16; 16 or 32 for EXR', positive)
  .option('--frames <range>', 'of a sequence: one frame or first-last; default all there are', frameRange)
  .option('--threads <count>', 'worker threads', positive, availableParallelism())
  .option('--memory <MB>', 'working memory of the engine', positive, defaultMegabytes)
  .action(convertFiles)
program
  .command('check')
  .description('the claims check of a shot file: do its files fit what is claimed of them, and each other?')
  .argument('<shot file>')
  .option('--json', 'for programs')
  .option('--media-root <folders...>', 'files may be read below them; default the folder of the shot file')
  .option('--threads <count>', 'worker threads', positive, availableParallelism())
  .action(
    async (
      file: string,
      { json, mediaRoot, threads }: { json?: true; mediaRoot?: readonly string[]; threads: number },
    ) => {
      const checked = await checkShotFile(file, mediaRoot, threads)
      console.log(json ? JSON.stringify(checked, null, 2) : inWords(checked))
    },
  )
program
  .command('export')
  .description('write the shot file of a shot in the database')
  .argument('<shot>')
  .option('--out <file>', 'default: beside its media')
  .action(exportShot)

try {
  await program.parseAsync()
} catch (error) {
  console.error(error instanceof Error ? error.message : String(error))
  process.exitCode = 1
}
