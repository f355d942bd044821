/** For the tests: one edit of every kind on the small shot, with what must be there before it. */

import {
  groupInputs,
  matteBase,
  newBlend,
  newElement,
  newLimit,
  newPlacing,
  newPoint,
  newShape,
  newTreatment,
  passInputs,
  type Change,
  type Sample,
  type Witness,
  type Use,
} from '../shot'
import { treatments } from '../treatments'
import { smallShot } from './small-shot'

interface Example<K extends Change['kind']> {
  readonly before?: readonly Change[]
  readonly edit: Extract<Change, { readonly kind: K }>
}

const match = { kind: 'treatment', id: 'match' } as const
const veil = { owner: match, parameter: 'veil', channel: 0 } as const
const use = (id: string, treatment = id, owner: Use['owner'] = { kind: 'element', id: 'cg' }): Use => ({
  ...{ id, treatment, owner },
  rank: 'a5',
  on: true,
  limit: null,
})
const added = (id: string): Change => ({
  kind: 'add-element',
  element: newElement(id, id, 'a9', newBlend('over'), passInputs('cg', 'beauty')),
  treatments: [],
  uses: [],
})
const lens: Change = {
  kind: 'add-treatment',
  settings: { ...newTreatment('look-table', 'look'), sources: { table: 'matte' } },
  use: use('look'),
}
const placed = {
  kind: 'place-element',
  element: 'cg',
  placing: newPlacing({ x: 10, y: 10, width: 60, height: 40 }),
} as const
const drawn: Change = { kind: 'add-treatment', settings: newTreatment('curves', 'drawn'), use: use('drawn') }
const curvePoint = {
  kind: 'add-point',
  of: { kind: 'treatment', id: 'drawn' },
  point: newPoint(treatments.curves, 'dark', { in: [0.2], out: [0.3] }, 'luma'),
} as const
const sample: Sample = { id: 'foot', name: 'Foot', rank: 'a0', x: 40, y: 60, width: 8, height: 8 }
const marker = { id: 'lands', name: 'Lands', frame: 1004 }
const witness: Witness = {
  ...{ id: 'rim', name: 'Rim', rank: 'a0', purpose: 'black', element: 'cg' },
  reference: { x: 4, y: 8, width: 12, height: 10 },
  adjusted: { x: 40, y: 20, width: 12, height: 10 },
}
const ballSources = ['ball-plate', 'ball-cg'].map((id): Change => ({
  kind: 'add-source',
  source: { ...smallShot.sources.byId.matte, id, name: id, path: `${id}.exr`, forComparing: true },
}))
const addBall: Change = {
  kind: 'add-reference-object',
  referenceObject: {
    ...{ id: 'ball', name: 'Grey ball', rank: 'a0' },
    ...{ photographed: 'ball-plate', rendered: 'ball-cg', insteadOf: 'cg' },
  },
}
const addWitness: Change = { kind: 'add-witness', witness }
const keptTry: Change = { kind: 'keep-try', id: 'try-1', name: 'try 1' }
const keptSettings: Change = { kind: 'keep-treatment-try', treatment: 'match', id: 'first', name: '1' }
const setVeil: Change = { kind: 'set-parameter', at: veil, frame: 1001, value: 0.031 }
const keepSample: Change = { kind: 'keep-sample', sample }
const addMarker: Change = { kind: 'add-marker', marker }
const drawStroke: Change = {
  kind: 'draw-stroke',
  marker: 'lands',
  stroke: { id: 'line', points: [10, 20, 30.5, 40, 50, 12.25] },
}
const source = { ...smallShot.sources.byId.matte, id: 'new-source', name: 'New', path: 'new.exr' }

const addLens: Change = {
  kind: 'add-treatment',
  settings: {
    ...newTreatment('lens', 'lens'),
    lines: { byId: { rail: { id: 'rail', frame: 1001, points: [0, 1, 50, 2, 100, 1], source: 'matte' } } },
  },
  use: { id: 'lens-use', owner: { kind: 'glass' }, treatment: 'lens', rank: 'a5', on: true, limit: null },
}

const addSteady: Change = {
  kind: 'add-treatment',
  settings: newTreatment('steady', 'steady'),
  use: { id: 'steady-use', owner: { kind: 'finish' }, treatment: 'steady', rank: 'a5', on: true, limit: null },
}

const addTrack: Change = {
  kind: 'add-track',
  track: {
    ...{ id: 'rivet', name: 'Rivet', rank: 'a5', model: 'similarity', radius: 8, search: 10 },
    points: { 1004: { x: 12.5, y: 30.25, byHand: true } },
  },
}

const addPainted: Change = {
  kind: 'add-matte',
  matte: {
    ...matteBase(smallShot, 'painted'),
    id: 'painted',
    strokes: {
      byId: { first: { id: 'first', rank: 'a0', points: [40, 40, 80, 60], radius: 9, hardness: 1, how: 'add' } },
    },
  },
}
const shapeEdit = { matte: 'post', shape: 'outline' } as const
const corner = (x: number, y: number) => ({ x, y, before: [0, 0], after: [0, 0] }) as const
const addMatte: Change = {
  kind: 'add-matte',
  matte: {
    ...matteBase(smallShot, 'combined'),
    ...{ id: 'both', parts: { byId: { first: { id: 'first', rank: 'a0', matte: 'post', how: 'add' } } } },
  },
}
const triangle = newShape(
  { ...matteBase(smallShot, 'drawn'), kind: 'drawn', shapes: { byId: {} } },
  1001,
  [corner(50, 50), corner(80, 60), corner(60, 90)],
  [true],
)
const morePoint = { kind: 'add-shape-point', ...shapeEdit, point: 'more', after: 'p1', share: 0.25 } as const

export const eachEdit: { readonly [K in Change['kind']]: Example<K> } = {
  'set-parameter': { edit: setVeil },
  'set-channels': {
    edit: { kind: 'set-channels', at: { owner: match, parameter: 'gain' }, frame: 1001, values: [0.9, 1, 1.1] },
  },
  'reset-parameter': { before: [setVeil], edit: { kind: 'reset-parameter', at: veil } },
  'set-lines': {
    before: [addLens],
    edit: {
      kind: 'set-lines',
      treatment: 'lens',
      lines: { kerb: { id: 'kerb', frame: 1002, points: [10, 20, 40, 21.5, 90, 20.25] }, rail: null },
    },
  },
  'pin-treatment': {
    before: [addTrack, addSteady],
    edit: {
      kind: 'pin-treatment',
      treatment: 'steady',
      pin: { tracks: ['rivet'], frame: 1004, by: 'position' },
    },
  },
  'add-keyframe': { edit: { kind: 'add-keyframe', at: veil, frame: 1003 } },
  'remove-keyframe': {
    before: [{ kind: 'add-keyframe', at: veil, frame: 1003 }],
    edit: { kind: 'remove-keyframe', at: veil, frame: 1003 },
  },
  'set-keyframes': {
    before: [{ kind: 'add-keyframe', at: veil, frame: 1003 }],
    edit: {
      kind: 'set-keyframes',
      curves: [
        {
          at: veil,
          keyframes: {
            1003: null,
            1005: { value: 0.04, to: 'gentle' },
            1008: { value: 0.02, to: 'smooth', after: 0.001 },
          },
          beyond: 'repeat',
        },
        { at: { ...veil, channel: 1 }, keyframes: { 1002: 0.03 } },
      ],
    },
  },
  'add-treatment': {
    edit: {
      kind: 'add-treatment',
      settings: newTreatment('soften', 'soft'),
      use: use('soft', 'soft', { kind: 'glass' }),
    },
  },
  'share-treatment': {
    edit: { kind: 'share-treatment', use: use('also', 'match', { kind: 'element', id: 'front' }) },
  },
  'remove-treatment': { edit: { kind: 'remove-treatment', use: 'match' } },
  'turn-treatment': { edit: { kind: 'turn-treatment', use: 'match', on: false } },
  'set-treatment-source': {
    before: [lens],
    edit: { kind: 'set-treatment-source', treatment: 'look', name: 'table', source: 'cg' },
  },
  'set-limit': {
    edit: { kind: 'set-limit', use: 'match', limit: newLimit({ kind: 'element', element: 'front' }) },
  },
  'add-element': { edit: added('added') as Extract<Change, { kind: 'add-element' }> },
  'remove-element': { edit: { kind: 'remove-element', element: 'cg' } },
  'show-element': { edit: { kind: 'show-element', element: 'cg', visible: false } },
  'describe-element': {
    edit: { kind: 'describe-element', element: 'cg', changes: { note: 'Too sharp.', tags: ['metal'], label: 'moss' } },
  },
  'set-blend': { edit: { kind: 'set-blend', element: 'cg', blend: 'screen' } },
  'set-inputs': { edit: { kind: 'set-inputs', element: 'cg', inputs: passInputs('cg', 'diffuse') } },
  'set-reveal': { edit: { kind: 'set-reveal', element: 'front', shows: { source: 'cg', part: 'clean' } } },
  'set-own-glass': { edit: { kind: 'set-own-glass', element: 'cg', own: true } },
  'move-element': {
    before: [
      {
        kind: 'add-element',
        element: newElement('set', 'Set', 'a8', newBlend('over'), groupInputs()),
        treatments: [],
        uses: [],
      },
    ],
    edit: { kind: 'move-element', element: 'cg', parent: 'set', rank: 'a0' },
  },
  'place-element': { edit: placed },
  'remove-placing': { before: [placed], edit: { kind: 'remove-placing', element: 'cg' } },
  'set-placing': {
    before: [placed],
    edit: {
      ...{ kind: 'set-placing', element: 'cg' },
      changes: {
        ...{ with: 'front', filter: 'area', shutter: 'closed' },
        pin: { tracks: ['corner'], frame: 1001, by: 'position' },
      },
    },
  },
  'set-timing': {
    edit: { kind: 'set-timing', element: 'cg', input: 'pass', changes: { offset: 2, from: 1003, beyond: 'hold' } },
  },
  'add-point': { before: [drawn], edit: curvePoint },
  'remove-point': {
    before: [drawn, curvePoint],
    edit: { kind: 'remove-point', of: { kind: 'treatment', id: 'drawn' }, point: 'dark' },
  },
  'set-choice': {
    before: [drawn],
    edit: { kind: 'set-choice', of: { kind: 'treatment', id: 'drawn' }, name: 'encoding', value: 'logc3' },
  },
  'add-source': { edit: { kind: 'add-source', source } },
  'remove-source': { edit: { kind: 'remove-source', source: 'matte' } },
  'set-claims': { edit: { kind: 'set-claims', source: 'cg', claims: { encoding: 'srgb' } } },
  'set-source': { edit: { kind: 'set-source', source: 'matte', changes: { forComparing: true } } },
  'keep-try': { edit: keptTry as Extract<Change, { kind: 'keep-try' }> },
  'use-try': {
    before: [keptTry, setVeil],
    edit: { kind: 'use-try', id: 'try-1', keepAs: { id: 'try-2', name: 'try 2' } },
  },
  'remove-try': { before: [keptTry], edit: { kind: 'remove-try', id: 'try-1' } },
  'keep-treatment-try': { edit: keptSettings as Extract<Change, { kind: 'keep-treatment-try' }> },
  'use-treatment-try': {
    before: [keptSettings, setVeil],
    edit: { kind: 'use-treatment-try', treatment: 'match', id: 'first', keepAs: { id: 'second', name: '2' } },
  },
  'remove-treatment-try': {
    before: [keptSettings],
    edit: { kind: 'remove-treatment-try', treatment: 'match', id: 'first' },
  },
  'keep-sample': { edit: keepSample as Extract<Change, { kind: 'keep-sample' }> },
  'set-sample': {
    before: [keepSample],
    edit: { kind: 'set-sample', sample: 'foot', changes: { x: 50, follows: { element: 'cg', frame: 1002 } } },
  },
  'remove-sample': { before: [keepSample], edit: { kind: 'remove-sample', sample: 'foot' } },
  'add-marker': { edit: addMarker as Extract<Change, { kind: 'add-marker' }> },
  'set-marker': { before: [addMarker], edit: { kind: 'set-marker', marker: 'lands', changes: { frame: 1005 } } },
  'draw-stroke': { before: [addMarker], edit: drawStroke as Extract<Change, { kind: 'draw-stroke' }> },
  'remove-strokes': { before: [addMarker, drawStroke], edit: { kind: 'remove-strokes', marker: 'lands' } },
  'remove-marker': { before: [addMarker], edit: { kind: 'remove-marker', marker: 'lands' } },
  'add-witness': { edit: addWitness as Extract<Change, { kind: 'add-witness' }> },
  'set-witness': {
    before: [addWitness],
    edit: { kind: 'set-witness', witness: 'rim', changes: { purpose: 'colour', tolerance: 0.03 } },
  },
  'remove-witness': { before: [addWitness], edit: { kind: 'remove-witness', witness: 'rim' } },
  'add-reference-object': {
    before: ballSources,
    edit: addBall as Extract<Change, { kind: 'add-reference-object' }>,
  },
  'remove-reference-object': {
    before: [...ballSources, addBall],
    edit: { kind: 'remove-reference-object', referenceObject: 'ball' },
  },
  'add-track': { edit: addTrack as Extract<Change, { kind: 'add-track' }> },
  'set-track': { edit: { kind: 'set-track', track: 'corner', changes: { model: 'affine', radius: 12 } } },
  'set-track-points': {
    edit: {
      kind: 'set-track-points',
      track: 'corner',
      points: { 1003: null, 1004: { x: 70.25, y: 72, across: 0.02, down: 0.05, likeness: 0.9 } },
      lost: { 1005: 'it left the frame' },
    },
  },
  'remove-track': { before: [addTrack], edit: { kind: 'remove-track', track: 'rivet' } },
  'add-matte': { edit: addMatte as Extract<Change, { kind: 'add-matte' }> },
  'set-matte': {
    before: [addMatte],
    edit: {
      kind: 'set-matte',
      matte: 'both',
      changes: {
        ...{ name: 'All', inverted: true },
        parts: { first: null, second: { id: 'second', rank: 'a1', matte: 'bright', how: 'intersect', inverted: true } },
      },
    },
  },
  'pin-matte': {
    edit: { kind: 'pin-matte', matte: 'post', pin: { tracks: ['corner'], frame: 1002, by: 'position' } },
  },
  'remove-matte': { edit: { kind: 'remove-matte', matte: 'post' } },
  'add-shape': { edit: { kind: 'add-shape', matte: 'post', shape: { ...triangle, id: 'triangle' } } },
  'set-shape': {
    edit: {
      kind: 'set-shape',
      ...shapeEdit,
      changes: { how: 'subtract', profile: 'linear', from: 1003, corners: { p0: true } },
    },
  },
  'set-shape-places': {
    edit: { kind: 'set-shape-places', ...shapeEdit, frames: { 1003: { p0: corner(22.5, 11) }, 1005: null } },
  },
  'add-shape-point': { edit: morePoint },
  'remove-shape-points': { before: [morePoint], edit: { kind: 'remove-shape-points', ...shapeEdit, points: ['p2'] } },
  'remove-shape': { edit: { kind: 'remove-shape', ...shapeEdit } },
  'set-strokes': {
    before: [addPainted],
    edit: {
      kind: 'set-strokes',
      matte: 'painted',
      strokes: {
        first: null,
        second: {
          id: 'second',
          rank: 'a1',
          points: [10, 20, 30.5, 22],
          radius: 6,
          hardness: 0.5,
          how: 'subtract',
          frame: 1002,
        },
      },
    },
  },
  'set-shot': { edit: { kind: 'set-shot', changes: { frames: { first: 1002, last: 1009 } } } },
  'return-to': {
    before: [setVeil],
    edit: { kind: 'return-to', document: smallShot, called: 'revision 1' },
  },
  together: {
    edit: {
      kind: 'together',
      changes: [setVeil, { kind: 'show-element', element: 'front', visible: false }] as never,
      label: 'Two at once',
    },
  },
}
