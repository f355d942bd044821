/** For the tests: random edits of the small shot and of whatever became of it. */

import fc from 'fast-check'
import { ways } from '../motion/curve'
import {
  newBlend,
  newElement,
  newLimit,
  newPlacing,
  newTreatment,
  passInputs,
  groupInputs,
  type Change,
  type DescribeElement,
  type Owner,
  type ShotChanges,
  type SingleChange,
  type Use,
} from '../shot'

/** Ids are few, so that edits meet each other; those of new things are given by a counter in the test. */
export function anyChange(fresh: () => string): fc.Arbitrary<Change> {
  const element = fc.constantFrom('shadow', 'cg', 'front', 'new-1', 'new-2', 'group-1')
  const witnessId = fc.constantFrom('witness-1', 'witness-2')
  const trackId = fc.constantFrom('corner', 'track-1')
  const owner: fc.Arbitrary<Owner> = fc.oneof(
    fc.constant({ kind: 'treatment', id: 'match' } as const),
    element.map((id) => ({ kind: 'element', id }) as const),
  )
  const parameter = fc.oneof(
    fc.record({
      owner: fc.constant({ kind: 'treatment', id: 'match' } as const),
      parameter: fc.constantFrom('veil', 'gain', 'gamma'),
      channel: fc.option(fc.nat(2)),
    }),
    fc.record({
      owner: element.map((id) => ({ kind: 'element', id }) as const),
      parameter: fc.constant('opacity'),
      channel: fc.constant(null),
    }),
  )
  const frame = fc.integer({ min: 1001, max: 1010 })
  const rank = fc.constantFrom('a0', 'a1', 'a2', 'a3', 'a4', 'a1V')
  const changes: fc.Arbitrary<Change>[] = [
    element.map((id): Change => ({
      kind: 'place-element',
      element: id,
      placing: newPlacing({ x: 0, y: 0, width: 50, height: 50 }),
    })),
    fc.record({
      kind: fc.constant('set-placing' as const),
      element,
      changes: fc.record({
        with: fc.option(element),
        pin: fc.option(fc.record({ tracks: fc.tuple(trackId), frame, by: fc.constant('position' as const) })),
        filter: fc.constantFrom('area' as const, null),
        shutter: fc.constantFrom('own' as const, null),
      }),
    }),
    fc.record({ kind: fc.constant('remove-placing' as const), element }),
    fc.record({
      kind: fc.constant('set-parameter' as const),
      at: fc.record({
        owner: element.map((id) => ({ kind: 'placing', element: id }) as const),
        parameter: fc.constantFrom('x', 'rotation', 'scale'),
        channel: fc.constant(0),
      }),
      frame,
      value: fc.integer({ min: -9, max: 9 }),
    }),
    fc.record({
      kind: fc.constant('set-keyframes' as const),
      curves: fc.array(
        fc.record({
          at: fc.record({
            owner: fc.constant({ kind: 'treatment', id: 'match' } as const),
            parameter: fc.constantFrom('veil', 'gain'),
            channel: fc.nat(2),
          }),
          keyframes: fc.dictionary(
            frame.map(String),
            fc.oneof(
              fc.constant(null),
              fc.double({ min: 0.2, max: 0.5, noNaN: true }),
              fc.record({ value: fc.constant(0.3), to: fc.constantFrom(...ways) }),
            ),
          ),
          beyond: fc.constantFrom('repeat' as const, null),
        }),
        { minLength: 1, maxLength: 3 },
      ),
    }),
    fc.record({
      kind: fc.constant('set-timing' as const),
      element,
      input: fc.constantFrom('pass', 'group'),
      changes: fc.record({
        offset: fc.option(fc.integer({ min: -3, max: 3 })),
        from: fc.option(fc.integer({ min: 1001, max: 1005 })),
        to: fc.option(fc.integer({ min: 1003, max: 1010 })),
      }),
    }),
    fc.record({
      kind: fc.constant('set-parameter'),
      at: parameter,
      frame,
      value: fc.double({ min: 0.2, max: 0.5, noNaN: true }),
    }),
    fc.record({ kind: fc.constantFrom('add-keyframe', 'remove-keyframe'), at: parameter, frame }),
    fc.record({ kind: fc.constant('reset-parameter'), at: parameter }),
    fc.record({ kind: fc.constant('show-element'), element, visible: fc.boolean() }),
    fc.record({ kind: fc.constant('remove-element'), element }),
    fc.record({ kind: fc.constant('move-element'), element, parent: fc.option(element), rank }),
    fc.record({
      kind: fc.constant('describe-element'),
      element,
      changes: fc.constantFrom<DescribeElement['changes']>(
        { name: 'Renamed' },
        { note: 'Too dark at the foot.' },
        { note: null },
        { tags: ['metal', 'wet'] },
        { tags: [] },
        { label: 'moss', name: 'Both' },
      ),
    }),
    fc.record({
      kind: fc.constant('set-blend'),
      element,
      blend: fc.constantFrom('over', 'plus-lighter', 'shadow', 'occlusion', 'difference'),
    }),
    fc.record({
      kind: fc.constant('set-shot'),
      changes: fc.constantFrom<ShotChanges>(
        { frames: { first: 1001, last: 1005 } },
        { rate: { numerator: 24000, denominator: 1001 } },
        { workingSpace: 'acescg' },
      ),
    }),
    fc.record({ kind: fc.constant('turn-treatment'), use: fc.constant('match'), on: fc.boolean() }),
    fc.record({ kind: fc.constant('remove-treatment'), use: fc.constant('match') }),
    fc.record({
      kind: fc.constant('set-limit'),
      use: fc.constant('match'),
      limit: fc.constantFrom(null, newLimit(null), newLimit({ kind: 'element', element: 'front' })),
    }),
    fc.record({ kind: fc.constant('remove-source'), source: fc.constantFrom('matte', 'cg') }),
    fc.record({
      kind: fc.constant('set-source'),
      source: fc.constantFrom('matte', 'cg', 'plate'),
      changes: fc.oneof(
        fc.record({ offset: fc.integer({ min: -3, max: 3 }) }),
        fc.record({ greenUp: fc.constantFrom(true, null) }),
      ),
    }),
    fc.record({ kind: fc.constant('remove-try'), id: fc.constantFrom('try-1', 'try-2') }),
    fc.constantFrom('new-1', 'new-2').map((id): Change => ({
      kind: 'add-element',
      element: newElement(id, id, 'a3', newBlend('over'), passInputs('cg', 'beauty')),
      treatments: [],
      uses: [],
    })),
    fc.constant<Change>({
      kind: 'add-element',
      element: newElement('group-1', 'Group', 'a2V', newBlend('over'), groupInputs()),
      treatments: [],
      uses: [],
    }),
    fc.constantFrom('try-1', 'try-2').map((id): Change => ({ kind: 'keep-try', id, name: id })),
    fc.constantFrom('try-1', 'try-2').map((id): Change => ({
      kind: 'use-try',
      id,
      keepAs: { id: fresh(), name: 'before' },
    })),
    fc.record({
      kind: fc.constant('set-reveal'),
      element: fc.constant('front'),
      shows: fc.option(fc.constant({ source: 'cg', part: null })),
    }),
    fc.record({ kind: fc.constant('set-own-glass'), element, own: fc.boolean() }),
    fc.record({
      kind: fc.constant('set-source'),
      source: fc.constantFrom('matte', 'cg'),
      changes: fc.record({ forComparing: fc.constantFrom(true, null) }),
    }),
    fc.constantFrom('sample-1', 'sample-2').map((id): Change => ({
      kind: 'keep-sample',
      sample: { id, name: id, rank: 'a0', x: 4, y: 5, width: 6, height: 7 },
    })),
    fc.record({
      kind: fc.constant('set-sample'),
      sample: fc.constantFrom('sample-1', 'sample-2'),
      changes: fc.oneof(
        fc.record({ x: fc.integer({ min: -40, max: 400 }), y: fc.integer({ min: -40, max: 400 }) }),
        fc.record({ follows: fc.option(fc.record({ element, frame })) }),
        fc.record({ follows: fc.record({ track: trackId, frame }) }),
        fc.record({ name: fc.constantFrom('Foot', 'Rim') }),
      ),
    }),
    fc.record({ kind: fc.constant('remove-sample'), sample: fc.constantFrom('sample-1', 'sample-2') }),
    fc.constantFrom('marker-1', 'marker-2').map((id): Change => ({
      kind: 'add-marker',
      marker: { id, name: id, frame: 1004 },
    })),
    fc.record({
      kind: fc.constant('set-marker'),
      marker: fc.constantFrom('marker-1', 'marker-2'),
      changes: fc.oneof(fc.record({ frame }), fc.record({ name: fc.constantFrom('Touches', 'Leaves') })),
    }),
    fc.record({ kind: fc.constant('remove-marker'), marker: fc.constantFrom('marker-1', 'marker-2') }),
    fc
      .record({ marker: fc.constantFrom('marker-1', 'marker-2'), id: fc.constantFrom('line-1', 'line-2') })
      .map(({ marker, id }): Change => ({ kind: 'draw-stroke', marker, stroke: { id, points: [1, 2, 30.5, 4] } })),
    fc.record({ kind: fc.constant('remove-strokes'), marker: fc.constantFrom('marker-1', 'marker-2') }),
    fc.record({ witness: witnessId, of: element }).map(({ witness: id, of }): Change => ({
      kind: 'add-witness',
      witness: {
        ...{ id, name: id, rank: 'a0', purpose: 'black', element: of },
        reference: { x: 1, y: 2, width: 3, height: 4 },
        adjusted: { x: 5, y: 6, width: 3, height: 4 },
      },
    })),
    fc.record({
      kind: fc.constant('set-witness'),
      witness: witnessId,
      changes: fc.oneof(
        fc.record({ element }),
        fc.record({ tolerance: fc.constantFrom(null, 0.01, 0.2) }),
        fc.record({ purpose: fc.constantFrom('mid', 'white', 'colour', 'sharpness') }),
        fc.record({ name: fc.constantFrom('Rim', 'Foot') }),
        fc.record({
          reference: fc.record({
            x: fc.nat(50),
            y: fc.nat(50),
            width: fc.constant(3),
            height: fc.constant(4),
            follows: frame,
            along: trackId,
          }),
        }),
      ),
    }),
    fc.record({ kind: fc.constant('remove-witness'), witness: witnessId }),
    fc.constantFrom('object-1', 'object-2').map((id): Change => ({
      kind: 'add-reference-object',
      referenceObject: {
        ...{ id, name: id, rank: 'a0' },
        ...{ photographed: 'plate', rendered: 'matte', insteadOf: 'cg' },
      },
    })),
    fc.constantFrom('object-1', 'object-2').map((id): Change => ({
      kind: 'remove-reference-object',
      referenceObject: id,
    })),
    fc.constant<Change>({
      kind: 'add-track',
      track: {
        ...{ id: 'track-1', name: 'Track 1', rank: 'a5', model: 'translation', radius: 8, search: 9 },
        points: { 1001: { x: 1, y: 2, byHand: true } },
      },
    }),
    fc.record({
      kind: fc.constant('set-track'),
      track: trackId,
      changes: fc.oneof(
        fc.record({ model: fc.constantFrom('affine', 'similarity') }),
        fc.record({ radius: fc.integer({ min: 3, max: 9 }) }),
      ),
    }),
    fc
      .record({ track: trackId, frame, x: fc.nat(300), gone: fc.boolean(), sized: fc.boolean() })
      .map(({ track, frame: on, x, gone, sized }): Change => ({
        ...{ kind: 'set-track-points', track },
        points: { [on]: gone ? null : x % 2 ? { x, y: 4, byHand: true } : { x, y: 4, solved: true } },
        ...(sized ? { size: { radius: 7, search: 8 + (x % 20) } } : {}),
      })),
    fc.record({ kind: fc.constant('remove-track'), track: trackId }),
    fc.constantFrom(90, 270).map((value): Change => ({
      kind: 'set-parameter',
      at: { owner: { kind: 'shutter' }, parameter: 'angle', channel: 0 },
      frame: 1001,
      value,
    })),
    fc.constantFrom('try-a', 'try-b').map((id): Change => ({
      kind: 'keep-treatment-try',
      treatment: 'match',
      id,
      name: id,
    })),
    fc.constantFrom('try-a', 'try-b').map((id): Change => ({
      kind: 'use-treatment-try',
      treatment: 'match',
      id,
      keepAs: { id: fresh(), name: 'before' },
    })),
    fc.record({
      kind: fc.constant('remove-treatment-try'),
      treatment: fc.constant('match'),
      id: fc.constantFrom('try-a', 'try-b'),
    }),
    fc.constantFrom<Use['owner']>({ kind: 'glass' }, { kind: 'sensor' }).map((where): Change => {
      const id = fresh()
      return {
        kind: 'add-treatment',
        settings: newTreatment('soften', id),
        use: { id, rank: 'a1', owner: where, treatment: id, on: true, limit: null },
      }
    }),
    owner.map((): Change => {
      const id = fresh()
      const use = {
        id,
        rank: 'a5',
        owner: { kind: 'element', id: 'cg' } as const,
        treatment: id,
        on: true,
        limit: null,
      }
      return { kind: 'add-treatment', settings: newTreatment('soften', id), use }
    }),
  ] as fc.Arbitrary<Change>[]
  const single = fc.oneof(...changes) as fc.Arbitrary<SingleChange>
  const together = fc
    .array(single, { minLength: 1, maxLength: 4 })
    .map((several): Change => ({ kind: 'together', changes: several }))
  return fc.oneof({ arbitrary: single, weight: 9 }, { arbitrary: together, weight: 1 })
}
