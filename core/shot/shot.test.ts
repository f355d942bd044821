import fc from 'fast-check'
import { anyChange } from '../test/any-edit'
import { smallShot, treated, withElement, withSource } from '../test/small-shot'
import {
  allOf,
  applyEdit,
  beyondLimits,
  describeEdit,
  editSchema,
  framePath,
  groupInputs,
  ImpossibleEditError,
  InvalidShotError,
  newBlend,
  newElement,
  newTreatment,
  overlap,
  parseShot,
  rankBetween,
  sourceFrame,
  takeBack,
  timedFrame,
  undoLabel,
  usersOf,
  type Change,
  type Shot,
} from './index'

const match = { kind: 'treatment', id: 'match' } as const
const veil = { owner: match, parameter: 'veil', channel: 0 }
const edited = (shot: Shot, ...edits: readonly Change[]) => edits.reduce((now, edit) => applyEdit(now, edit).shot, shot)
const json = (value: unknown) => JSON.parse(JSON.stringify(value))

describe('edits', () => {
  test('what one change brings the next may change, and all of it can be made again', () => {
    const group = newElement('set', 'Set', 'a2V', newBlend('over'), groupInputs())
    const edit: Change = {
      kind: 'together',
      changes: [
        { kind: 'add-element', element: group, treatments: [], uses: [] },
        { kind: 'set-blend', element: 'set', blend: 'difference' },
      ],
    }
    for (let i = 0; i < 2; i++) expect(applyEdit(smallShot, edit).shot.elements.byId.set.blend.kind).toBe('difference')
    expect(group.blend.kind).toBe('over')
  })

  test('any run of edits leaves a valid document, and undoing them in turn restores it', () => {
    let count = 0
    fc.assert(
      fc.property(
        fc.array(
          anyChange(() => `fresh-${count++}`),
          { maxLength: 14 },
        ),
        (edits) => {
          let shot = smallShot
          const made = []
          for (const edit of edits) {
            try {
              const next = applyEdit(shot, edit)
              shot = parseShot(json(next.shot), 'edited')
              made.unshift(next)
            } catch (error) {
              expect(error).toBeInstanceOf(ImpossibleEditError)
            }
          }
          for (const one of made) shot = takeBack(shot, one).shot
          expect(shot).toEqual(smallShot)
        },
      ),
    )
  })

  test('every edit has the shape that the doors ask for, and what has another is refused', () => {
    fc.assert(
      fc.property(
        anyChange(() => 'fresh'),
        (edit) => {
          expect(editSchema.validateSync(json(edit), { strict: true })).toEqual(json(edit))
          expect(() => editSchema.validateSync({ ...json(edit), more: 1 }, { strict: true })).toThrow()
        },
      ),
    )
    for (const bad of [null, 7, 'x', [], {}, { kind: '__proto__' }, { kind: 'toString' }, { kind: 'undo' }])
      expect(() => editSchema.validateSync(bad, { strict: true })).toThrow()
  })

  test('documents are never changed in place', () => {
    const before = JSON.stringify(smallShot)
    applyEdit(smallShot, { kind: 'set-parameter', at: veil, frame: 1001, value: 0.3 })
    expect(JSON.stringify(smallShot)).toBe(before)
  })

  test('what is not there cannot be edited, and the message says what', () => {
    const hide = (element: string): Change => ({ kind: 'show-element', element, visible: true })
    expect(() => applyEdit(smallShot, hide('ghost'))).toThrow('There is no element "ghost" in this shot any more.')
    for (const name of ['constructor', '__proto__', 'toString'])
      expect(() => applyEdit(smallShot, hide(name))).toThrow(ImpossibleEditError)
    const reset = (at: Partial<typeof veil>): Change => ({ kind: 'reset-parameter', at: { ...veil, ...at } })
    expect(() => applyEdit(smallShot, reset({ parameter: 'haze' }))).toThrow(ImpossibleEditError)
    expect(() => applyEdit(smallShot, reset({ parameter: 'constructor' }))).toThrow(ImpossibleEditError)
    expect(() => applyEdit(smallShot, reset({ channel: 3 }))).toThrow('no parameter "veil" with a channel 3')
  })

  test.each<[string, Change, string]>([
    ['a gamma of 0', { kind: 'set-parameter', at: { ...veil, parameter: 'gamma' }, frame: 1, value: 0 }, 'Gamma is 0'],
    [
      'a range of a billion frames',
      { kind: 'set-source', source: 'plate', changes: { frames: { first: 1, last: 1e9 } } },
      'at most 100000 are possible',
    ],
    [
      'a range that ends before it starts',
      { kind: 'set-source', source: 'plate', changes: { frames: { first: 9, last: 1 } } },
      'must not end before it starts',
    ],
    [
      'pixels a thousand times as wide as high',
      { kind: 'set-source', source: 'plate', changes: { pixelAspect: 1000 } },
      'must be from 0.1 to 10',
    ],
    ['hiding the plate', { kind: 'show-element', element: 'plate', visible: false }, 'plate cannot be hidden'],
    ['removing the plate', { kind: 'remove-element', element: 'plate' }, 'plate cannot be removed'],
    ['a group that is none', { kind: 'move-element', element: 'cg', parent: 'front', rank: 'a1' }, 'is not a group'],
  ])('%s is refused in a sentence', (_what, edit, sentence) => {
    expect(() => applyEdit(smallShot, edit)).toThrow(ImpossibleEditError)
    expect(() => applyEdit(smallShot, edit)).toThrow(sentence)
  })

  test('a blur of a billion pixels is refused', () => {
    const shot = treated(smallShot, { kind: 'element', id: 'cg' }, newTreatment('soften', 'soft'))
    const at = { owner: { kind: 'treatment', id: 'soft' } as const, parameter: 'across', channel: 0 }
    expect(() => applyEdit(shot, { kind: 'set-parameter', at, frame: 1, value: 1e9 })).toThrow('from 0 to 200 px')
  })

  test('edits say what they do', () => {
    expect(describeEdit(smallShot, { kind: 'set-parameter', at: veil, frame: 1001, value: 1 })).toBe('Veil red of CG')
    const reset: Change = { kind: 'reset-parameter', at: { ...veil, channel: null } }
    expect(describeEdit(smallShot, reset)).toBe('Reset Veil of CG')
    expect(describeEdit(smallShot, { kind: 'turn-treatment', use: 'match', on: false })).toBe('Veil and gain of CG off')
  })

  test('changes of one channel do not meet changes of another, but meet a change of all', () => {
    const patches = (channel: number | null) =>
      applyEdit(smallShot, { kind: 'set-parameter', at: { ...veil, channel }, frame: 1001, value: 0.5 }).patches
    expect(overlap(patches(0), patches(1))).toBeNull()
    expect(overlap(patches(0), patches(0))).not.toBeNull()
    expect(overlap(patches(2), patches(null))).not.toBeNull()
  })

  test('keyframes on different frames do not meet: two people can set them', () => {
    const keyed = edited(smallShot, { kind: 'add-keyframe', at: veil, frame: 1001 })
    const patches = (frame: number) => applyEdit(keyed, { kind: 'set-parameter', at: veil, frame, value: 0.4 }).patches
    expect(overlap(patches(1003), patches(1007))).toBeNull()
    expect(overlap(patches(1003), patches(1003))).not.toBeNull()
  })

  test('no edit writes by a place in a list, but for the channels of a parameter', () => {
    let count = 0
    fc.assert(
      fc.property(
        anyChange(() => `fresh-${count++}`),
        (edit) => {
          try {
            for (const { path } of applyEdit(smallShot, edit).patches)
              path.forEach((step, i) => typeof step === 'number' && expect(path[i - 2]).toBe('parameters'))
          } catch (error) {
            expect(error).toBeInstanceOf(ImpossibleEditError)
          }
        },
      ),
    )
  })
})

describe('undo', () => {
  const set = (channel: number, value: number): Change => ({
    kind: 'set-parameter',
    at: { ...veil, channel },
    frame: 1001,
    value,
  })

  test('takes back what its edit did, and leaves what others did beside it', () => {
    const mine = applyEdit(smallShot, set(0, 0.1))
    const theirs = edited(mine.shot, set(1, 0.2), { kind: 'remove-element', element: 'shadow' })
    const undone = takeBack(theirs, mine).shot
    expect(undone).toEqual(edited(smallShot, set(1, 0.2), { kind: 'remove-element', element: 'shadow' }))
  })

  test('is refused in one sentence when what it would write has been changed since', () => {
    const mine = applyEdit(smallShot, set(0, 0.1))
    expect(() => takeBack(edited(mine.shot, set(0, 0.2)), mine)).toThrow(
      'Veil red of CG cannot be taken back: it has been changed again since.',
    )
    const after = edited(mine.shot, { kind: 'remove-element', element: 'cg' })
    expect(() => takeBack(after, mine)).toThrow(ImpossibleEditError)
  })

  test('can itself be taken back, and says what it is', () => {
    const mine = applyEdit(smallShot, set(0, 0.1))
    const undone = takeBack(mine.shot, mine)
    const redone = takeBack(undone.shot, undone)
    expect(redone.shot).toEqual(mine.shot)
    expect([undone.label, redone.label]).toEqual(['Undo: Veil red of CG', 'Redo: Veil red of CG'])
    expect(undoLabel(redone.label)).toBe('Undo: Veil red of CG')
  })

  test('one that would put a group into itself is refused', () => {
    const group = (id: string): Change => ({
      kind: 'add-element',
      element: newElement(id, id, 'a5', newBlend('over'), groupInputs()),
      treatments: [],
      uses: [],
    })
    const into = (element: string, parent: string | null): Change => ({
      kind: 'move-element',
      element,
      parent,
      rank: 'a5',
    })
    const start = edited(smallShot, group('one'), group('two'), into('one', 'two'))
    const out = applyEdit(start, into('one', null))
    const other = edited(out.shot, into('two', 'one'))
    expect(() => takeBack(other, out)).toThrow(/cannot be in a group that is in/)
    expect(() => applyEdit(other, into('one', 'two'))).toThrow(ImpossibleEditError)
  })
})

describe('groups', () => {
  const withGroup = edited(
    smallShot,
    {
      kind: 'add-element',
      element: newElement('group', 'Bell', 'a5', newBlend('over'), groupInputs()),
      treatments: [],
      uses: [],
    },
    { kind: 'move-element', element: 'shadow', parent: 'group', rank: 'a0' },
    { kind: 'move-element', element: 'cg', parent: 'group', rank: 'a1' },
  )
  const opacity = { owner: { kind: 'element', id: 'group' } as const, parameter: 'opacity', channel: null }

  test('what darkens cannot be brought into isolation, whichever edit would do it', () => {
    const sentence = /Shadow darkens what is behind it, and in Bell nothing is/
    const use = {
      id: 'soft',
      rank: 'a0',
      owner: { kind: 'element', id: 'group' } as const,
      treatment: 'soft',
      on: true,
      limit: null,
    }
    const add: Change = { kind: 'add-treatment', settings: newTreatment('soften', 'soft'), use }
    for (const edit of [add, { kind: 'set-parameter', at: opacity, frame: 1001, value: 0.5 } as const])
      expect(() => applyEdit(withGroup, edit)).toThrow(sentence)
    const outside = edited(withGroup, { kind: 'move-element', element: 'shadow', parent: null, rank: 'a1' }, add)
    expect(() => applyEdit(outside, { kind: 'move-element', element: 'shadow', parent: 'group', rank: 'a0' })).toThrow(
      sentence,
    )
  })

  test('what is in a removed group is at the top again', () => {
    const without = edited(withGroup, { kind: 'remove-element', element: 'group' })
    expect(parseShot(json(without), 'x').elements.byId.cg.parent).toBe('group')
    expect(edited(without, { kind: 'show-element', element: 'cg', visible: false }).elements.byId.cg.visible).toBe(
      false,
    )
  })
})

describe('removal', () => {
  test('is never refused: users are told first, and the document stays valid', () => {
    expect(usersOf(smallShot, { kind: 'source', id: 'matte' })).toEqual(['Shadow', 'Front'])
    const without = edited(smallShot, { kind: 'remove-source', source: 'matte' })
    expect(parseShot(json(without), 'x')).toEqual(without)
  })

  test('an element takes its own treatments along, but not what others share', () => {
    const shared = edited(smallShot, {
      kind: 'share-treatment',
      use: {
        id: 'again',
        rank: 'a0',
        owner: { kind: 'element', id: 'front' },
        treatment: 'match',
        on: true,
        limit: null,
      },
    })
    const after = edited(shared, { kind: 'remove-element', element: 'cg' })
    expect(Object.keys(after.treatments.byId)).toEqual(['match'])
    expect(Object.keys(after.uses.byId)).toEqual(['again'])
    expect(edited(after, { kind: 'remove-treatment', use: 'again' }).treatments.byId).toEqual({})
  })
})

test('between two ranks there is always another, also where they are equal', () => {
  let [low, high] = [rankBetween(null, null), rankBetween(rankBetween(null, null), null)]
  for (let i = 0; i < 60; i++) {
    const middle = rankBetween(low, high)
    expect(low < middle && middle < high).toBe(true)
    if (i % 2) low = middle
    else high = middle
  }
  expect(rankBetween(low, low) > low).toBe(true)
})

describe('the schema', () => {
  const broken = (change: (shot: Record<string, never>) => void) => {
    const copy = json(smallShot)
    change(copy)
    return () => parseShot(copy, 'quay.shot.json')
  }
  // eslint-disable-next-line @typescript-eslint/no-explicit-any -- documents are spoilt here in ways that no type allows
  type Loose = any
  const cases: [string, RegExp, (shot: Loose) => void][] = [
    ['another version', /schema must be 1 to 10/, (s) => Object.assign(s, { schema: 11 })],
    ['an unknown field', /unspecified keys: glow/, (s) => Object.assign(s, { glow: 1 })],
    ['a path that climbs out', /must be relative/, (s) => Object.assign(s.sources.byId.cg, { path: 'a/../../b.exr' })],
    ['an absolute path', /must be relative/, (s) => Object.assign(s.sources.byId.cg, { path: '/etc/passwd' })],
    ['no plate', /its plate is the element "plate", which does not exist/, (s) => delete s.elements.byId.plate],
    ['a thing under another id', /has another id inside/, (s) => Object.assign(s.elements.byId.cg, { id: 'front' })],
    [
      'an input that is part of none',
      /must be one tree/,
      (s) => Object.assign((s.elements.byId.cg.inputs as Loose).byId.pass, { parent: 'gone' }),
    ],
    [
      'a keyframe between frames',
      /has a keyframe at "1001.5"/,
      (s) => Object.assign(s.treatments.byId.match.parameters, { veil: [{ keyframes: { '1001.5': 1 } }, 0, 0] }),
    ],
    [
      'a curve of nothing',
      /needs a number or at least one keyframe/,
      (s) => Object.assign(s.treatments.byId.match.parameters, { veil: [{ keyframes: {} }, 0, 0] }),
    ],
    [
      'a parameter that is missing',
      /parameters.gain is a required field/,
      (s) => delete (s.treatments.byId.match.parameters as Record<string, unknown>).gain,
    ],
    ['a range that ends before it starts', /frames must not end before/, (s) => Object.assign(s.frames, { last: 1 })],
  ]
  test.each(cases)('refuses %s, and names file and place', (_name, message, change) => {
    expect(broken(change as never)).toThrow(InvalidShotError)
    expect(broken(change as never)).toThrow(message)
    expect(broken(change as never)).toThrow('quay.shot.json')
  })

  test('takes anything and answers with a typed error or the same value', () => {
    fc.assert(
      fc.property(fc.anything(), fc.boolean(), (value, first) => {
        try {
          parseShot(first && value !== null && typeof value === 'object' ? { ...value, schema: 1 } : value, 'x')
        } catch (error) {
          expect(error).toBeInstanceOf(InvalidShotError)
        }
      }),
    )
    expect(parseShot(smallShot, 'x')).toBe(smallShot)
  })

  test('what is beyond a limit is a document all the same, and is told', () => {
    const huge = withSource(smallShot, 'plate', { frames: { first: 1, last: 1e9 } })
    expect(parseShot(json(huge), 'x')).toEqual(huge)
    expect(beyondLimits(huge)).toEqual(['Plate has 1000000000 frames; at most 100000 are possible'])
    expect(beyondLimits(smallShot)).toEqual([])
  })

  test('what refers to something that is gone is a document', () => {
    const dangling = withElement(smallShot, 'cg', { parent: 'nowhere' })
    expect(parseShot(json(dangling), 'x')).toEqual(dangling)
  })
})

test('frame numbers fill the run of #, and frames outside the range have no file', () => {
  expect(framePath('cg/bell.####.exr', 7)).toBe('cg/bell.0007.exr')
  expect(framePath('cg/bell.##.exr', 1001)).toBe('cg/bell.1001.exr')
  expect(sourceFrame(smallShot.sources.byId.cg, 1009)).toBeUndefined()
  expect(sourceFrame(smallShot.sources.byId.matte, 1009)).toBeNull()
})

describe('time', () => {
  const frames = { first: 1001, last: 1004 }
  const at = (timing: Parameters<typeof timedFrame>[1]) =>
    Array.from({ length: 8 }, (_, i) => timedFrame(frames, timing, 1000 + i))

  test.each([
    ['as it is', undefined, [1000, 1001, 1002, 1003, 1004, 1005, 1006, 1007]],
    ['held', { held: 1003 }, [1003, 1003, 1003, 1003, 1003, 1003, 1003, 1003]],
    ['later', { offset: 2 }, [1002, 1003, 1004, null, null, null, null, null]],
    ['half as fast', { speed: 0.5 }, [1001, 1001, 1002, 1002, 1003, 1003, 1004, 1004]],
    ['backwards', { speed: -1, offset: 3 }, [null, 1004, 1003, 1002, 1001, null, null, null]],
    ['held at its ends', { beyond: 'hold' as const }, [1001, 1001, 1002, 1003, 1004, 1004, 1004, 1004]],
    ['from the start again', { beyond: 'loop' as const }, [1004, 1001, 1002, 1003, 1004, 1001, 1002, 1003]],
    ['back and forth', { beyond: 'ping-pong' as const }, [1002, 1001, 1002, 1003, 1004, 1003, 1002, 1001]],
  ])('%s', (_name, timing, expected) => expect(at(timing)).toEqual(expected))
})

test('a try of the elements is not one of the sources', () => {
  const kept = edited(smallShot, { kind: 'keep-try', id: 'one', name: 'try 1' })
  expect(Object.keys(allOf(kept.tries)[0]).sort()).toEqual([
    'elements',
    'id',
    'name',
    'plate',
    'rank',
    'treatments',
    'uses',
  ])
})

test('a document of schema 3 has no shutter: it gets the usual one, and everything else stays', () => {
  const { shutter, ...rest } = smallShot
  const read = parseShot({ ...rest, schema: 3 }, 'quay.shot.json')
  expect(read).toEqual({ ...smallShot, tracks: { byId: {} }, mattes: { byId: {} } })
  expect(shutter.parameters).toEqual({ angle: [180], opens: [-90], samples: [64] })
})

test('what a reveal shows is not done again once the element is blended otherwise', () => {
  const shows = { kind: 'set-reveal', element: 'front', shows: { source: 'cg', part: null } } as const
  const set = applyEdit(smallShot, shows)
  const undone = takeBack(set.shot, set)
  const over = applyEdit(undone.shot, { kind: 'set-blend', element: 'front', blend: 'over' }).shot
  expect(() => takeBack(over, undone)).toThrow(/Front is not blended as a reveal any more/)
  expect(takeBack(undone.shot, undone).shot).toEqual(set.shot)
})
