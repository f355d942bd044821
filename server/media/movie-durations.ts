/** How long each picture of a movie is shown, asked of Debian's ffprobe: a frame is only a frame if all last equally long. */

import { createInterface } from 'node:readline'
import { spawn } from 'node:child_process'
import type { UnevenPicture } from '../../core/check'
import { mostMovieFrames, plainFilesOnly } from './movie-header'

/** Containers round times: to a thousandth of a second, some of them. Less than this share of a picture is rounding. */
const tolerance = 0.3
const mostUneven = 100

/**
 * In the order of presentation, after edit lists.
 *
 * @returns those that last longer or shorter than most of them, by their numbers from 1; at most a hundred
 * @throws Error when ffprobe cannot read the movie
 */
export async function unevenPictures(path: string, signal: AbortSignal): Promise<UnevenPicture[]> {
  return unevenAmong(await timesOf(path, signal))
}

/** @param times in seconds, ascending; how long the last one is shown is not known from them */
export function unevenAmong(times: readonly number[]): UnevenPicture[] {
  const shown = times.slice(1).map((time, i) => time - times[i])
  const usual = [...shown].sort((a, b) => a - b)[shown.length >> 1]
  if (!(usual > 0)) return []
  return shown
    .map((seconds, i) => ({ picture: i + 1, frames: Number((seconds / usual).toFixed(2)) }))
    .filter(({ frames }) => Math.abs(frames - 1) > tolerance)
    .slice(0, mostUneven)
}

async function timesOf(path: string, signal: AbortSignal): Promise<number[]> {
  const asked = ['-select_streams', 'v:0', '-show_entries', 'packet=pts_time,flags', '-of', 'csv=p=0']
  const child = spawn('ffprobe', ['-v', 'error', ...plainFilesOnly, ...asked, path], {
    stdio: ['ignore', 'pipe', 'ignore'],
    signal,
  })
  const ended = new Promise<number | null>((resolve, reject) => {
    child.on('error', reject)
    child.on('close', resolve)
  })
  ended.catch(() => undefined)
  const times: number[] = []
  for await (const line of createInterface({ input: child.stdout })) {
    const [time, flags = ''] = line.split(',')
    // D: decoded for others' sake, never presented.
    if (flags.includes('D') || !Number.isFinite(Number.parseFloat(time)) || times.length > mostMovieFrames) continue
    times.push(Number(time))
  }
  const code = await ended
  if (code !== 0) throw new Error(`ffprobe ended with ${code}`)
  return times.sort((a, b) => a - b)
}
