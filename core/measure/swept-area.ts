/** Where in the frame things change the plate over a range of frames, from pictures of them one after the other. */

import type { Window } from '../image/window'

/** A change of light that needs no matte: this much, and this share of the plate's. */
const least = 0.001
const leastShare = 0.03

export interface Passing {
  readonly frame: number
  /** where the plate is changed on that frame; null: nowhere */
  readonly box: Window | null
}

export class SweptArea {
  /** 1 where the plate is changed on any of the frames */
  readonly swept: Uint8Array
  readonly passings: Passing[] = []

  /** @param window that all pictures are of */
  constructor(readonly window: Window) {
    this.swept = new Uint8Array(window.width * window.height)
  }

  /** @param picture premultiplied RGBA of the window: the plate with what passes over it. @param plate the same without */
  add(frame: number, picture: Float32Array, plate: Float32Array): void {
    const { swept, window } = this
    let [left, right, top, bottom] = [window.width, -1, window.height, -1]
    for (let i = 0; i < swept.length; i++) {
      if (!isChanged(picture, plate, i * 4)) continue
      swept[i] = 1
      const [column, row] = [i % window.width, Math.floor(i / window.width)]
      left = Math.min(left, column)
      right = Math.max(right, column)
      top = Math.min(top, row)
      bottom = row
    }
    const box = { x: window.x + left, y: window.y + top, width: right - left + 1, height: bottom - top + 1 }
    this.passings.push({ frame, box: right < 0 ? null : box })
  }
}

function isChanged(picture: Float32Array, plate: Float32Array, at: number): boolean {
  for (let c = at; c < at + 4; c++)
    if (Math.abs(picture[c] - plate[c]) > least + leastShare * Math.abs(plate[c])) return true
  return false
}

/** Frames on which what passes comes into a box. */
export function framesThrough(passings: readonly Passing[], { x, y, width, height }: Window): Passing[] {
  return passings.filter(
    ({ box }) => box && box.x < x + width && x < box.x + box.width && box.y < y + height && y < box.y + box.height,
  )
}
