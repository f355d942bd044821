/** Entry of a thread that does the heavy part of making sources. */

import { inPlace } from '../core/making'
import { NothingToGoByError } from '../core/soft-matte/soft-matte'
import type { MakerTask, MakerResult } from './making/makers'

export default async function make(task: MakerTask): Promise<MakerResult> {
  if (task.do === 'joined') return { joined: await inPlace.joined(task.samples, task.noise) }
  if (task.do === 'motionBlurred') return { motionBlurred: await inPlace.motionBlurred(task.frames, task.open) }
  try {
    return { softMatte: await inPlace.softMatte(task.filmed) }
  } catch (error) {
    // Its class does not come through to the other thread.
    if (error instanceof NothingToGoByError) return { nothing: error.message }
    throw error
  }
}
