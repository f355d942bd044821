/**
 * Which frames a picture is made of, and how much of them: small windows bring only the parts that they need. Where maps lead
 * says which parts of other frames are needed, so maps come first.
 */

import { LRUCache } from 'lru-cache'
import { framesOf, type FrameStep, type Step } from '../graph/steps'
import { emptyWindow, pixelCount, union, type Window } from '../image/window'
import { boundsOf, frameDemands } from './compile'
import type { Holdings, KeptFrame } from './holdings'
import type { ResidentFrame } from './program'
import type { LoadBounds } from './source-frame'

/** Larger windows are of pictures that are looked at: all of their frames will be wanted. */
const mostPixelsOfParts = 65_536
const shareOfParts = 0.5

export class FramesWanted {
  private readonly knownBounds = new LRUCache<string, Window>({ max: 5000 })

  /** @param bounds asks headers; without it frames are brought to see where their pixels lie */
  constructor(
    private readonly holdings: Holdings,
    private readonly bounds?: LoadBounds,
  ) {}

  /**
   * Where a step's pixels lie at most.
   *
   * @throws what loading throws
   */
  async boundsOf(step: Step): Promise<Window> {
    const { held, about } = await this.knowing(framesOf([step]))
    try {
      return boundsOf(step, about)
    } finally {
      for (const kept of held.values()) this.holdings.letGo(kept)
    }
  }

  /** Where a frame's pixels lie, as far as that was ever asked for. */
  known(key: string): Window | undefined {
    return this.knownBounds.get(key)
  }

  /** The frames that windows of the steps are made of, or the parts of them, if these are small. */
  async bring(
    steps: readonly Step[],
    windows: readonly Window[],
    aborted?: () => Promise<never>,
  ): Promise<Map<string, KeptFrame>> {
    const { holdings, bounds } = this
    const frames = framesOf(steps)
    const small = windows.every((window) => pixelCount(window) <= mostPixelsOfParts)
    if (!bounds || !small || frames.every(({ key }) => holdings.inMemory(key))) return holdings.bring(frames, aborted)
    const { held, about, known } = await this.knowing(frames, aborted)
    try {
      const others = frames.filter(({ key }) => !held.has(key))
      const parts = new Map<string, Window>()
      for (const window of windows)
        for (const [key, part] of frameDemands(steps, window, about))
          parts.set(key, union(parts.get(key) ?? part, part))
      const demanded = others.filter(({ key }) => parts.has(key))
      // Reading most of a frame in parts takes longer than reading it.
      for (const [key, part] of parts)
        if (pixelCount(part) > shareOfParts * pixelCount(known.get(key) ?? emptyWindow)) parts.delete(key)
      for (const [key, kept] of await holdings.bring(demanded, aborted, parts)) held.set(key, kept)
      return held
    } catch (error) {
      for (const kept of held.values()) holdings.letGo(kept)
      throw error
    }
  }

  /** Maps in memory, since where they lead says which parts of other frames are needed; of these where their pixels lie. */
  private async knowing(frames: readonly FrameStep[], aborted?: () => Promise<never>) {
    const { holdings, bounds } = this
    const maps = frames.filter(
      ({ request: { takes, computed } }) => takes === 'vec2' || takes === 'table' || computed !== undefined,
    )
    const held = await holdings.bring(bounds ? maps : frames, aborted)
    try {
      const known = new Map([...held].map(([key, kept]) => [key, kept.frame.bounds]))
      const others = frames.filter(({ key }) => !known.has(key))
      await Promise.all(others.map(async (frame) => known.set(frame.key, await this.boundsOfFrame(frame, bounds))))
      const about = {
        frames: new Map([...held].map(([key, kept]) => [key, kept.frame])),
        frameBounds: ({ key }: FrameStep) => known.get(key) ?? emptyWindow,
        mapBlocks: (key: string, frame: ResidentFrame) => holdings.blocksOf(key, frame),
      }
      return { held, about, known }
    } catch (error) {
      for (const kept of held.values()) holdings.letGo(kept)
      throw error
    }
  }

  private async boundsOfFrame({ key, request }: FrameStep, load?: LoadBounds): Promise<Window> {
    const found = this.holdings.inMemory(key)?.frame.bounds ?? this.knownBounds.get(key)
    if (found || !load) return found ?? emptyWindow
    const bounds = await load(request)
    this.knownBounds.set(key, bounds)
    return bounds
  }
}
