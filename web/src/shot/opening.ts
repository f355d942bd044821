/**
 * Opening a shot: its document, an engine, and the frames of its first picture are brought at the same time, and are asked for
 * before the page is made, which takes as long as reading the files.
 */

import type { Engine } from '../../../core/engine/engine'
import { fingerprintFrom, firstFrameThere } from '../../../core/plan/catalog'
import { planFrame } from '../../../core/plan/plan'
import { fetchFrame, loadShot, type LoadedShot } from '../api/client'
import { browserEngine } from '../engine/browser-engine'

export interface Opening {
  readonly name: string
  readonly loaded: Promise<LoadedShot>
  /** to be closed by whoever took the opening */
  readonly engine: Promise<Engine>
  /** comes true when the first frames were asked for, or something went wrong */
  readonly asked: Promise<void>
}

function open(name: string): Opening {
  const loaded = loadShot(name)
  const engine = browserEngine(async (request) => fetchFrame(name, (await loaded).shot.frames.first, request))
  const ask = async () => {
    const [{ shot, catalog }, started] = await Promise.all([loaded, engine])
    const plan = planFrame(shot, firstFrameThere(shot, catalog), 1, fingerprintFrom(catalog))
    // Of a frame that cannot be read the picture tells.
    started.prefetch(plan.composite).catch(() => undefined)
    await new Promise((turn) => setTimeout(turn))
  }
  // Whoever takes the opening hears what went wrong.
  return { name, loaded, engine, asked: ask().catch(() => undefined) }
}

let begun: Opening | null = null

/** Begins to open what the address names. */
export async function beginOpening(path: string): Promise<void> {
  const name = /^\/shots\/([^/]+)\/?$/.exec(path)?.[1]
  if (name === undefined) return
  begun = open(decodeURIComponent(name))
  await begun.asked
}

/** The opening that was begun for that shot, or a new one; each is taken once. */
export function takeOpening(name: string): Opening {
  const taken = begun?.name === name ? begun : open(name)
  begun = null
  return taken
}
