/** Points of a shape taken away, on every keyframe. */

import type { Change, ShapeNow } from '../../../../core/shot'

export const removedPoints = ({ matte, shape }: ShapeNow, points: readonly string[]): Change => ({
  ...{ kind: 'remove-shape-points', matte: matte.id, shape: shape.id },
  points,
})
