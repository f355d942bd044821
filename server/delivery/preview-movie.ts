/** The preview movie of a delivery: its frames are kept apart until all are there, then Debian's ffmpeg makes them one file. */

import { spawn } from 'node:child_process'
import { createReadStream, existsSync } from 'node:fs'
import { mkdir, rename, rm } from 'node:fs/promises'
import { createRequire } from 'node:module'
import { dirname, join } from 'node:path'
import { Readable } from 'node:stream'
import { pipeline } from 'node:stream/promises'
import { unfinishedMark } from './write-whole'

/** ffmpeg is missing, or could not make the movie. */
export class MovieFailedError extends Error {
  override readonly name = 'MovieFailedError'
}

/** Beside the movie, out of sight of who lists the folder. */
export const movieFramesFolder = (movie: string) => `.${movie}.frames`
export const movieFrameName = (frame: number) => `${frame}.rgb`

export interface MovieToMake {
  readonly folder: string
  /** its file name */
  readonly name: string
  readonly first: number
  readonly last: number
  readonly width: number
  readonly height: number
  readonly rate: { readonly numerator: number; readonly denominator: number }
  /** burnt in below, with the frame number after it; null for none */
  readonly line: string | null
  /** folder of the built programs, from which the font is found */
  readonly built: URL
  readonly attempt: string
  readonly signal?: AbortSignal
}

/** Rounded to nearest, which ffmpeg's usual conversion is not. */
const toRec709 = 'format=gbrp,zscale=matrixin=gbr:rangein=full:matrix=709:range=limited:filter=bicubic'

/** As good as nobody sees a difference at normal size. */
const quality = ['-preset', 'veryfast', '-crf', '16']

/**
 * H.264 of Rec.709 matrix and limited range; the values are the screen's own, and tagged so.
 *
 * @throws MovieFailedError
 */
export async function makeMovie(movie: MovieToMake): Promise<void> {
  const { folder, name, first, last, width, height, rate, attempt, signal } = movie
  const frames = join(folder, movieFramesFolder(name))
  const unfinished = join(folder, `.${name}${unfinishedMark}${attempt}.mp4`)
  await mkdir(folder, { recursive: true })
  const args = [
    ...['-v', 'error', '-f', 'rawvideo', '-pixel_format', 'rgb24', '-video_size', `${width}x${height}`],
    ...['-framerate', `${rate.numerator}/${rate.denominator}`, '-i', '-'],
    ...['-vf', [...lineFilter(movie), toRec709, 'format=yuv420p'].join(',')],
    ...['-c:v', 'libx264', ...quality, '-movflags', '+faststart'],
    ...['-color_range', 'tv', '-colorspace', 'bt709', '-color_primaries', 'bt709', '-color_trc', 'iec61966-2-1'],
    ...['-y', unfinished],
  ]
  try {
    await feed(args, framesOf(frames, first, last), signal)
    await rename(unfinished, join(folder, name))
  } catch (error) {
    await rm(unfinished, { force: true })
    if (signal?.aborted) throw error
    throw new MovieFailedError(
      (error as NodeJS.ErrnoException).code === 'ENOENT'
        ? `The movie ${name} was not made: the Debian package ffmpeg is missing. Install it with "apt-get install ffmpeg" and retry.`
        : `The movie ${name} was not made (${error instanceof Error ? error.message : String(error)}). Its frames are kept; retry.`,
    )
  }
  await rm(frames, { recursive: true, force: true, maxRetries: 10 })
}

async function* framesOf(folder: string, first: number, last: number): AsyncGenerator<Buffer> {
  for (let frame = first; frame <= last; frame++)
    for await (const bytes of createReadStream(join(folder, movieFrameName(frame)))) yield bytes as Buffer
}

async function feed(args: readonly string[], frames: AsyncGenerator<Buffer>, signal?: AbortSignal): Promise<void> {
  const child = spawn('ffmpeg', args, { stdio: ['pipe', 'ignore', 'pipe'], signal })
  let complaints = ''
  child.stderr.on('data', (text: Buffer) => (complaints = (complaints + text.toString()).slice(-2000)))
  const ended = new Promise<number | null>((resolve, reject) => {
    child.on('error', reject)
    child.on('close', resolve)
  })
  // An encoder that ends early says why; that its input is closed then says nothing more.
  const fed = pipeline(Readable.from(frames), child.stdin).catch((error: NodeJS.ErrnoException) => {
    if (error.code !== 'EPIPE' && error.code !== 'ERR_STREAM_PREMATURE_CLOSE') throw error
  })
  const [code] = await Promise.all([ended, fed])
  if (code !== 0) throw new Error(complaints.trim().split('\n').at(-1) || `ffmpeg ended with ${code}`)
}

function lineFilter({ line, first, built }: MovieToMake): string[] {
  if (line === null) return []
  // Quotes, colons and backslashes mean something to the filter, so they are left out of names.
  const plain = line.replace(/['\\:%,;[\]]/g, ' ')
  const frame = `%{eif\\:n+${first}\\:d\\:4}`
  return [
    `drawtext=fontfile=${fontFile(built)}:text='${plain}  ${frame}':fontsize=h/32:fontcolor=white:borderw=2:bordercolor=black@0.6:x=h/40:y=h-h/16`,
  ]
}

/** The screen's own font; it ships with the program. */
function fontFile(built: URL): string {
  const file = join(
    dirname(createRequire(built).resolve('@fontsource-variable/inter/package.json')),
    'files/inter-latin-wght-normal.woff2',
  )
  if (!existsSync(file)) throw new Error(`the font ${file} is missing; run "npm ci"`)
  return file
}
