/** Starts the stand-in camera as a program of its own, and hears how far it is. */

import { fork } from 'node:child_process'
import { fileURLToPath } from 'node:url'
import type { DemoShot } from '../../core/work'

export interface StandInRun {
  readonly shot: DemoShot
  /** plate, passes and shot file go into a folder of the shot's name below it */
  readonly media: string
  /** what only `score` reads, likewise */
  readonly truth: string
  readonly threads: number
  /** folder of the built programs */
  readonly built: URL
  readonly signal?: AbortSignal
  /** its own lines on the terminal, or nothing of them */
  readonly output: 'shown' | 'hidden'
  progress?(share: number): void
}

/** Frames that are there already are kept. @throws Error when it fails, and when it is called off */
export function runStandInCamera(run: StandInRun): Promise<void> {
  const { shot, media, truth, threads, built, signal, output, progress } = run
  const { width, height } = shot.size
  const args = ['--shot', shot.name, '--media', media, '--truth', truth, '--size', `${width}x${height}`]
  const numbers = ['--frames', String(shot.frames), '--seed', String(shot.seed), '--threads', String(threads)]
  return new Promise((resolve, reject) => {
    const child = fork(fileURLToPath(new URL('standin.mjs', built)), [...args, ...numbers], {
      stdio: ['ignore', output === 'shown' ? 'inherit' : 'ignore', 'pipe', 'ipc'],
      signal,
    })
    let complaints = ''
    child.stderr?.on('data', (text: Buffer) => (complaints = (complaints + text.toString()).slice(-2000)))
    child.on('message', (message: { readonly share?: number }) => progress?.(message.share ?? 0))
    child.once('error', reject)
    child.once('exit', (code) =>
      code === 0
        ? resolve()
        : reject(
            new Error(
              `The stand-in camera failed: ${complaints.trim().split('\n').at(-1) || `it ended with ${code}`}.`,
            ),
          ),
    )
  })
}
