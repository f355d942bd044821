/** What a movie says of itself, asked of Debian's ffprobe. */

import { spawn } from 'node:child_process'
import { basename } from 'node:path'
import type { MovieSays } from '../../core/check'
import type { EncodingName, PrimariesName } from '../../core/colour'

/** The movie cannot be read, or decoding it failed. */
export class UnreadableMovieError extends Error {
  override readonly name = 'UnreadableMovieError'
}

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
export const plainFilesOnly = [
  '-protocol_whitelist',
  'file',
  '-format_whitelist',
  'mov,mp4,m4a,3gp,3g2,mj2,matroska,webm,mxf,avi',
]

/** Longer movies are refused. */
export const mostMovieFrames = 100_000
const mostPixels = 16_384 * 16_384
const longestProbeMs = 60_000

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
  if (Math.max(counted || 0, estimated ?? 0) > mostMovieFrames)
    throw new UnreadableMovieError(`${name} has more than ${mostMovieFrames} frames. Cut out what the shot needs.`)
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
