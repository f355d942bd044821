/**
 * Computes one tile of a step, asking its inputs for just the window it needs.
 *
 * Point steps run over the tile where it lies, one after the other, so nothing between the source planes and the tile is
 * ever a whole frame. Tiles know nothing of each other: any layout and any order give the same bits.
 */

import { intersect, contains, isEmpty, pixelCount, type Window } from '../image/window'
import type { SampleType } from '../image/planes'
import type { Kernels } from '../kernels/kernels'
import type { Step } from '../plan/steps'
import type { Claims } from '../shot'
import { landings } from '../set/landings'
import { treatments } from '../treatments'

export interface ResidentPlane {
  readonly type: SampleType
  /** byte address of `pixelCount(dataWindow)` samples */
  readonly address: number
}

/** A source frame in the engine's memory, with the claims by which it is still to be decoded. */
export interface ResidentFrame {
  readonly dataWindow: Window
  readonly displayWindow: Window
  readonly takes: 'rgba' | 'matte'
  readonly claims: Pick<Claims, 'encoding' | 'alpha'>
  /** red, green, blue and, where there is one, alpha; or the one plane of a matte */
  readonly planes: readonly ResidentPlane[]
}

export type ResidentFrames = ReadonlyMap<string, ResidentFrame>

const bytesPerPixel = 16

/** The tile does not fit the scratch memory given; tiles are chosen too large. */
export class ScratchFullError extends Error {
  override readonly name = 'ScratchFullError'
}

export class Evaluator {
  private top: number
  private readonly end: number

  constructor(
    private readonly kernels: Kernels,
    scratchAddress: number,
    scratchBytes: number,
  ) {
    this.top = scratchAddress
    this.end = scratchAddress + scratchBytes
  }

  /** Where the step can differ from empty. */
  boundsOf(step: Step, frames: ResidentFrames): Window {
    if (step.op === 'frame') return residentFrame(step, frames).dataWindow
    return this.boundsOf(step.op === 'treat' ? step.input : step.behind, frames)
  }

  /** Writes the window's premultiplied RGBA pixels at `to`, row by row without gaps. */
  evaluate(step: Step, window: Window, frames: ResidentFrames, to: number): void {
    switch (step.op) {
      case 'frame':
        return this.decode(residentFrame(step, frames), window, to)
      case 'treat':
        this.evaluate(step.input, window, frames, to)
        return treatments[step.kind].apply(this.kernels, to, pixelCount(window), step.values)
      case 'land':
        this.evaluate(step.behind, window, frames, to)
        return this.land(step, window, frames, to)
    }
  }

  private land(step: Extract<Step, { op: 'land' }>, window: Window, frames: ResidentFrames, to: number): void {
    const touched = intersect(this.boundsOf(step.element, frames), window)
    if (isEmpty(touched)) return
    const mark = this.top
    const landing = landings[step.kind]
    const element = this.take(touched)
    this.evaluate(step.element, touched, frames, element)
    const plate = step.kind === 'reveal' ? this.take(touched) : 0
    if (plate) this.evaluate(step.plate, touched, frames, plate)
    const rowBytes = touched.width * bytesPerPixel
    for (let row = 0; row < touched.height; row++) {
      const behind = to + ((touched.y + row - window.y) * window.width + touched.x - window.x) * bytesPerPixel
      landing.land(
        this.kernels,
        behind,
        element + row * rowBytes,
        plate && plate + row * rowBytes,
        touched.width,
        step.values,
      )
    }
    this.top = mark
  }

  private take(window: Window): number {
    const address = this.top
    const bytes = pixelCount(window) * bytesPerPixel
    if (address + bytes > this.end)
      throw new ScratchFullError(`A tile of ${window.width}x${window.height} does not fit the scratch memory.`)
    this.top += bytes
    return address
  }

  /** Source samples to working light: spread to pixels, linear, premultiplied. Outside the data window all is 0. */
  private decode(frame: ResidentFrame, window: Window, to: number): void {
    const { dataWindow } = frame
    const covered = intersect(dataWindow, window)
    if (!contains(dataWindow, window)) this.kernels.clear(to, pixelCount(window))
    for (let row = 0; row < covered.height; row++) {
      const y = covered.y + row
      const pixels = to + ((y - window.y) * window.width + covered.x - window.x) * bytesPerPixel
      const first = (y - dataWindow.y) * dataWindow.width + covered.x - dataWindow.x
      this.decodeRow(frame, first, pixels, covered.width)
    }
  }

  private decodeRow(frame: ResidentFrame, first: number, pixels: number, count: number): void {
    const { kernels } = this
    frame.planes.forEach(({ type, address }, channel) => {
      const target = pixels + channel * 4
      if (type === 'half') kernels.channelFromHalf(target, address + first * 2, count)
      else if (type === 'float') kernels.channelFromFloat(target, address + first * 4, count)
      else kernels.channelFromUint(target, address + first * 4, count)
    })
    if (frame.takes === 'matte') return
    if (frame.planes.length < 4) kernels.fillChannel(pixels + 12, 1, count)
    if (frame.claims.encoding === 'srgb') kernels.linearFromSrgb(pixels, count)
    if (frame.claims.alpha === 'straight' && frame.planes.length === 4) kernels.premultiply(pixels, count)
  }
}

function residentFrame(step: Extract<Step, { op: 'frame' }>, frames: ResidentFrames): ResidentFrame {
  const frame = frames.get(step.key)
  if (!frame) throw new Error(`The frame ${step.request.path} was not brought into memory before it was needed.`)
  return frame
}
