/**
 * Matching by what was shot for reference, with no hand on it: on fresh seeds of the stand-in camera, against its truth; and
 * what is put wrong on some frames, found by the checks. Everything goes through the command line.
 */

import { execFile } from 'node:child_process'
import { copyFileSync, mkdirSync, mkdtempSync, readFileSync, renameSync, rmSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { promisify } from 'node:util'
import { halfToFloat } from '../core/image/half'
import { newPlacing, type Shot } from '../core/shot'
import type { Matching, Proof } from '../core/witnesses'
import { bytesSource, readExr } from '../formats/exr'
import { unpacking } from '../server/media/exr-blocks'
import { nearestInside } from './nearest-inside'
import { atLeast, atMost, type Row } from './row'

/** None of those that thresholds were set on, which are 1 to 10. */
const seeds = Array.from({ length: 20 }, (_, i) => 631 + i)
const size = { width: 320, height: 180 }
const first = 1001
const frames = 12

const run = promisify(execFile)
const enkrasis = (...args: string[]) => run('node', ['bin/enkrasis.mjs', ...args])

interface Truth {
  readonly cgGain: readonly number[]
  readonly frames: readonly { readonly veil: readonly number[] }[]
}

/** @param demo folder of the demo's media, whose shot is matched as well */
export async function benchMatching(demo: string): Promise<Row[]> {
  const folder = mkdtempSync(join(tmpdir(), 'enkrasis-matching-'))
  try {
    const rows = await timeOnDemo(demo, folder)
    const seen = {
      ...{ veil: [] as number[], gain: [] as number[], softness: [] as number[], colour: [] as number[] },
      ...{ ratio: [] as number[], left: [] as number[] },
    }
    let matched = ''
    const caught = { found: 0, planted: 0, wrongly: 0, sound: 0 }
    const noisy: number[] = []
    const open: number[] = []
    for (const seed of seeds) {
      const media = await made(folder, seed)
      const off = await matchedOff(media)
      matched ||= join(media.shot, 'matched.shot.json')
      seen.veil.push(...off.veil)
      seen.gain.push(...off.gain)
      seen.softness.push(off.softness)
      seen.colour.push(off.colour)
      seen.ratio.push(...off.ratio)
      seen.left.push(...off.left)
      const here = await plantAll(media)
      caught.found += here.found
      caught.planted += here.planted
      caught.wrongly += here.wrongly
      caught.sound += here.sound
      noisy.push(here.noisy)
      open.push(here.open)
    }
    const worst = (values: readonly number[]) => Math.max(...values.map(Math.abs))
    const of = `seeds ${seeds[0]} to ${seeds[seeds.length - 1]}`
    return [
      ...rows,
      ...(await withoutObjects(demo, matched)),
      atMost(`veil off the truth, worst channel of ${of}`, worst(seen.veil), 0.0015, 'light'),
      atMost('… gain', 100 * worst(seen.gain), 3, '%'),
      atMost(
        '… what the shadow leaves of the light where it takes most, off the true frames’',
        worst(seen.left),
        0.03,
        '',
      ),
      atMost('… its setting, the ratio, off that which comes nearest to the true frames', worst(seen.ratio), 0.03, ''),
      atMost('… softness off the nearest Gaussian, at 1280 wide', worst(seen.softness), 0.1, 'px'),
      atMost('… median dE2000 inside, worst seed', worst(seen.colour), 1, 'dE'),
      atLeast(
        '… planted wrongs on their frames that the right check names',
        (100 * caught.found) / caught.planted,
        99,
        '%',
      ),
      atMost(
        `… of ${caught.sound} sound readings, those that drift`,
        (1000 * caught.wrongly) / caught.sound,
        1,
        'of 1,000',
      ),
      atMost('… what their witnesses read that is too noisy to be judged', meanShare(noisy), 10, '%'),
      atMost('… of all sound readings, those that are not judged', meanShare(open), 10, '%'),
    ]
  } finally {
    rmSync(folder, { recursive: true, force: true })
  }
}

async function timeOnDemo(demo: string, folder: string): Promise<Row[]> {
  const file = join(demo, 'quay-010', 'quay-010.shot.json')
  const out = join(folder, 'demo.shot.json')
  const start = performance.now()
  await enkrasis('propose', file, '--accept', 'all', '--out', out)
  const seconds = (performance.now() - start) / 1000
  const { rows } = await proven(join(demo, 'quay-010'), readJson(out) as Shot)
  return [
    atMost('all of the demo matched, whole command', seconds, 15, 's'),
    atMost(
      '… what its witnesses read that is too noisy to be judged',
      100 * notJudged(rows.filter(({ kind }) => kind === 'witness')),
      10,
      '%',
    ),
    atMost('… of all that is read of it, what is not judged', 100 * notJudged(rows), 10, '%'),
    atMost(
      '… frames of it that drift in any row',
      rows.reduce((sum, { drifts }) => sum + drifts.length, 0),
      0,
      '',
    ),
  ]
}

/** As a share of what was read. */
function notJudged(rows: Proof['rows']): number {
  const sum = (of: (row: Proof['rows'][number]) => number) => rows.reduce((total, row) => total + of(row), 0)
  return sum(({ notJudged: frames }) => frames.length) / sum(({ frames }) => frames)
}

const meanShare = (shares: readonly number[]) => (100 * shares.reduce((sum, one) => sum + one, 0)) / shares.length

/**
 * As if nobody had shot a ball or a chart.
 *
 * @param other a shot of the series in which somebody had, matched
 */
async function withoutObjects(demo: string, other: string): Promise<Row[]> {
  const [file, out, found, scored] = ['bare', 'bare-out', 'bare-found', 'bare-score'].map((name) =>
    join(demo, 'quay-010', `${name}.json`),
  )
  try {
    const shot = readJson(join(demo, 'quay-010', 'quay-010.shot.json')) as Shot
    writeFileSync(file, JSON.stringify({ ...shot, referenceObjects: { byId: {} } }))
    const truth = join(demo, '..', 'truth')
    const inside = async (...more: string[]) => {
      await enkrasis('propose', file, '--accept', 'all', '--out', out, '--json', found, ...more)
      await enkrasis('score', out, '--truth', truth, '--frames', '1024', '--json', scored)
      return (readJson(scored) as { overall: { insideMedian: number } }).overall.insideMedian
    }
    const ofSeries = await inside('--gain-from', other)
    const alone = await inside()
    const { frames: all } = readJson(join(truth, 'quay-010', 'truth.json')) as Truth
    const veil = [0, 1, 2].map((c) => all.reduce((sum, one) => sum + one.veil[c], 0) / all.length)
    const { parts } = readJson(found) as Matching
    const told = parts.find((part) => part.element === 'bell' && part.what === 'veil')?.values ?? []
    if (told.length !== 3) throw new Error('No veil was found without ball and chart.')
    // A bar holds the truth in 90 %.
    const errors = told.map(({ bar }) => bar / 1.645)
    const off = told.map(({ value }, c) => Math.abs(value - veil[c]) / Math.max(0.0015, 2 * errors[c]))
    return [
      atMost(
        'the demo without ball and chart: veil off the truth, of the larger of 0.0015 and two of its errors, worst channel',
        Math.max(...off),
        1,
        '×',
      ),
      atMost('… and the gain that of another shot of the series: median dE2000 inside, frame 1024', ofSeries, 2, 'dE'),
      atMost('… and nothing else that tells the gain: median dE2000 inside, frame 1024', alone, 2, 'dE'),
    ]
  } finally {
    for (const one of [file, out, found, scored]) rmSync(one, { force: true })
  }
}

interface Media {
  readonly folder: string
  readonly shot: string
  readonly truth: string
}

async function made(folder: string, seed: number): Promise<Media> {
  const own = join(folder, String(seed))
  mkdirSync(own)
  const wanted = ['--size', `${size.width}x${size.height}`, '--frames', String(frames), '--seed', String(seed)]
  await enkrasis('standin', '--shot', 'quay-010', '--out', own, ...wanted)
  return { folder: own, shot: join(own, 'media', 'quay-010'), truth: join(own, 'truth') }
}

const readJson = (path: string): unknown => JSON.parse(readFileSync(path, 'utf8'))
const valuesOf = ({ parts }: Matching, what: string, element = 'bell'): number[] =>
  parts.find((part) => part.element === element && part.what === what)?.values.map(({ value }) => value) ?? []

async function matchedOff({ folder, shot, truth }: Media) {
  const [file, matched, found] = ['quay-010.shot.json', 'matched.shot.json', 'found.json'].map((one) => join(shot, one))
  await enkrasis('propose', file, '--accept', 'all', '--out', matched, '--json', found)
  const score = join(folder, 'score.json')
  await enkrasis('score', matched, '--truth', truth, '--json', score)
  const { cgGain, frames: all } = readJson(join(truth, 'quay-010', 'truth.json')) as Truth
  const matching = readJson(found) as Matching
  const veil = [0, 1, 2].map((c) => all.reduce((sum, one) => sum + one.veil[c], 0) / all.length)
  const nearest = await nearestOnBell({ folder, shot, truth }, cgGain, veil)
  const ratio = valuesOf(matching, 'shadow ratio', 'shadow').map((value, c) => value - nearest.ratio[c])
  const takes = await mostTaken(shot)
  return {
    veil: valuesOf(matching, 'veil').map((value, c) => value - veil[c]),
    gain: valuesOf(matching, 'gain').map((value, c) => value / cgGain[c] - 1),
    softness: ((valuesOf(matching, 'softness')[0] - nearest.softness) * 1280) / size.width,
    ratio,
    left: ratio.map((value, c) => value * takes[c]),
    colour: (readJson(score) as { overall: { insideMedian: number } }).overall.insideMedian,
  }
}

/** How much of each channel's light the shadow pass takes where it takes most, but for a hundredth of it. */
async function mostTaken(shot: string): Promise<readonly number[]> {
  const path = render(shot, pair[0])
  const { planes } = await readExr(bytesSource(readFileSync(path), path), { ...unpacking, part: 'shadow' })
  return ['R', 'G', 'B'].map((channel) => {
    const plane = planes.find(({ name }) => name === channel)
    if (plane?.type !== 'half') throw new Error(`${path} has no shadow pass in colour.`)
    const taken = Array.from(plane.samples, halfToFloat).filter((value) => value > 0)
    return taken.sort((a, b) => a - b)[Math.floor(0.99 * taken.length)]
  })
}

/** Found on the bell itself beside its true frames, with the true veil and gain: what nobody who matches may know. */
async function nearestOnBell(
  { folder, shot }: Media,
  gain: readonly number[],
  veil: readonly number[],
): Promise<{ readonly softness: number; readonly ratio: readonly number[] }> {
  const document = readJson(join(shot, 'quay-010.shot.json')) as Shot
  const { plate } = document.sources.byId
  const truth = { ...plate, id: 'truth', name: 'Truth', path: '../../truth/quay-010/quay-010_truth.####.exr' }
  const object = { id: 'bell', name: 'Truth', rank: 'a0', photographed: 'truth', rendered: 'bell', insteadOf: 'bell' }
  const { match } = document.treatments.byId
  const parameters = { ...match.parameters, veil: [...veil], gain: [...gain] }
  const darkening = ['shadow', 'occlusion'].reduce((shot, id) => {
    const { blend } = shot.elements.byId[id]
    return withElement(shot, id, { blend: { ...blend, parameters: { ...blend.parameters, veil: [...veil] } } })
  }, document)
  const known: Shot = {
    ...darkening,
    sources: { byId: { ...document.sources.byId, truth } },
    treatments: { byId: { ...document.treatments.byId, match: { ...match, parameters } } },
    referenceObjects: { byId: { bell: object } },
  }
  const [file, out, found] = ['known.shot.json', 'known-out.shot.json', 'known.json'].map((one) => join(shot, one))
  writeFileSync(file, JSON.stringify(known))
  await enkrasis('propose', file, '--media-root', folder, '--accept', 'all', '--out', out, '--json', found)
  return {
    softness: await nearestInside(file, folder, 'bell'),
    ratio: valuesOf(readJson(found) as Matching, 'shadow ratio', 'shadow'),
  }
}

/** Frames that are put wrong, two beside each other or one alone. */
const pair = [first + 4, first + 5]
const one = [first + 5]

interface Planted {
  /** row of the proof that names it */
  readonly row: string
  readonly on: readonly number[]
  readonly change?: (shot: Shot) => Shot
  /** done to the files before, and undone after */
  readonly files?: (shot: string) => () => void
}

const wrongOn = (value: number, wrong: number, on: readonly number[]) => ({
  keyframes: Object.fromEntries([
    [first, { value, to: 'level' as const }],
    ...on.map((frame) => [frame, { value: wrong, to: 'level' as const }]),
    [Math.max(...on) + 1, { value, to: 'level' as const }],
  ]),
})
type Values = readonly number[]
const withTreatment = (shot: Shot, kind: string, name: string, wrong: (value: number, c: number) => number): Shot => {
  const settings = Object.values(shot.treatments.byId).find((treatment) => treatment.kind === kind)
  if (!settings) throw new Error(`Matching left no ${kind}.`)
  const values = (settings.parameters[name] as Values).map((value, c) => wrongOn(value, wrong(value, c), pair))
  const changed = { ...settings, parameters: { ...settings.parameters, [name]: values } }
  return { ...shot, treatments: { byId: { ...shot.treatments.byId, [settings.id]: changed } } }
}
const withElement = (shot: Shot, id: string, changes: Partial<Shot['elements']['byId'][string]>): Shot => ({
  ...shot,
  elements: { byId: { ...shot.elements.byId, [id]: { ...shot.elements.byId[id], ...changes } } },
})
const render = (shot: string, frame: number) => join(shot, 'cg', `quay-010_bell.${frame}.exr`)

const wrongs: readonly Planted[] = [
  {
    row: 'Black of Diving bell',
    on: pair,
    change: (shot) => withTreatment(shot, 'veil-and-gain', 'veil', (v) => v + 0.006),
  },
  {
    row: 'Colour of Diving bell',
    on: pair,
    change: (shot) => withTreatment(shot, 'veil-and-gain', 'gain', (value, c) => (c === 0 ? 1.04 * value : value)),
  },
  {
    row: 'Sharpness of Diving bell',
    on: pair,
    change: (shot) =>
      ['across', 'down'].reduce((so, name) => withTreatment(so, 'soften', name, (v) => Math.hypot(v, 0.8)), shot),
  },
  {
    row: 'Shadow of Diving bell',
    on: pair,
    change: (shot) => {
      const { blend } = shot.elements.byId.shadow
      const ratio = (blend.parameters.ratio as Values).map((value) => wrongOn(value, Math.min(1, value + 0.1), pair))
      return withElement(shot, 'shadow', { blend: { ...blend, parameters: { ...blend.parameters, ratio } } })
    },
  },
  {
    row: 'Place of Diving bell',
    on: one,
    change: (shot) =>
      withElement(shot, 'bell', { placing: newPlacing({ x: 0, y: 0, ...size }, { x: [wrongOn(0, 1, one)] }) }),
  },
  {
    row: 'Repeated frames of Diving bell',
    on: one,
    files: (shot) => {
      renameSync(render(shot, one[0]), join(shot, 'kept.exr'))
      copyFileSync(render(shot, one[0] - 1), render(shot, one[0]))
      return () => renameSync(join(shot, 'kept.exr'), render(shot, one[0]))
    },
  },
  {
    row: 'Files',
    on: one,
    files: (shot) => {
      renameSync(render(shot, one[0]), join(shot, 'kept.exr'))
      return () => renameSync(join(shot, 'kept.exr'), render(shot, one[0]))
    },
  },
]

async function plantAll({ shot }: Media) {
  const matched = readJson(join(shot, 'matched.shot.json')) as Shot
  const sound = (await proven(shot, matched)).rows
  const counted = {
    found: 0,
    planted: 0,
    wrongly: sound.reduce((sum, row) => sum + row.drifts.length, 0),
    sound: sound.reduce((sum, row) => sum + row.frames, 0),
    noisy: notJudged(sound.filter(({ kind }) => kind === 'witness')),
    open: notJudged(sound),
  }
  for (const { row, on, change = (so: Shot) => so, files } of wrongs) {
    const undo = files?.(shot)
    const found = (await proven(shot, change(matched))).rows.find(({ name }) => name === row)
    undo?.()
    counted.planted += on.length
    counted.found += on.filter((frame) => found?.drifts.includes(frame)).length
  }
  return counted
}

async function proven(shot: string, document: Shot): Promise<Proof> {
  const [file, out] = ['proven.shot.json', 'proof.json'].map((name) => join(shot, name))
  writeFileSync(file, JSON.stringify(document))
  // Its exit status says what it found.
  await enkrasis('proof', file, '--json', out).catch((error: { code?: number }) => {
    if (error.code !== 1 && error.code !== 2) throw error
  })
  const proof = readJson(out) as Proof
  for (const one of [file, out]) rmSync(one)
  return proof
}
