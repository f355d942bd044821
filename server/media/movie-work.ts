/**
 * Work of the kind `movie`: every frame as a 16-bit DPX of the code values that the movie shows, so that any frame can be
 * read alone and exactly. Debian's ffmpeg decodes.
 */

import { spawn } from 'node:child_process'
import { mkdir, rm } from 'node:fs/promises'
import { basename, join } from 'node:path'
import type { MovieSays } from '../../core/check'
import { writeDpx } from '../../formats/dpx'
import { writeWhole } from '../delivery/write-whole'
import { heldUpByDisk } from '../work/disk'
import type { ItemContext, WorkKind } from '../work/kind'
import type { MediaRoots } from './media-roots'
import { noteDecodedMovie } from './decoded-movie'
import { unevenPictures } from './movie-durations'
import { mostMovieFrames, plainFilesOnly } from './movie-header'

/** What is to be decoded; made by `Movies`. */
export interface MovieToDecode {
  /** as the browser names it */
  readonly path: string
  readonly says: MovieSays
  /** below the media store */
  readonly folder: string
  readonly pattern: string
}

export interface MovieFrames {
  readonly frames: number
}

/** Decoding that takes longer is ended. */
const longestDecodingMs = 12 * 3_600_000

export function movieWork(media: MediaRoots): WorkKind<unknown, MovieFrames> {
  return {
    kind: 'movie',
    async run(input, _item, context) {
      const movie = input as MovieToDecode
      const folder = join(media.store, movie.folder)
      // What an earlier attempt left may be of half a frame.
      await rm(folder, { recursive: true, force: true })
      await mkdir(folder, { recursive: true })
      let number = 0
      try {
        await decode(await media.pathOf(movie.path), movie, media.store, context, () => number++)
        if (number === 0) throw new Error('not one frame could be decoded')
        const uneven = await unevenPictures(await media.pathOf(movie.path), context.signal)
        await noteDecodedMovie(folder, { movie: basename(movie.path), uneven }, context.attempt)
        return { frames: number }
      } catch (error) {
        if (context.signal.aborted) throw error
        const why = error instanceof Error ? error.message : String(error)
        throw (
          heldUpByDisk(error, movie.folder) ??
          new Error(
            `${movie.path} could not be decoded beyond frame ${number} (${why}). Export it again, or as a sequence.`,
          )
        )
      }
    },
  }
}

async function decode(
  real: string,
  { says, pattern }: MovieToDecode,
  store: string,
  { signal, attempt, progress }: ItemContext,
  count: () => number,
): Promise<void> {
  const { width, height, rate, pixelAspect } = says
  const write = async (raw: Buffer) => {
    const number = count() + 1
    if (number > mostMovieFrames) throw new Error(`it has more than ${mostMovieFrames} frames`)
    const name = pattern.replace(/#+/, (run) => String(number).padStart(run.length, '0'))
    const perSecond = rate.numerator / rate.denominator
    const planes = planesOfGbr(raw, width * height)
    await writeWhole(
      join(store, name),
      writeDpx({ width, height }, planes, { bits: 16, packing: 'packed', rate: perSecond, pixelAspect }),
      attempt,
    )
    if (says.frames) progress(Math.min(1, number / says.frames))
  }
  await decodeRaw(real, says, new FrameSplitter(width * height * 6), write, signal)
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
