/** How long work has taken and will take, in words. */

import { isOver, type WorkStatus } from '../../../core/work'

export function secondsText(seconds: number): string {
  const rounded = Math.max(0, Math.round(seconds))
  return rounded < 60 ? `${rounded} s` : `${Math.floor(rounded / 60)} min ${rounded % 60} s`
}

/** What nobody knows to the second. */
export function roughlyText(seconds: number): string {
  return seconds < 90 ? `${Math.ceil(seconds / 10) * 10} s` : `${Math.round(seconds / 60)} min`
}

/** @param now milliseconds since 1970, of the server's clock as far as it is known */
export function workText(work: WorkStatus, now: number): string {
  const { state, done, total, progress, failed, createdAt, startedAt, finishedAt } = work
  const end = finishedAt === null ? now : Date.parse(finishedAt)
  const elapsed = (end - Date.parse(startedAt ?? createdAt)) / 1000
  const counted = total === 1 ? `${Math.round(progress * 100)} %` : `${done} of ${total}`
  if (state === 'done') return `done in ${secondsText(elapsed)}`
  if (state === 'failed') return `${failed.length} of ${total} failed, ${done} are done`
  if (state === 'cancelled') return `called off; ${done} of ${total} are done`
  if (state === 'waiting') return 'waits for its turn'
  const left = progress > 0 ? `, about ${secondsText((elapsed / progress) * (1 - progress))} to go` : ''
  return `${counted} after ${secondsText(elapsed)}${left}`
}

export const underWay = (works: readonly WorkStatus[]): readonly WorkStatus[] => works.filter((work) => !isOver(work))
