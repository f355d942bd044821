import fc from 'fast-check'
import { anyChange } from '../test/any-edit'
import { smallShot, withSource } from '../test/small-shot'
import { applyEdit, differences, newPlacing, type Change, type Shot } from '.'

const edited = (...edits: Change[]): Shot => edits.reduce((shot, edit) => applyEdit(shot, edit).shot, smallShot)
const veil = { owner: { kind: 'treatment', id: 'match' }, parameter: 'veil', channel: 0 } as const

test.each<[string, Change, readonly string[]]>([
  ['a number', { kind: 'set-parameter', at: veil, frame: 1001, value: 0.0215 }, ['veil red of CG 0.0000 to 0.0215']],
  [
    'all channels alike',
    { kind: 'set-channels', at: { owner: veil.owner, parameter: 'gain' }, frame: 1001, values: [2, 2, 2] },
    ['gain of CG 1.000 to 2.000'],
  ],
  ['a keyframe', { kind: 'add-keyframe', at: veil, frame: 1004 }, ['veil red of CG 0.0000 to 1 keyframes']],
  [
    'a track set by hand',
    { kind: 'set-track-points', track: 'corner', points: { 1002: { x: 1, y: 2, byHand: true } } },
    ['track Corner on a frame'],
  ],
  [
    'how a track is looked for',
    { kind: 'set-track', track: 'corner', changes: { radius: 9 } },
    ['how track Corner is looked for'],
  ],
  ['a track gone', { kind: 'remove-track', track: 'corner' }, ['track Corner removed']],
  ['hiding', { kind: 'show-element', element: 'cg', visible: false }, ['CG hidden']],
  [
    'a name',
    { kind: 'describe-element', element: 'cg', changes: { name: 'Bell', note: 'x' } },
    ['CG is called Bell', 'note on Bell'],
  ],
  ['a blend', { kind: 'set-blend', element: 'cg', blend: 'difference' }, ['blend of CG Over to Difference']],
  ['an order', { kind: 'move-element', element: 'cg', parent: null, rank: 'zz' }, ['the order of elements']],
  ['a treatment off', { kind: 'turn-treatment', use: 'match', on: false }, ['veil and gain of CG off']],
  ['a treatment gone', { kind: 'remove-treatment', use: 'match' }, ['veil and gain of CG removed']],
  ['an element gone, with its treatments', { kind: 'remove-element', element: 'cg' }, ['CG removed']],
  ['a claim', { kind: 'set-claims', source: 'cg', claims: { encoding: 'srgb' } }, ['encoding of CG linear to srgb']],
  [
    'a range',
    { kind: 'set-shot', changes: { frames: { first: 1001, last: 1004 } } },
    ['frames 1001 to 1010 to 1001 to 1004'],
  ],
  ['a try', { kind: 'keep-try', id: 'one', name: 'try 1' }, ['try 1 added']],
])('%s is said in words', (_what, edit, words) => {
  expect(differences(smallShot, edited(edit))).toEqual(words)
})

test('nothing differs from itself; whatever an edit changes is said', () => {
  expect(differences(smallShot, JSON.parse(JSON.stringify(smallShot)) as Shot)).toEqual([])
  let count = 0
  fc.assert(
    fc.property(
      anyChange(() => `fresh-${count++}`),
      (edit) => {
        let made
        try {
          made = applyEdit(smallShot, edit)
        } catch {
          return
        }
        // An offset of 0 is what a source without one has, and another rank may be the same order.
        const text = JSON.stringify(edit)
        if (made.patches.length === 0 || text.includes('"offset":0') || text.includes('move-element')) return
        expect(differences(smallShot, made.shot).length).toBeGreaterThan(0)
      },
    ),
    { numRuns: 300 },
  )
})

test('no more than so many, with how many more there are', () => {
  const other = withSource(edited({ kind: 'show-element', element: 'cg', visible: false }), 'cg', {
    path: 'other.####.exr',
    offset: 3,
  })
  expect(differences(smallShot, other, 1)).toEqual([expect.any(String), 'and 2 more'])
})

test('a pin is told of an element that was placed before, and that it is unpinned', () => {
  const placing = newPlacing({ x: 0, y: 0, width: 9, height: 9 })
  const loose = edited({ kind: 'place-element', element: 'cg', placing })
  const pin = { tracks: ['corner'], frame: 1001, by: 'position' } as const
  const pinned = applyEdit(loose, { kind: 'set-placing', element: 'cg', changes: { pin } }).shot
  expect(differences(loose, pinned)).toEqual(['pin of CG'])
  expect(differences(pinned, loose)).toEqual(['CG unpinned'])
})
