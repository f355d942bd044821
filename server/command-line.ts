/**
 * The command line: works on shot files, needs neither server nor database (but for `export` and
 * `worker`).
 *
 * What a command does is loaded when it is run: help and small conversions answer at once.
 */

import { availableParallelism } from 'node:os'
import { Command, InvalidArgumentError, Option } from 'commander'
import { encodingNames } from '../core/colour/encodings'
import { primariesNames } from '../core/colour/primaries'
import type { Scale } from '../core/graph/steps'
import type { Window } from '../core/image/window'
import { exrCompressions, outputEncodings, outputFormats, sampleChoices } from '../core/delivery/choices'
import { regionWays } from '../core/track/pattern-models'
import { treatmentKinds } from '../core/treatments'
import type { ApplyOptions } from './commands/apply'
import type { ConvertOptions } from './commands/convert'
import type { GrainOptions } from './commands/grain'
import type { LensMapsOptions, SolveLensOptions } from './commands/lens'
import type { MeasureOptions } from './commands/measure'
import type { NewOptions } from './commands/new'
import type { ProofOptions } from './commands/proof'
import type { ProposeOptions } from './commands/propose'
import type { RenderOptions } from './commands/render'
import type { ScoreOptions } from './commands/score'
import type { StandInOptions } from './commands/standin'
import type { MakeOptions } from './commands/make'
import type { CameraOptions } from './commands/camera'
import type { TrackOptions } from './commands/track'
import type { WorkerCommandOptions } from './commands/worker'
import { workKinds } from '../core/work'

const built = new URL('.', import.meta.url)
const defaultMegabytes = 768

function frameRange(text: string): { first: number; last: number } {
  const match = /^(\d+)(?:-(\d+))?$/.exec(text)
  if (!match) throw new InvalidArgumentError('Write one frame (1001) or a range (1001-1010).')
  const first = Number(match[1])
  const last = Number(match[2] ?? match[1])
  if (last < first) throw new InvalidArgumentError('The range ends before it starts.')
  return { first, last }
}

function spotOf(text: string): { x: number; y: number } {
  const numbers = text.split(',').map(Number)
  if (numbers.length !== 2 || !numbers.every(Number.isFinite)) throw new InvalidArgumentError('Write x,y: 640,360.5.')
  return { x: numbers[0], y: numbers[1] }
}

function oneOf<T extends number>(allowed: readonly T[]): (text: string) => T {
  return (text) => {
    const value = allowed.find((number) => String(number) === text)
    if (value === undefined) throw new InvalidArgumentError(`It must be one of ${allowed.join(', ')}.`)
    return value
  }
}

/** Called for each window. */
function windowList(text: string, before: readonly Window[] = []): readonly Window[] {
  const [x, y, width, height, ...rest] = text.split(',').map(Number)
  const all = [x, y, width, height]
  if (rest.length > 0 || all.some((number) => !Number.isInteger(number)) || width < 1 || height < 1)
    throw new InvalidArgumentError('Write x,y,width,height in whole pixels, for example 640,300,32,32.')
  return [...before, { x, y, width, height }]
}

function positive(text: string): number {
  const value = Number(text)
  if (!Number.isInteger(value) || value < 1) throw new InvalidArgumentError('It must be a whole number from 1 up.')
  return value
}

function positiveNumber(text: string): number {
  const value = Number(text)
  if (!(value > 0) || !Number.isFinite(value)) throw new InvalidArgumentError('It must be a number above 0.')
  return value
}

function wholeNumber(text: string): number {
  const value = Number(text)
  if (!Number.isInteger(value) || value < 0) throw new InvalidArgumentError('It must be a whole number.')
  return value
}

function frameSize(text: string): { width: number; height: number } {
  const match = /^(\d+)x(\d+)$/.exec(text)
  const [width, height] = match ? [Number(match[1]), Number(match[2])] : [0, 0]
  if (width < 64 || height < 36 || width > 8192 || height > 8192)
    throw new InvalidArgumentError('Write width and height, for example 320x180; from 64x36 to 8192x8192.')
  return { width, height }
}

function frameRate(text: string): { numerator: number; denominator: number } {
  const [numerator, denominator = 1, ...rest] = text.split('/').map(Number)
  const whole = Number.isInteger(numerator) && Number.isInteger(denominator)
  if (rest.length > 0 || !whole || numerator < 1 || denominator < 1)
    throw new InvalidArgumentError('Write frames a second, for example 24 or 24000/1001.')
  return { numerator, denominator }
}

const collected = (text: string, before: readonly string[]) => [...before, text]

// What several commands have in common; an option object belongs to one command.
const threads = () =>
  new Option('--threads <count>', 'worker threads').argParser(positive).default(availableParallelism())
const memory = () =>
  new Option('--memory <MB>', 'working memory of the engine').argParser(positive).default(defaultMegabytes)
const mediaRoot = () =>
  new Option('--media-root <folders...>', 'files may be read below them; default the folder of the shot file')

const program = new Command('enkrasis').description('Matches CG passes to plates, on every frame of the shot.')
program
  .command('render')
  .description('render frames of a shot file to a sequence or a movie')
  .argument('<shot file>')
  .option('--frames <range>', 'one frame or first-last; default the whole shot', frameRange)
  .requiredOption('--out <folder>', 'where the frames go')
  .option('--scale <factor>', 'full, half or quarter size: 1, 2 or 4', oneOf<Scale>([1, 2, 4]), 1)
  .option(
    '--of <what>',
    'composite, the name of an element or of a matte, or "matte of" and the name of an element',
    'composite',
  )
  .addOption(new Option('--format <format>', 'of the files').choices(outputFormats).default('exr'))
  .addOption(
    new Option(
      '--encoding <encoding>',
      'scene-linear, as the plate, or as the screen shows it; default what suits',
    ).choices(outputEncodings),
  )
  .addOption(new Option('--compression <kind>', 'of EXR').choices(exrCompressions).default('zip'))
  .addOption(
    new Option('--samples <type>', 'of EXR: as the plate, half floats, floats').choices(sampleChoices).default('plate'),
  )
  .option('--bits <count>', 'of a sample: 10 or 16 of DPX, 8 or 16 of PNG and TIFF', positive)
  .option('--cut', 'cut the data window of EXR to what is not empty')
  .option('--line', 'burn shot, version and frame into the movie')
  .option('--table <name>', 'the colour table that the movie is seen through, by the name of its source')
  .option('--name <pattern>', 'of the files, for example {shot}_{output}_{version}.{frame}')
  .option('--outputs <file>', 'several outputs at once, as a JSON file')
  .option('--versions', 'make a new folder for every run: v001, v002, ...')
  .addOption(mediaRoot())
  .option('--cache <folder>', 'keep computed pictures there; frames that did not change come from it')
  .addOption(threads())
  .addOption(memory())
  .action(async (file: string, options: RenderOptions) =>
    (await import('./commands/render')).render(file, { ...options, built }),
  )
program
  .command('new')
  .description('make a shot file from a plate and renders')
  .argument('<plate>', 'a sequence with # for its numbers, a file, or a folder')
  .argument('[others...]', 'renders, mattes, lens maps, tables: likewise')
  .requiredOption('--out <file>', 'the shot file')
  .option('--name <name>', 'of the shot; default by the folder')
  .option('--rate <frames a second>', 'default what the files say', frameRate)
  .option('--handles <count>', 'frames at each end of the plate that are not worked on', wholeNumber, 0)
  .action(async (plate: string, others: readonly string[], options: NewOptions) =>
    (await import('./commands/new')).newShot(plate, others, options),
  )
program
  .command('apply')
  .description('run one treatment on an EXR file or sequence')
  .argument('<treatment>', treatmentKinds.join(', '))
  .requiredOption('--in <file>', 'a run of # stands for the frame number')
  .requiredOption('--out <file>', 'likewise')
  .option('--frames <range>', 'of a sequence: one frame or first-last', frameRange)
  .option('--set <name=value>', 'a parameter; three values with commas for red, green, blue', collected, [])
  .option('--source <name=file>', 'a file that the treatment reads besides', collected, [])
  .addOption(threads())
  .addOption(memory())
  .action(async (treatment: string, options: ApplyOptions) =>
    (await import('./commands/apply')).applyTreatment(treatment, { ...options, built }),
  )
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
  .addOption(threads())
  .addOption(memory())
  .action(async (input: string, output: string, options: ConvertOptions) =>
    (await import('./commands/convert')).convertFiles(input, output, { ...options, built }),
  )
program
  .command('check')
  .description('the claims check of a shot file: do its files fit what is claimed of them, and each other?')
  .argument('<shot file>')
  .option('--json', 'for programs')
  .addOption(mediaRoot())
  .addOption(threads())
  .action(
    async (
      file: string,
      { json, mediaRoot, threads }: { json?: true; mediaRoot?: readonly string[]; threads: number },
    ) => {
      const { checkShotFile, inWords } = await import('./check/check-shot-file')
      const checked = await checkShotFile(file, mediaRoot, threads, built)
      console.log(json ? JSON.stringify(checked, null, 2) : inWords(checked))
    },
  )
program
  .command('measure')
  .description('mean, deviation and range of small windows of the composite, frame by frame')
  .argument('<shot file>')
  .requiredOption('--window <x,y,width,height...>', 'of the frame, in pixels; several with spaces between', windowList)
  .option('--frames <range>', 'one frame or first-last; default the whole shot', frameRange)
  .option('--json', 'a line for each frame, with autocorrelation and gradients')
  .option('--stats', 'say what was read and unpacked for it')
  .addOption(mediaRoot())
  .addOption(threads())
  .addOption(memory())
  .action(async (file: string, options: MeasureOptions) =>
    (await import('./commands/measure')).measure(file, { ...options, built }),
  )
program
  .command('track')
  .description(
    'follow a point, a region or the camera by what is seen on the plate; stops where it is lost, and says why',
  )
  .argument('<shot file or sequence>', 'a run of # stands for the frame number')
  .option('--point <x,y>', 'in pixels of the frame; a pixel reaches from a whole number to the next', spotOf)
  .option(
    '--region <file>',
    'JSON with the "outline" of a region, [[x, y], …], and "excluded" areas in it, a list of such',
  )
  .option('--camera', 'how the whole frame moves, told by up to 200 points all over it')
  .option('--from <frame>', 'where it begins; default the first', wholeNumber)
  .option('--to <frame>', 'default the last; before --from it is followed backward', wholeNumber)
  .addOption(
    new Option(
      '--model <model>',
      'how it may change: by its place, turned and scaled, sheared, (not points) in perspective, or a region by the least of these that holds; default by its place, of the camera in perspective',
    ).choices(regionWays),
  )
  .option('--json <file>', 'also write the track')
  .addOption(mediaRoot())
  .addOption(threads())
  .addOption(memory())
  .action(async (file: string, options: TrackOptions) =>
    (await import('./commands/track')).track(file, { ...options, built }),
  )
program
  .command('camera')
  .description(
    'the camera that a followed plane tells, as a glTF file; or, with --source, tracks of what a camera file sees',
  )
  .argument('<shot file>')
  .option('--plane <name>', 'the region that is a flat rectangle of the scene')
  .option('--focal <pixels>', 'absent: as the corners tell it', positiveNumber)
  .option('--source <name>', 'a source that is a camera file: every point and plane of its scene becomes a track')
  .requiredOption('--out <file>', 'a .gltf file; with --source, the shot file with the tracks')
  .addOption(mediaRoot())
  .action(async (file: string, options: CameraOptions) => (await import('./commands/camera')).camera(file, options))
program
  .command('grain')
  .description('how strong the grain of a plate is at each level of light, per channel')
  .argument('<shot file or sequence>', 'a run of # stands for the frame number')
  .option('--frames <range>', 'first-last; default the whole shot', frameRange)
  .option('--json <file>', 'also write what was measured')
  .addOption(mediaRoot())
  .addOption(threads())
  .addOption(memory())
  .action(async (file: string, options: GrainOptions) =>
    (await import('./commands/grain')).grain(file, { ...options, built }),
  )
program
  .command('make')
  .description('make the files of sources that a shot makes itself: clean plates, soft mattes')
  .argument('<shot file>')
  .option('--source <name>', 'only this one; default all')
  .option('--frames <range>', 'of a sequence: one frame or first-last; default the whole shot', frameRange)
  .addOption(mediaRoot())
  .addOption(threads())
  .addOption(memory())
  .action(async (file: string, options: MakeOptions) =>
    (await import('./commands/make')).make(file, { ...options, built }),
  )
const lens = program.command('lens').description('a lens from straight lines or a chart, and its maps')
lens
  .command('solve')
  .description('find lines on a frame of the plate, a chart or a grid, and the lens that makes them straight')
  .argument('<shot file or sequence>', 'a run of # stands for the frame number')
  .option('--source <name>', 'a source of the shot by the same lens, such as a grid; default the plate')
  .option('--frame <frame>', 'default the first of the shot', wholeNumber)
  .option('--lines <file>', 'lines that are known already: JSON, { "lines": [[[x, y], …], …] } in pixels of the frame')
  .option(
    '--chart <file>',
    'marks of a chart and where photographs show them: JSON, { "photographs": [{ "marks": [[x, y], …], "seen": [[x, y], …] }] }',
  )
  .option(
    '--squares',
    'look for a chart of dark and light squares instead, on --frame or on up to 12 frames of the source',
  )
  .option('--squeeze <factor>', 'how much wider the plate must be shown to be seen right', positiveNumber, 1)
  .option('--tangential', 'also ask whether the lens is askew')
  .option('--json <file>', 'also write the lens')
  .option('--maps <folder>', 'also write both maps: redistort.exr and undistort.exr')
  .addOption(mediaRoot())
  .addOption(threads())
  .addOption(memory())
  .action(async (file: string, options: SolveLensOptions) =>
    (await import('./commands/lens')).solveLens(file, { ...options, built }),
  )
lens
  .command('maps')
  .description('write both maps of a lens that was solved, or typed')
  .argument('<lens file>')
  .requiredOption('--maps <folder>', 'where redistort.exr and undistort.exr are written')
  .action(async (file: string, options: LensMapsOptions) => (await import('./commands/lens')).lensMaps(file, options))
program
  .command('propose')
  .description('match renders to the plate by what was shot for reference, and write the shot file that comes of it')
  .argument('<shot file>')
  .addOption(
    new Option('--accept <which>', 'settings that become changes: those that are sure, or all that were found')
      .choices(['sure', 'all'])
      .default('sure'),
  )
  .requiredOption('--out <file>', 'the shot file that comes of it')
  .option('--json <file>', 'also write what was found, with error bars')
  .option(
    '--gain-from <shot file>',
    'another shot of the series that is matched: its gain is taken where nothing was shot for reference',
  )
  .addOption(mediaRoot())
  .addOption(threads())
  .addOption(memory())
  .action(async (file: string, options: ProposeOptions) =>
    (await import('./commands/propose')).propose(file, { ...options, built }),
  )
program
  .command('proof')
  .description(
    'read all witnesses and checks on every frame; exit status 0 all agree, 1 something drifts, 2 not judged',
  )
  .argument('<shot file>')
  .option('--json <file>', 'rows with their frames, for programs')
  .option('--html <file>', 'one page with pictures of the worst frames')
  .addOption(mediaRoot())
  .addOption(threads())
  .addOption(memory())
  .action(async (file: string, options: ProofOptions) =>
    (await import('./commands/proof')).proof(file, { ...options, built }),
  )
program
  .command('score')
  .description('how far a composite is from the truth that the stand-in camera keeps')
  .argument('<shot file>')
  .requiredOption('--truth <folder>', 'which the stand-in camera wrote')
  .option('--frames <range>', 'one frame or first-last; default the whole shot', frameRange)
  .option('--json <file>', 'also write everything')
  .addOption(mediaRoot())
  .addOption(threads())
  .addOption(memory())
  .action(async (file: string, options: ScoreOptions) =>
    (await import('./commands/score')).score(file, { ...options, built }),
  )
program
  .command('standin')
  .description('make a demo shot with the stand-in camera: media and truth in folders apart')
  .requiredOption('--shot <name>', 'which one')
  .requiredOption('--out <folder>', 'media and truth go below it')
  .option('--seed <number>', "changes camera, noise, lens and veil; default the demo's own", wholeNumber)
  .option('--size <WxH>', 'of the frames; default 1280x720', frameSize)
  .option('--frames <count>', 'from 1001; default 48', positive)
  .addOption(threads())
  .action(async (options: Omit<StandInOptions, 'built'>) =>
    (await import('./commands/standin')).standIn({ ...options, built }),
  )
program
  .command('worker')
  .description('do long work (deliveries, decoding, measuring) of the database that ENKRASIS_DATABASE names')
  .addOption(new Option('--kinds <kinds...>', 'of work; default all but tracking').choices(workKinds))
  .addOption(threads())
  .addOption(memory())
  .action(async (options: Omit<WorkerCommandOptions, 'built'>) =>
    (await import('./commands/worker')).runWorker({ ...options, built }),
  )
program
  .command('export')
  .description('write the shot file of a shot in the database')
  .argument('<shot>')
  .option('--out <file>', 'default: beside its media')
  .action(async (name: string, options: { out?: string }) =>
    (await import('./commands/export')).exportShot(name, options),
  )

try {
  await program.parseAsync()
} catch (error) {
  console.error(error instanceof Error ? error.message : String(error))
  process.exitCode = 1
}
