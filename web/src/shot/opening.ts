/**
 * Opening a shot: its document, an engine, and the frames of its first picture are brought at the same time, and are asked for
 * before the page is made, which takes as long as reading the files.
 */

import type { Engine } from '../../../core/engine/engine'
import { filesIn, firstFrameThere } from '../../../core/plan/catalog'
import { planFrame } from '../../../core/plan/plan'
import { fetchFrame, openShot, type LoadedShot } from '../api/client'
import { browserEngine } from '../engine/browser-engine'

export interface Opening {
  /** of the shot */
  readonly id: string
  readonly loaded: Promise<LoadedShot>
  /** to be closed by whoever took the opening */
  readonly engine: Promise<Engine>
  /** comes true when the first frames were asked for, or something went wrong */
  readonly asked: Promise<void>
}

function open(id: string): Opening {
  const loaded = openShot(id)
  const engine = browserEngine(async (request, signal) =>
    fetchFrame(id, (await loaded).shot.frames.first, request, signal),
  )
  const ask = async () => {
    const [{ shot, catalog }, started] = await Promise.all([loaded, engine])
    const { composite } = planFrame(shot, firstFrameThere(shot, catalog), 1, filesIn(catalog))
    // Of a frame that cannot be read the picture tells.
    if (composite) started.prefetch(composite).catch(() => undefined)
    await new Promise((turn) => setTimeout(turn))
  }
  // Whoever takes the opening hears what went wrong.
  return { id, loaded, engine, asked: ask().catch(() => undefined) }
}

let begun: Opening | null = null

/** Begins to open what the address names. */
export async function beginOpening(path: string): Promise<void> {
  const id = /^\/shots\/([^/]+)\/?$/.exec(path)?.[1]
  if (id === undefined) return
  begun = open(decodeURIComponent(id))
  await begun.asked
}

/** The opening that was begun for that shot, or a new one; each is taken once. */
export function takeOpening(id: string): Opening {
  const taken = begun?.id === id ? begun : open(id)
  begun = null
  return taken
}
