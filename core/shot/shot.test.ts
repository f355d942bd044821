import fc from 'fast-check'
import { smallShot } from '../test/small-shot'
import {
  applyEdit,
  describeEdit,
  framePath,
  ImpossibleEditError,
  InvalidShotError,
  overlap,
  parseShot,
  sourceFrame,
  type Edit,
} from './index'

const veil = { element: 'cg', treatment: 'match', parameter: 'veil', channel: 0 }
const anyEdit: fc.Arbitrary<Edit> = fc.oneof(
  fc.record({
    kind: fc.constant('set-parameter' as const),
    at: fc.record({
      element: fc.constant('cg'),
      treatment: fc.constant('match'),
      parameter: fc.constantFrom('veil', 'gain', 'gamma'),
      channel: fc.option(fc.nat(2)),
    }),
    frame: fc.integer({ min: 1001, max: 1010 }),
    value: fc.double({ min: 0.1, max: 2, noNaN: true }),
  }),
  fc.record({
    kind: fc.constantFrom('add-key' as const, 'remove-key' as const),
    at: fc.constant(veil),
    frame: fc.integer({ min: 1001, max: 1010 }),
  }),
  fc.record({ kind: fc.constant('reset-parameter' as const), at: fc.constant(veil) }),
  fc.record({
    kind: fc.constant('show-element' as const),
    element: fc.constantFrom('cg', 'front'),
    visible: fc.boolean(),
  }),
  fc.record({
    kind: fc.constant('enable-treatment' as const),
    element: fc.constant('cg'),
    treatment: fc.constant('match'),
    enabled: fc.boolean(),
  }),
)

describe('edits', () => {
  test('any run of edits leaves a valid document, and taking them back in turn restores it', () => {
    fc.assert(
      fc.property(fc.array(anyEdit, { maxLength: 12 }), (edits) => {
        let shot = smallShot
        const inverses = []
        for (const edit of edits) {
          const edited = applyEdit(shot, edit)
          shot = parseShot(edited.shot, 'edited')
          inverses.unshift(edited.inverse)
        }
        for (const patches of inverses) shot = applyEdit(shot, { kind: 'restore', what: 'undo', patches }).shot
        expect(shot).toEqual(smallShot)
      }),
    )
  })

  test('documents are never changed in place', () => {
    const before = JSON.stringify(smallShot)
    applyEdit(smallShot, { kind: 'set-parameter', at: veil, frame: 1001, value: 3 })
    expect(JSON.stringify(smallShot)).toBe(before)
  })

  test('what is not there cannot be edited, and the message says what', () => {
    expect(() => applyEdit(smallShot, { kind: 'show-element', element: 'ghost', visible: true })).toThrow(
      'There is no element "ghost" in this shot.',
    )
    expect(() => applyEdit(smallShot, { kind: 'reset-parameter', at: { ...veil, parameter: 'haze' } })).toThrow(
      ImpossibleEditError,
    )
    expect(() => applyEdit(smallShot, { kind: 'reset-parameter', at: { ...veil, channel: 3 } })).toThrow(
      'no parameter "veil" with a channel 3',
    )
  })

  test('edits say what they do', () => {
    expect(describeEdit(smallShot, { kind: 'set-parameter', at: veil, frame: 1001, value: 1 })).toBe('Veil red of CG')
    expect(describeEdit(smallShot, { kind: 'reset-parameter', at: { ...veil, channel: null } })).toBe(
      'Reset Veil of CG',
    )
  })

  test('changes of one channel do not meet changes of another, but meet a change of all', () => {
    const patches = (channel: number | null) =>
      applyEdit(smallShot, { kind: 'set-parameter', at: { ...veil, channel }, frame: 1001, value: 0.5 }).patches
    expect(overlap(patches(0), patches(1))).toBeNull()
    expect(overlap(patches(0), patches(0))).not.toBeNull()
    expect(overlap(patches(2), patches(null))).not.toBeNull()
  })
})

describe('the schema', () => {
  const broken = (change: (shot: Record<string, never>) => void) => {
    const copy = JSON.parse(JSON.stringify(smallShot))
    change(copy)
    return () => parseShot(copy, 'quay.shot.json')
  }
  const cases: [string, RegExp, (shot: never) => void][] = [
    ['another version', /schema must be 1/, (s: { schema: number }) => (s.schema = 7)],
    ['an unknown field', /unspecified keys: glow/, (s: { glow: number }) => (s.glow = 1)],
    [
      'a path that climbs out',
      /must be relative to the shot’s folder/,
      (s: { sources: { path: string }[] }) => (s.sources[0].path = 'plate/../../secret.exr'),
    ],
    [
      'an absolute path',
      /must be relative/,
      (s: { sources: { path: string }[] }) => (s.sources[0].path = '/etc/passwd'),
    ],
    [
      'an element of no source',
      /names the source "x", which does not exist/,
      (s: { elements: { source: string }[] }) => (s.elements[1].source = 'x'),
    ],
    ['no plate', /farthest element must be the plate/, (s: { elements: unknown[] }) => s.elements.shift()],
    [
      'two elements of one id',
      /two elements have the id "cg"/,
      (s: { elements: { id: string }[] }) => (s.elements[1].id = 'cg'),
    ],
    [
      'keys out of order',
      /one key a frame, in order/,
      (s: { elements: { treatments: { parameters: { veil: unknown[] } }[] }[] }) =>
        (s.elements[2].treatments[0].parameters.veil[0] = {
          keys: [
            { frame: 2, value: 0 },
            { frame: 1, value: 0 },
          ],
        }),
    ],
    [
      'a parameter that is missing',
      /parameters.gain is a required field/,
      (s: { elements: { treatments: { parameters: { gain?: unknown } }[] }[] }) =>
        delete s.elements[2].treatments[0].parameters.gain,
    ],
    [
      'a range that ends before it starts',
      /frames must not end before it starts/,
      (s: { frames: { last: number } }) => (s.frames.last = 1),
    ],
  ]
  test.each(cases)('refuses %s, and names file and place', (_name, message, change) => {
    expect(broken(change as never)).toThrow(InvalidShotError)
    expect(broken(change as never)).toThrow(message)
    expect(broken(change as never)).toThrow('quay.shot.json')
  })

  test('takes anything and answers with a typed error or the same value', () => {
    fc.assert(
      fc.property(fc.anything(), (value) => {
        try {
          parseShot(value, 'x')
        } catch (error) {
          expect(error).toBeInstanceOf(InvalidShotError)
        }
      }),
    )
    expect(parseShot(smallShot, 'x')).toBe(smallShot)
  })
})

test('frame numbers fill the run of #, and frames outside the range have no file', () => {
  expect(framePath('cg/bell.####.exr', 7)).toBe('cg/bell.0007.exr')
  expect(framePath('cg/bell.##.exr', 1001)).toBe('cg/bell.1001.exr')
  expect(sourceFrame(smallShot.sources[1], 1009)).toBeUndefined()
  expect(sourceFrame(smallShot.sources[2], 1009)).toBeNull()
})
