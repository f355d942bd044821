/** Sources that are made here: from what, and how. What comes out are files like any others. */

import type { Pin } from './basic-types'

/** A plate without what passed in front of it: a still, joined from many frames. */
export interface CleanPlateRecipe {
  readonly kind: 'clean-plate'
  readonly source: string
  readonly part: string | null
  /** shot frames, both included */
  readonly from: number
  readonly to: number
  /** every frame, every second, ... */
  readonly step: number
  /** a matte of what is not the plate; absent: what most frames agree on is taken */
  readonly without?: string
  /** the frames are laid over each other as these tracks move, on the pin's frame; absent: they lie still */
  readonly pin?: Pin
  /** light of each frame is left as it is; absent: gain and veil are made those of the first */
  readonly uneven?: true
}

/** A filmed figure with soft edges out of its picture, frame by frame, with light of its own: premultiplied. */
export interface SoftMatteRecipe {
  readonly kind: 'soft-matte'
  /** whose picture, as it came */
  readonly element: string
  /** an outline of it, drawn roughly */
  readonly matte: string
  /** pixels inwards and outwards of the outline that are not sure */
  readonly inside: number
  readonly outside: number
  /** a matte of more that is not sure */
  readonly band?: string
}

/** A render that came without motion blur, blurred by its own motion from frame to frame. */
export interface MotionBlurRecipe {
  readonly kind: 'motion-blur'
  readonly source: string
  readonly part: string | null
  /** degrees that the shutter stands open around each frame */
  readonly angle: number
}

export type Recipe = CleanPlateRecipe | SoftMatteRecipe | MotionBlurRecipe
