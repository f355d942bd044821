/**
 * Movies, decoded once into the media store: every frame as a 16-bit DPX of the code values that the movie shows, so that
 * any frame can be read alone and exactly. Debian's ffmpeg decodes.
 */

import { spawn } from 'node:child_process'
import { createHash } from 'node:crypto'
import { mkdir, readFile, rm, stat, writeFile } from 'node:fs/promises'
import { basename, extname, join } from 'node:path'
import type { MovieSays, MovieStatus } from '../../core/check'
import type { EncodingName, PrimariesName } from '../../core/colour'
import { writeDpx } from '../../formats/dpx'
import { writeWhole } from '../delivery/write-whole'
import type { MediaRoots } from './media-roots'

/** The movie cannot be read, or decoding it failed. */
export class UnreadableMovieError extends Error {
  override readonly name = 'UnreadableMovieError'
}

const decodedFolder = 'decoded'

function run(program: string, args: readonly string[], onBytes: (bytes: Buffer) => void): Promise<string> {
  return new Promise((resolve, reject) => {
    const child = spawn(program, args, { stdio: ['ignore', 'pipe', 'pipe'], timeout: longestProbeMs })
    let complaints = ''
    child.stdout.on('data', onBytes)
    child.stderr.on('data', (text: Buffer) => (complaints = (complaints + text.toString()).slice(-2000)))
    child.on('error', reject)
    child.on('close', (code) =>
      code === 0
        ? resolve(complaints)
        : reject(new Error(complaints.trim().split('\n').at(-1) ?? `it ended with ${code}`)),
    )
  })
}

const encodingOf: Readonly<Record<string, EncodingName>> = {
  bt709: 'bt1886',
  smpte170m: 'bt1886',
  'bt2020-10': 'bt1886',
  'bt2020-12': 'bt1886',
  gamma22: 'g22',
  smpte2084: 'pq',
  'arib-std-b67': 'hlg',
  'iec61966-2-1': 'srgb',
  linear: 'linear',
}
const primariesOf: Readonly<Record<string, PrimariesName>> = { bt709: 'rec709', bt2020: 'rec2020', smpte432: 'p3-d65' }

/** ffprobe's names, and those of the filter that converts. */
const matrices: Readonly<Record<string, string>> = {
  gbr: 'gbr',
  bt709: '709',
  smpte170m: '170m',
  bt470bg: '470bg',
  bt2020nc: '2020_ncl',
}

const ratio = (text: string | undefined, between: string) => {
  const [a, b] = (text ?? '').split(between).map(Number)
  return a > 0 && b > 0 ? { numerator: a, denominator: b } : null
}

/** Only files, only containers of movies: a playlist would make ffmpeg read other files, or ask other machines. */
const plainFilesOnly = [
  '-protocol_whitelist',
  'file',
  '-format_whitelist',
  'mov,mp4,m4a,3gp,3g2,mj2,matroska,webm,mxf,avi',
]

/** Longer movies are refused, and decoding that takes longer is ended. */
const mostFrames = 100_000
const mostPixels = 16_384 * 16_384
const longestProbeMs = 60_000
const longestDecodingMs = 12 * 3_600_000

/** @throws UnreadableMovieError */
export async function readMovieHeader(path: string, name = basename(path)): Promise<MovieSays> {
  let json = ''
  const fields =
    'width,height,r_frame_rate,nb_frames,duration,color_transfer,color_primaries,color_range,color_space,pix_fmt,sample_aspect_ratio'
  try {
    await run(
      'ffprobe',
      [
        '-v',
        'error',
        ...plainFilesOnly,
        '-select_streams',
        'v:0',
        '-show_entries',
        `stream=${fields}:format=duration`,
        '-of',
        'json',
        path,
      ],
      (bytes) => (json += bytes.toString()),
    )
  } catch (error) {
    const missing = (error as NodeJS.ErrnoException).code === 'ENOENT'
    throw new UnreadableMovieError(
      missing
        ? `${name} was not read: the Debian package ffmpeg is missing. Install it with "apt-get install ffmpeg".`
        : `${name} cannot be read as a movie (${error instanceof Error ? error.message : String(error)}). Export it again, or as a sequence.`,
    )
  }
  const { streams = [], format } = JSON.parse(json || '{}') as {
    streams?: Record<string, string | number>[]
    format?: { duration?: string }
  }
  const [stream] = streams
  const rate = ratio(String(stream?.r_frame_rate ?? ''), '/')
  if (!stream || !rate) throw new UnreadableMovieError(`${name} has no pictures in it. Choose another file.`)
  const counted = Number(stream.nb_frames)
  const seconds = Number(stream.duration ?? format?.duration)
  const estimated = Number.isFinite(seconds) ? Math.round((seconds * rate.numerator) / rate.denominator) : null
  const [width, height] = [Number(stream.width), Number(stream.height)]
  if (!(width * height > 0 && width * height <= mostPixels))
    throw new UnreadableMovieError(`${name} is ${width} x ${height}; larger movies than 16384 x 16384 are not read.`)
  if (Math.max(counted || 0, estimated ?? 0) > mostFrames)
    throw new UnreadableMovieError(`${name} has more than ${mostFrames} frames. Cut out what the shot needs.`)
  const aspect = ratio(String(stream.sample_aspect_ratio ?? ''), ':')
  const range = String(stream.color_range ?? '')
  const format420 = String(stream.pix_fmt ?? '')
  const matrix =
    matrices[String(stream.color_space)] ??
    (/rgb|bgr/.test(format420) ? 'gbr' : Number(stream.height) < 720 ? '170m' : '709')
  return {
    width,
    height,
    rate,
    frames: counted > 0 ? counted : estimated,
    encoding: encodingOf[String(stream.color_transfer)] ?? null,
    primaries: primariesOf[String(stream.color_primaries)] ?? null,
    matrix,
    range: range === 'pc' || matrix === 'gbr' || format420.startsWith('yuvj') ? 'full' : 'limited',
    pixelAspect: aspect ? aspect.numerator / aspect.denominator : 1,
  }
}

export class Movies {
  private readonly running = new Map<string, { status: MovieStatus; abort: AbortController; ended: Promise<void> }>()

  constructor(private readonly media: MediaRoots) {}

  /**
   * Begins to decode a movie, unless that is done or under way.
   *
   * @param path as the browser names it
   * @throws UnreadableMovieError, OutsideMediaError, MissingFileError
   */
  async decodeOnce(path: string): Promise<MovieStatus> {
    const known = await this.status(path)
    if (known && (known.state === 'done' || known.state === 'decoding')) return known
    const real = await this.media.pathOf(path)
    const says = await readMovieHeader(real, path)
    const folder = await this.folderFor(path, real)
    await rm(join(this.media.store, folder), { recursive: true, force: true })
    await mkdir(join(this.media.store, folder), { recursive: true })
    const stem = basename(path, extname(path)).replace(/[^\w-]+/g, '_')
    const status: MovieStatus = {
      path,
      state: 'decoding',
      says,
      done: 0,
      startedAt: new Date().toISOString(),
      elapsedMs: 0,
      pattern: `${folder}/${stem}.######.dpx`,
      sentence: null,
    }
    const entry = { status, abort: new AbortController(), ended: Promise.resolve() }
    this.running.set(folder, entry)
    await this.write(folder, status)
    entry.ended = this.decode(folder, real, entry).finally(() => this.running.delete(folder))
    return status
  }

  /** @returns null for a movie that was never decoded, or has changed since */
  async status(path: string): Promise<MovieStatus | null> {
    const real = await this.media.pathOf(path)
    const folder = await this.folderFor(path, real)
    const running = this.running.get(folder)
    if (running) return running.status
    try {
      const kept = JSON.parse(await readFile(join(this.media.store, folder, 'state.json'), 'utf8')) as MovieStatus
      // What was being decoded when a server ended is not any more.
      return kept.state === 'decoding' ? { ...kept, state: 'stopped' } : kept
    } catch {
      return null
    }
  }

  async cancel(path: string): Promise<void> {
    const real = await this.media.pathOf(path)
    const entry = this.running.get(await this.folderFor(path, real))
    entry?.abort.abort()
    await entry?.ended
  }

  async close(): Promise<void> {
    for (const { abort } of this.running.values()) abort.abort()
    await Promise.all([...this.running.values()].map(({ ended }) => ended))
  }

  /** A movie that changed is another movie. */
  private async folderFor(path: string, real: string): Promise<string> {
    const { size, mtimeMs } = await stat(real)
    const digest = createHash('sha256')
      .update(`${path} ${size} ${Math.round(mtimeMs)}`)
      .digest('hex')
      .slice(0, 12)
    return `${decodedFolder}/${basename(path, extname(path)).replace(/[^\w-]+/g, '_')}-${digest}`
  }

  private async write(folder: string, status: MovieStatus): Promise<void> {
    await writeWhole(join(this.media.store, folder, 'state.json'), JSON.stringify(status))
  }

  private async decode(
    folder: string,
    real: string,
    entry: { status: MovieStatus; abort: AbortController },
  ): Promise<void> {
    const { width, height, rate, pixelAspect } = entry.status.says
    const began = Date.now()
    const note = (changes: Partial<MovieStatus>) =>
      (entry.status = { ...entry.status, elapsedMs: Date.now() - began, ...changes })
    try {
      const frames = new FrameSplitter(width * height * 6)
      let number = 0
      const write = async (raw: Buffer) => {
        number++
        if (number > mostFrames) throw new Error(`it has more than ${mostFrames} frames`)
        const name = entry.status.pattern.replace(/#+/, (run) => String(number).padStart(run.length, '0'))
        const planes = planesOfGbr(raw, width * height)
        const perSecond = rate.numerator / rate.denominator
        await writeFile(
          join(this.media.store, name),
          writeDpx({ width, height }, planes, { bits: 16, packing: 'packed', rate: perSecond, pixelAspect }),
        )
        note({ done: number })
      }
      await decodeRaw(real, entry.status.says, frames, write, entry.abort.signal)
      if (number === 0) throw new Error('not one frame could be decoded')
      note({ state: 'done' })
    } catch (error) {
      const stopped = entry.abort.signal.aborted
      const why = error instanceof Error ? error.message : String(error)
      note({
        state: stopped ? 'stopped' : 'failed',
        sentence: stopped
          ? null
          : `${entry.status.path} could not be decoded beyond frame ${entry.status.done} (${why}). Export it again, or as a sequence.`,
      })
    }
    await this.write(folder, entry.status)
  }
}

/** Cuts a stream of bytes into frames. */
class FrameSplitter {
  private pieces: Buffer[] = []
  private held = 0
  constructor(private readonly frameBytes: number) {}

  push(bytes: Buffer): Buffer[] {
    this.pieces.push(bytes)
    this.held += bytes.length
    if (this.held < this.frameBytes) return []
    const all = Buffer.concat(this.pieces)
    const complete = Math.floor(all.length / this.frameBytes)
    this.pieces = [all.subarray(complete * this.frameBytes)]
    this.held = this.pieces[0].length
    return Array.from({ length: complete }, (_, i) => all.subarray(i * this.frameBytes, (i + 1) * this.frameBytes))
  }
}

/** Frames are written one by one; ffmpeg waits meanwhile. */
async function decodeRaw(
  path: string,
  { matrix, range }: MovieSays,
  frames: FrameSplitter,
  write: (raw: Buffer) => Promise<void>,
  signal: AbortSignal,
): Promise<void> {
  const args = ['-v', 'error', ...plainFilesOnly, '-i', path, '-map', '0:v:0', '-fps_mode', 'passthrough']
  // Converted in floating point, and rounded once.
  const filter = `zscale=matrixin=${matrix}:rangein=${range}:matrix=gbr:range=full:filter=bicubic,format=gbrp16le`
  const convert = ['-vf', filter, '-f', 'rawvideo', '-pix_fmt', 'gbrp16le', '-']
  const child = spawn('ffmpeg', [...args, ...convert], {
    stdio: ['ignore', 'pipe', 'pipe'],
    signal: AbortSignal.any([signal, AbortSignal.timeout(longestDecodingMs)]),
  })
  let complaints = ''
  child.stderr.on('data', (text: Buffer) => (complaints = (complaints + text.toString()).slice(-2000)))
  const ended = new Promise<number | null>((resolve, reject) => {
    child.on('error', reject)
    child.on('close', resolve)
  })
  ended.catch(() => undefined)
  for await (const bytes of child.stdout) for (const raw of frames.push(bytes as Buffer)) await write(raw)
  const code = await ended
  if (code !== 0) throw new Error(complaints.trim().split('\n').at(-1) || `ffmpeg ended with ${code}`)
  // Damaged movies are decoded as far as they go; what ffmpeg complained about is not passed over.
  if (/error|invalid|corrupt|truncat/i.test(complaints)) throw new Error(complaints.trim().split('\n').at(-1))
}

/** Planes of green, blue and red code values, one after the other. */
function planesOfGbr(raw: Buffer, count: number): Float32Array[] {
  const codes = new Uint16Array(raw.buffer.slice(raw.byteOffset, raw.byteOffset + raw.length))
  return [2, 0, 1].map((place) => {
    const plane = new Float32Array(count)
    for (let i = 0, at = place * count; i < count; i++, at++) plane[i] = codes[at] / 65535
    return plane
  })
}
