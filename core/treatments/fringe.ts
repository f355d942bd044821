/** Colour fringe: red and blue a little larger or smaller than green, as glass that bends colours unlike makes them. */

import { about, unmoved } from '../motion/mapping'
import { oneNumber } from './description'
import type { MappingTreatment } from './treatment'

const larger = [-5, 5, 0.005, 0] as const
const centre = [-65_536, 65_536, 0.25, 0] as const

export const fringe: MappingTreatment<'fringe'> = {
  kind: 'fringe',
  label: 'Colour fringe',
  help: 'Makes red and blue larger or smaller than green about the centre of the glass, as the plate’s lens did. Coverage goes with green.',
  does: ['chromatic aberration', 'colour fringe', 'lateral colour', 'red and blue edges', 'lens'],
  stations: ['glass'],
  side: 'mapping',
  parameters: [
    oneNumber('red', 'Red', 'How much larger red is than green; below 0 smaller.', '%', larger),
    oneNumber('blue', 'Blue', 'How much larger blue is than green; below 0 smaller.', '%', larger),
    oneNumber('x', 'Centre x', 'Right of the middle of the frame.', 'px', centre),
    oneNumber('y', 'Centre y', 'Below the middle of the frame.', 'px', centre),
  ],
  mapping: () => unmoved,
  apart({ red: [red], blue: [blue], x: [right], y: [below] }, { frame: { x, y, width, height }, scale }) {
    if (red === 0 && blue === 0) return null
    const middle = [x + width / 2 + right / scale, y + height / 2 + below / scale] as const
    const smaller = (percent: number) => {
      const by = 1 / (1 + percent / 100)
      return about(middle, [by, 0, 0, by])
    }
    return { red: smaller(red), blue: smaller(blue) }
  },
}
