/** Sets points to be tracked: each press is a new track, on the frame that is looked at. */

import { newTrack } from '../../../../core/shot'
import { shotActions } from '../../store/shot-slice'
import type { Tool } from './tool'

const fine = (value: number) => Math.round(value * 100) / 100

export const trackTool: Tool = {
  words: 'Set a point to track',
  cursor: 'crosshair',
  down(_at, { shot, view, frame }) {
    return {
      move: () => null,
      up({ point: { x, y } }) {
        if (x < 0 || y < 0 || x > frame.width || y > frame.height) return null
        const track = newTrack(shot, view.playing.frame, [fine(x), fine(y)])
        return [
          shotActions.edited({ kind: 'add-track', track }),
          shotActions.thingSelected({ kind: 'track', id: track.id }),
        ]
      },
    }
  },
}
