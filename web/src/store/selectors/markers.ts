/** Markers in the order of their frames, and the frames that one may want to go to. */

import { createSelector } from '@reduxjs/toolkit'
import { keyframesOf } from '../../../../core/motion/curve'
import { allOf, find, usesOf, type Marker } from '../../../../core/shot'
import type { RootState } from '../state'
import { selectDocument, selectElementId } from './document'

const noMarkers: readonly Marker[] = []

export const selectMarkers = createSelector([(state: RootState) => selectDocument(state)?.markers], (markers) =>
  markers ? allOf(markers).sort((a, b) => a.frame - b.frame || (a.id < b.id ? -1 : 1)) : noMarkers,
)

/** Frames with a marker, or a keyframe of the selected element, in order. */
export const selectStops = createSelector(
  [selectDocument, selectElementId, selectMarkers],
  (shot, id, markers): readonly number[] => {
    const element = shot && id !== null ? find(shot.elements, id) : undefined
    const uses = shot && element ? usesOf(shot, { kind: 'element', id: element.id }) : []
    const parameters = element
      ? [
          element.parameters,
          element.blend.parameters,
          ...allOf(element.inputs).map((input) => input.parameters),
          ...uses.flatMap(({ treatment, limit }) => {
            const settings = shot && find(shot.treatments, treatment)
            return [...(settings ? [settings.parameters] : []), ...(limit ? [limit.parameters] : [])]
          }),
        ]
      : []
    const keyed = parameters.flatMap((one) => Object.values(one).flat()).flatMap(keyframesOf)
    return [...new Set([...markers, ...keyed].map(({ frame }) => frame))].sort((a, b) => a - b)
  },
)
