/** What glass, sensor and finish are called, and what they act on. */

import type { ShotWide } from '../../../core/shot'

export const shotWideWords: Readonly<Record<ShotWide, { readonly name: string; readonly help: string }>> = {
  glass: {
    name: 'Glass',
    help: 'What the lens did. Acts on every element alike, never on the plate, and not on an element that has a treatment of the same kind itself.',
  },
  sensor: {
    name: 'Sensor',
    help: 'What the recording did. Acts on the picture where it is not the plate; grain adds only what is missing beside the grain that the plate has kept.',
  },
  finish: {
    name: 'Finish',
    help: 'Acts on the whole picture, also on the plate, and is in what is delivered. The view sentence below the picture changes only what you see.',
  },
}
