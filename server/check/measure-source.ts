/** Measures one source: its files' headers, all of its frames in part, some of them whole. */

import { createHash } from 'node:crypto'
import { extname } from 'node:path'
import { framePath, mediaKind, type Source } from '../../core/shot'
import type { CutEdge, CutWindow, MapReport, PictureHeader, SourceReport, WayOfReading } from '../../core/check/report'
import { channelsFor } from '../../core/engine/source-frame'
import type { Planes } from '../../core/image/planes'
import type { Window } from '../../core/image/window'
import { alphaKind } from '../../core/measure/alpha-kind'
import { holesIn, isUpsideDown } from '../../core/measure/map-faults'
import { oddValues } from '../../core/measure/odd-values'
import { rankEncodings } from '../../core/measure/plausibility'
import { findInRun, type FrameMark } from '../../core/measure/run-of-frames'
import { ascending, quantile, samplePixels, valuesOf } from '../../core/measure/sample'
import { straightEdge } from '../../core/measure/straight-edge'
import { readExr, readExrHeader, type ByteSource } from '../../formats/exr'
import { decodedMovie } from '../media/decoded-movie'
import { unpacking } from '../media/exr-blocks'
import { withFile } from '../media/file-source'
import { formatOf, readPicture, readPictureHeader } from '../media/picture-files'
import { pathInside, type MediaPlace } from '../media/read-frame'
import { readCameraFile } from '../camera/read-camera'
import { readTableFile } from '../media/read-table'

export interface MeasureTask {
  readonly place: MediaPlace
  readonly source: Source
  readonly uses: readonly WayOfReading[]
  /** numbers of the files that are there; null for a still */
  readonly frames: readonly (number | null)[]
}

/** Lines of a band, as many as an EXR block of ZIP has, and how many bands of a frame are read. */
const bandLines = 16
const bands = 3
/** Frames that are read whole. */
const wholeFrames = 3

export async function measureSource(task: MeasureTask): Promise<SourceReport> {
  const { place, source } = task
  switch (mediaKind(source.path)) {
    case 'table':
      return measureOther(task, async () => readTableFile(await pathInside(place, source.path), source.path))
    case 'camera':
      return measureOther(
        task,
        () => readCameraFile(place, source.path),
        ({ cameras }) => ({
          cameras: cameras.map(({ name, heightDegrees, moves }) => ({ name, heightDegrees, moves })),
        }),
      )
    default:
      return measurePictures(task)
  }
}

async function measurePictures({ place, source, uses, frames }: MeasureTask): Promise<SourceReport> {
  const unreadable: { frame: number | null; sentence: string }[] = []
  const open = async <T>(frame: number | null, use: (file: ByteSource) => Promise<T>): Promise<T | null> => {
    const name = framePath(source.path, frame)
    try {
      return await withFile(await pathInside(place, name), name, use)
    } catch (error) {
      if (!unreadable.some((one) => one.frame === frame))
        unreadable.push({ frame, sentence: error instanceof Error ? error.message : String(error) })
      return null
    }
  }
  const taken = uses.length > 0 ? uses : [{ part: null, takes: 'rgba' as const }]
  const [main] = taken
  let header: PictureHeader | null = null
  const changes: { frame: number; what: string }[] = []
  const marks: FrameMark[] = []
  for (const frame of frames) {
    await open(frame, async (file) => {
      const found = await readPictureHeader(file)
      header ??= found
      const what = difference(header, found)
      if (what && frame !== null) changes.push({ frame, what })
      if (frame !== null) marks.push(await markOf(file, frame, source, main))
    })
  }
  const odd: SourceReport['odd'][number][] = []
  const edges: CutEdge[] = []
  const cutWindows: CutWindow[] = []
  const pictures = new Map<WayOfReading, Planes[]>()
  let map: MapReport | null = null
  for (const frame of spread(frames, wholeFrames))
    for (const use of taken) {
      const planes = await open(frame, (file) => readUse(file, source, use))
      if (!planes) continue
      if (use.takes === 'vec2') {
        map = withFrame(map, planes, frame)
        continue
      }
      const found = oddValues(planes)
      if (found.notNumbers ?? found.infinite ?? found.negative) odd.push({ ...found, frame, part: use.part })
      if (use.takes === 'rgba') pictures.set(use, [...(pictures.get(use) ?? []), planes])
      if (use.takes === 'scalar' || use.takes === 'rgb-matte') {
        const edge = straightEdge(valuesOf(planes.planes[0]), planes.dataWindow, use.neutral ?? 0)
        if (edge && !edges.some(({ part }) => part === use.part)) edges.push({ ...edge, part: use.part, frame })
      }
      const sides = cutSides(planes, use)
      if (sides.length > 0 && !cutWindows.some(({ part }) => part === use.part))
        cutWindows.push({ part: use.part, frame, sides })
    }
  const range = source.frames
  const there = new Set(frames)
  return {
    source: source.id,
    frames,
    missing: range ? missingIn(range, there) : [],
    unreadable,
    header,
    misnamed: header && misnamed(source.path, header),
    changes,
    ...pixelVoices(tellingMost([...pictures.values()])),
    odd,
    run: findInRun(marks),
    edges,
    cutWindows,
    map,
    cameras: null,
    decoded: range && (await decodedMovie(place, source.path)),
  }
}

/** What is no picture is usable or it is not. */
async function measureOther<T>(
  { source, frames }: MeasureTask,
  read: () => Promise<T>,
  found: (read: T) => Partial<SourceReport> = () => ({}),
): Promise<SourceReport> {
  const report: SourceReport = {
    source: source.id,
    frames,
    missing: [],
    unreadable: [],
    header: null,
    misnamed: null,
    changes: [],
    encodings: null,
    alpha: null,
    levels: null,
    odd: [],
    run: { repeated: [], black: [], jumps: [] },
    edges: [],
    cutWindows: [],
    map: null,
    cameras: null,
    decoded: null,
  }
  try {
    return { ...report, ...found(await read()) }
  } catch (error) {
    return {
      ...report,
      unreadable: [{ frame: null, sentence: error instanceof Error ? error.message : String(error) }],
    }
  }
}

function misnamed(path: string, { format }: PictureHeader): string | null {
  const said = extname(path).slice(1).toLowerCase()
  const known: Readonly<Record<string, string>> = { tif: 'tiff', jpg: 'jpeg' }
  return (known[said] ?? said) === format ? null : said.toUpperCase()
}

/** Of the ways in which a source is used as a picture, the first with an alpha, else the first. */
function tellingMost(pictures: readonly (readonly Planes[])[]): readonly Planes[] {
  return pictures.find(([first]) => first.planes.length === 4) ?? pictures[0] ?? []
}

function pixelVoices(pictures: readonly Planes[]): Pick<SourceReport, 'encodings' | 'alpha' | 'levels'> {
  if (pictures.length === 0) return { encodings: null, alpha: null, levels: null }
  const middle = pictures[pictures.length >> 1]
  const sample = samplePixels(middle)
  // A render shows nothing where it has no coverage: that is not a dark picture.
  const { alpha } = sample
  const covered = alpha ? [...alpha.keys()].filter((i) => alpha[i] > 0.5) : null
  const pick = (plane: Float32Array) => (covered ? Float32Array.from(covered, (i) => plane[i]) : plane)
  const shown = {
    count: covered?.length ?? sample.count,
    red: pick(sample.red),
    green: pick(sample.green),
    blue: pick(sample.blue),
    alpha: null,
  }
  const codes = ascending([...shown.red, ...shown.green, ...shown.blue])
  return {
    encodings: shown.count > 100 ? rankEncodings(shown) : null,
    alpha: middle.planes.length === 4 ? alphaKind(middle) : null,
    levels: [quantile(codes, 0.01), quantile(codes, 0.995)],
  }
}

/** First, last and what lies evenly between. */
function spread<T>(all: readonly T[], count: number): T[] {
  if (all.length <= count) return [...all]
  return Array.from({ length: count }, (_, i) => all[Math.round((i * (all.length - 1)) / (count - 1))])
}

const sameWindow = (a: Window, b: Window) => a.x === b.x && a.y === b.y && a.width === b.width && a.height === b.height

/** Renderers cut every frame's data window to what there is: only the display window and the channels must stay. */
function difference(first: PictureHeader, other: PictureHeader): string | null {
  if (other.format !== first.format) return `${first.format.toUpperCase()} becomes ${other.format.toUpperCase()}`
  const [a, b] = [first.parts[0].displayWindow, other.parts[0].displayWindow]
  if (!sameWindow(a, b)) return `${a.width} x ${a.height} becomes ${b.width} x ${b.height}`
  const list = ({ parts }: PictureHeader) =>
    parts.flatMap(({ name, channels }) => channels.map((channel) => (name ? `${name}.${channel.name}` : channel.name)))
  const [before, now] = [new Set(list(first)), new Set(list(other))]
  const missing = [...before].filter((name) => !now.has(name))
  const come = [...now].filter((name) => !before.has(name))
  if (missing.length > 0) return `the channel ${missing[0]} is gone`
  return come.length > 0 ? `the channel ${come[0]} has come` : null
}

function readUse(file: ByteSource, { claims, path }: Source, { part, takes }: WayOfReading): Promise<Planes> {
  return readPicture(file, part, (available) =>
    channelsFor(
      { takes, part, path, channels: null, claims: { ...claims, alpha: takes === 'rgba' ? 'straight' : 'none' } },
      available,
    ),
  )
}

/** Part of a frame: enough to know it again, and how bright it is. */
async function markOf(file: ByteSource, frame: number, source: Source, use: WayOfReading): Promise<FrameMark> {
  const pieces = await bandsOf(file, source, use)
  const digest = createHash('sha1')
  let [sum, count, most] = [0, 0, -Infinity]
  for (const { planes } of pieces) {
    // Something that moves in front of nothing is not brighter where there is more of it.
    const alpha = planes.find(({ name }) => name === 'A')
    const covered = alpha ? valuesOf(alpha) : () => 1
    for (const plane of planes) {
      const { samples } = plane
      digest.update(new Uint8Array(samples.buffer, samples.byteOffset, samples.byteLength))
      if (plane === alpha) continue
      const value = valuesOf(plane)
      for (let i = 0; i < samples.length; i += 2) {
        const v = value(i)
        if (!Number.isFinite(v)) continue
        if (v > most) most = v
        if (covered(i) < 0.5) continue
        sum += v
        count++
      }
    }
  }
  return { frame, digest: digest.digest('hex'), mean: count > 0 ? sum / count : 0, most }
}

async function bandsOf(file: ByteSource, source: Source, use: WayOfReading): Promise<readonly Planes[]> {
  if ((await formatOf(file)) !== 'exr') return [await readUse(file, source, use)]
  const header = await readExrHeader(file)
  const part = use.part === null ? header.parts[0] : header.parts.find(({ name }) => name === use.part)
  if (!part) return [await readUse(file, source, use)]
  const { y, height } = part.dataWindow
  const available = part.channels.map(({ name }) => name)
  const channels = channelsFor(
    {
      takes: use.takes,
      part: use.part,
      path: source.path,
      channels: null,
      claims: { ...source.claims, alpha: 'none' },
    },
    available,
  )
  const unique = [...new Set([...channels, ...(use.takes === 'rgba' && available.includes('A') ? ['A'] : [])])]
  return Promise.all(
    Array.from({ length: bands }, (_, i) => {
      const first = y + Math.floor((height * (i + 1)) / (bands + 1) / bandLines) * bandLines
      const band = { ...part.dataWindow, y: first, height: Math.min(y + height - first, bandLines) }
      return readExr(file, { part: part.index, channels: unique, window: band, ...unpacking, header })
    }),
  )
}

/** What is known of a map, and a frame more. */
function withFrame(map: MapReport | null, planes: Planes, frame: number | null): MapReport {
  const names = map?.names ?? namedPlaces(planes)
  const upsideDown = map?.upsideDown ?? isUpsideDown(planes)
  if (map?.holes) return map
  const holes = holesIn(planes)
  return { names, upsideDown, holes: holes && { ...holes, frame } }
}

function namedPlaces({ planes }: Planes): MapReport['names'] {
  const [across, down] = planes.map((plane) => {
    const value = valuesOf(plane)
    let [least, most] = [Infinity, -Infinity]
    for (let i = 0; i < plane.samples.length; i++) {
      const v = value(i)
      if (v < least) least = v
      if (v > most) most = v
    }
    return [least, most]
  })
  return { left: across[0], right: across[1], top: down[0], bottom: down[1] }
}

const liveShare = 0.02
const live = 0.02

/** Sides on which the data window ends inside the frame while the picture still goes on. */
function cutSides(
  { dataWindow: data, displayWindow: display, planes }: Planes,
  { takes, neutral = 0 }: WayOfReading,
): CutWindow['sides'] {
  const plane = takes !== 'rgba' || planes.length < 4 ? planes[0] : planes[3]
  const value = valuesOf(plane)
  const lively = (start: number, step: number, count: number) => {
    let found = 0
    for (let i = 0; i < count; i++) if (Math.abs(value(start + i * step) - neutral) > live) found++
    return found > liveShare * count
  }
  const { width, height } = data
  const sides: CutWindow['sides'][number][] = []
  if (data.x > display.x && lively(0, width, height)) sides.push('left')
  if (data.x + width < display.x + display.width && lively(width - 1, width, height)) sides.push('right')
  if (data.y > display.y && lively(0, 1, width)) sides.push('upper')
  if (data.y + height < display.y + display.height && lively((height - 1) * width, 1, width)) sides.push('lower')
  return sides
}

/** Numbers are listed up to here; what a document claims must not decide how much memory is taken. */
const mostMissing = 100_000

function missingIn({ first, last }: NonNullable<Source['frames']>, there: ReadonlySet<number | null>): number[] {
  const missing: number[] = []
  for (let n = first; n <= last && missing.length < mostMissing; n++) if (!there.has(n)) missing.push(n)
  return missing
}
