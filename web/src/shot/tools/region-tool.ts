/** Outlines a region to track: four corners, pulled out as a box; each corner can be moved afterwards. */

import { newRegion } from '../../../../core/shot'
import { shotActions } from '../../store/shot-slice'
import { regionBetween } from './look-tool'
import type { Tool } from './tool'

/** Smaller ones hold too little, in pixels of the frame. */
const leastSide = 12

export const regionTool: Tool = {
  words: 'Outline a region to track',
  cursor: 'crosshair',
  down({ pixel: from }, { shot, view }) {
    let corner = from
    const box = () => (from && corner ? regionBetween(from, corner) : null)
    return {
      move: ({ pixel }) => {
        corner = pixel ?? corner
        return null
      },
      region: () => box() ?? { x: 0, y: 0, width: 1, height: 1 },
      up(_at, moved) {
        const drawn = box()
        if (!moved || !drawn || drawn.width < leastSide || drawn.height < leastSide) return null
        const { x, y, width, height } = drawn
        const corners = [
          [x, y],
          [x + width, y],
          [x + width, y + height],
          [x, y + height],
        ] as const
        const edit = newRegion(shot, view.playing.frame, corners, 'homography')
        const [first] = edit.changes
        if (first.kind !== 'add-track') return null
        return [shotActions.edited(edit), shotActions.thingSelected({ kind: 'track', id: first.track.id })]
      },
    }
  },
}
