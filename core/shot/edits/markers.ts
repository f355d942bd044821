/** Edits of markers: frames that somebody wants to find again. */

import { object, string } from 'yup'
import { find } from '../find'
import { ImpossibleEditError } from '../impossible-edit'
import { mostMarkers, mostStrokes } from '../limits'
import { faultOf, id, markerSchema, strokeSchema } from '../schema'
import type { Marker, Shot, Stroke } from '../types'
import { editKind, markerIn, put, take } from './kind'

export interface AddMarker {
  readonly kind: 'add-marker'
  readonly marker: Marker
}
export interface SetMarker {
  readonly kind: 'set-marker'
  readonly marker: string
  readonly changes: Partial<Pick<Marker, 'name' | 'frame'>>
}
export interface RemoveMarker {
  readonly kind: 'remove-marker'
  readonly marker: string
}

const fields = (shape: Parameters<typeof object>[0]) => object(shape).noUnknown().strict().required()
export interface DrawStroke {
  readonly kind: 'draw-stroke'
  readonly marker: string
  readonly stroke: Stroke
}
export interface RemoveStrokes {
  readonly kind: 'remove-strokes'
  readonly marker: string
}

const markerName = ({ markers }: Shot, wanted: string) => find(markers, wanted)?.name ?? wanted

export const addMarker = editKind<AddMarker>({
  kind: 'add-marker',
  schema: fields({ kind: string().required(), marker: markerSchema }),
  apply(draft, { marker }) {
    if (Object.keys(draft.markers.byId).length >= mostMarkers)
      throw new ImpossibleEditError(`A shot has at most ${mostMarkers} markers. Remove some first.`)
    put(draft.markers, marker, 'marker')
  },
  sentence: (_shot, { marker }) => `Marker ${marker.name} on frame ${marker.frame}`,
})

export const setMarker = editKind<SetMarker>({
  kind: 'set-marker',
  schema: fields({
    kind: string().required(),
    marker: id(),
    changes: object()
      .strict()
      .required()
      .test('names', '${path} changes what it may not', (value) =>
        Object.keys(value ?? {}).every((name) => name === 'name' || name === 'frame'),
      ),
  }),
  apply(draft, { marker: named, changes }) {
    const marker = markerIn(draft, named)
    Object.assign(marker, changes)
    const fault = faultOf(markerSchema, JSON.parse(JSON.stringify(marker)))
    if (fault) throw new ImpossibleEditError(`The marker: ${fault}.`)
  },
  sentence: (shot, { marker, changes }) =>
    changes.name !== undefined
      ? `Rename marker ${markerName(shot, marker)} to ${changes.name}`
      : `Move marker ${markerName(shot, marker)} to frame ${changes.frame ?? ''}`,
})

export const removeMarker = editKind<RemoveMarker>({
  kind: 'remove-marker',
  schema: fields({ kind: string().required(), marker: id() }),
  apply(draft, { marker }) {
    markerIn(draft, marker)
    take(draft.markers, marker)
  },
  sentence: (shot, { marker }) => `Remove marker ${markerName(shot, marker)}`,
})

export const drawStroke = editKind<DrawStroke>({
  kind: 'draw-stroke',
  schema: fields({ kind: string().required(), marker: id(), stroke: strokeSchema }),
  apply(draft, { marker: named, stroke }) {
    const marker = markerIn(draft, named)
    marker.strokes ??= { byId: {} }
    if (Object.keys(marker.strokes.byId).length >= mostStrokes)
      throw new ImpossibleEditError(`A marker has at most ${mostStrokes} drawn lines. Take some away first.`)
    put(marker.strokes, stroke, 'drawn line')
  },
  sentence: (shot, { marker }) => `Draw on marker ${markerName(shot, marker)}`,
})

export const removeStrokes = editKind<RemoveStrokes>({
  kind: 'remove-strokes',
  schema: fields({ kind: string().required(), marker: id() }),
  apply(draft, { marker: named }) {
    const marker = markerIn(draft, named)
    delete marker.strokes
  },
  sentence: (shot, { marker }) => `Take the drawing of marker ${markerName(shot, marker)} away`,
})
