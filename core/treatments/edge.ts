/** Edge: coverage grown, shrunk, softened or shifted by fractions of a pixel, and colour at the edge taken from further inside. */

import { alphaOf } from '../graph/alpha-of'
import { blur, constant, grow, identity, mix, point, resample, type Matrix3 } from '../graph/steps'
import { oneNumber } from './description'
import type { PictureTreatment } from './treatment'

const shift = (name: string, label: string, to: string) =>
  oneNumber(name, label, `How far the coverage is moved ${to}; the light stays.`, 'px', [-64, 64, 0.05, 0])

export const edge: PictureTreatment<'edge'> = {
  kind: 'edge',
  label: 'Edge',
  help: 'Grows, shrinks, softens or shifts the coverage by fractions of a pixel, and lets colour from inside go on to the edge.',
  does: ['edge', 'erode', 'dilate', 'grow', 'shrink', 'choke', 'fringe', 'edge colour', 'extend', 'soften', 'alpha'],
  stations: ['set'],
  side: 'frame',
  parameters: [
    oneNumber('grow', 'Grow', 'How far the edge moves outwards; below 0 inwards.', 'px', [-64, 64, 0.05, 0]),
    oneNumber('soften', 'Soften', 'Sigma by which the coverage is softened.', 'px', [0, 64, 0.05, 0]),
    shift('across', 'Across', 'to the right'),
    shift('down', 'Down', 'downwards'),
    oneNumber('inside', 'Colour from', 'Colour nearer to the edge is replaced by colour from so far inside.', 'px', [
      ...([0, 64, 0.1, 0] as const),
    ]),
  ],
  build(input, { grow: by, soften, across, down, inside }, { scale, beyond, draw, frame }) {
    const own = alphaOf(input)
    const place: Matrix3 = [1, 0, -across[0] / scale, 0, 1, -down[0] / scale, 0, 0, 1]
    const shifted = across[0] === 0 && down[0] === 0 ? identity : place
    // No lobes: an edge moves by just this.
    const moved = resample(own, { field: null, matrix: shifted }, 'bilinear')
    const sized = grow(moved, by[0] / scale, beyond)
    const covered = blur(sized, soften[0] / scale, soften[0] / scale, beyond)
    const inner = grow(own, -inside[0] / scale, beyond)
    if (covered === own && inner === own) return input
    // Far enough for all that is uncovered, and no wider than it must be.
    const reach = Math.max(0, by[0]) + 2 * soften[0] + Math.hypot(across[0], down[0]) + inside[0]
    const sigma = Math.max(0.7, reach / 2 / scale)
    const fill = blur(mix(constant([0, 0, 0, 0], frame), input, inner, 1), sigma, sigma, beyond)
    return point(input, 'edge', 1, {}, { ...draw, frame: 0 }, [covered, inner, fill])
  },
  run: (kernels, strip, count, _values, _draw, _x, _y, _work, [covered, inner, fill]) =>
    kernels.edgeRow(strip, count, covered, inner, fill),
}
