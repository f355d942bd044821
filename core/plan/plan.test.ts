import fc from 'fast-check'
import type { FrameRequest } from '../graph/steps'
import { framesOf } from '../graph/steps'
import { anyChange } from '../test/any-edit'
import { localEngine } from '../test/local-engine'
import {
  allThere,
  frameSize,
  loadMadeUp,
  madeUpFrame,
  pictureOf,
  smallShot,
  treated,
  withElement,
  withSource,
} from '../test/small-shot'
import {
  applyEdit,
  groupInputs,
  newBlend,
  newElement,
  newLimit,
  newTreatment,
  parametersFor,
  passInputs,
  tableOf,
  type Change,
  type Input,
  type Shot,
} from '../shot'
import { inputDescriptions } from '../set/owners'
import { frameAtScale } from '../engine/source-frame'
import { PlanMemo } from './memo'
import { nodeAt } from './node'
import { planFrame } from './plan'

const plan = (shot = smallShot, frame = 1001, fingerprint = 'a') => pictureOf(shot, frame, 1, allThere(fingerprint))
const veil = { owner: { kind: 'treatment', id: 'match' } as const, parameter: 'veil', channel: 0 }
const setVeil = (value: number, frame = 1001): Change => ({ kind: 'set-parameter', at: veil, frame, value })
const edited = (shot: Shot, ...edits: readonly Change[]) => edits.reduce((now, edit) => applyEdit(now, edit).shot, shot)
const window = { x: 0, y: 0, ...frameSize }
const light = (shot: Shot, frame = 1001) => localEngine(1).light(plan(shot, frame).composite, window)
const cgElement = { kind: 'element', id: 'cg' } as const
const only = (...ids: string[]): Shot => ({
  ...smallShot,
  elements: tableOf(ids.map((id) => smallShot.elements.byId[id])),
})

test('the same shot, frame and files give the same keys; anything that changes pixels changes them', () => {
  const key = plan().composite.key
  expect(plan().composite.key).toBe(key)
  expect(plan(smallShot, 1002).composite.key).not.toBe(key)
  expect(plan(smallShot, 1001, 'b').composite.key).not.toBe(key)
  expect(pictureOf(smallShot, 1001, 2).composite.key).not.toBe(key)
  expect(plan(edited(smallShot, setVeil(0.1))).composite.key).not.toBe(key)
})

test('an edit of one element leaves the keys of what lies behind it', () => {
  const changed = edited(smallShot, setVeil(0.1))
  expect(plan(changed).elements.get('shadow')?.key).toBe(plan().elements.get('shadow')?.key)
  expect(plan(changed).plate.key).toBe(plan().plate.key)
})

test('a keyframe on another frame changes only the frames that it moves', () => {
  const keyed = edited(
    smallShot,
    { kind: 'add-keyframe', at: veil, frame: 1001 },
    { kind: 'add-keyframe', at: veil, frame: 1005 },
  )
  const moved = edited(keyed, setVeil(0.5, 1005))
  expect(plan(moved, 1001).composite.key).toBe(plan(keyed, 1001).composite.key)
  expect(plan(moved, 1003).composite.key).not.toBe(plan(keyed, 1003).composite.key)
})

test('a still has the same key on every frame, and a file used twice is read once', () => {
  const matte = (frame: number) =>
    framesOf([plan(smallShot, frame).composite]).find((step) => step.request.source === 'matte')
  expect(matte(1001)?.key).toBe(matte(1004)?.key)
  expect(framesOf([plan().composite]).map((step) => step.request.path)).toEqual([
    'plate.1001.exr',
    'matte.exr',
    'cg.1001.exr',
  ])
})

test('a treatment that is off is not in the graph', () => {
  const off = edited(smallShot, { kind: 'turn-treatment', use: 'match', on: false })
  expect(plan(off).elements.get('cg')?.op).toBe('frame')
})

test('renaming a shot changes no grain; two owners of the same grain do not share it', () => {
  const grainy = newTreatment('grain', 'grain', { read: [10, 10, 10] })
  const shot = treated(treated(smallShot, cgElement, grainy), { kind: 'finish' }, grainy, { id: 'all' })
  expect(plan({ ...shot, name: 'another' }).composite.key).toBe(plan(shot).composite.key)
  expect(plan({ ...shot, seed: 'another' }).composite.key).not.toBe(plan(shot).composite.key)
  const draws = new Set<string>()
  const visit = (step: ReturnType<typeof plan>['composite']): void => {
    if (step.op === 'point') draws.add(step.draw.seed)
    step.inputs.forEach(visit)
  }
  visit(plan(shot).composite)
  expect(draws.size).toBe(2)
})

describe('problems', () => {
  test('a frame without a plate says which frames there are, and where to correct it; nothing is thrown', () => {
    const short = withSource(smallShot, 'plate', { frames: { first: 1001, last: 1005 } })
    const { composite, problems } = planFrame(short, 1006, 1, allThere())
    expect(composite).toBeNull()
    expect(problems).toEqual([
      {
        at: { kind: 'source', id: 'plate' },
        sentence: 'small has no plate at frame 1006. Plate covers frames 1001 to 1005.',
        remedy: 'Choose a frame inside it, or correct its range or offset.',
        missing: 'nothing',
      },
    ])
  })

  test('a treatment without its source, and an element without its own, leave the rest of the picture', () => {
    const lens = { ...newTreatment('lens-map', 'lens'), sources: { map: 'nowhere' } }
    const shot = edited(treated(smallShot, cgElement, lens), { kind: 'remove-source', source: 'matte' })
    const { composite, problems } = planFrame(shot, 1001, 1, allThere())
    expect(composite).not.toBeNull()
    expect(problems.map(({ at, missing }) => [at, missing])).toEqual([
      [{ kind: 'element', id: 'shadow' }, 'part'],
      [{ kind: 'treatment', id: 'lens' }, 'part'],
      [{ kind: 'element', id: 'front' }, 'part'],
    ])
  })

  test('a frame of a million pixels a side is a problem, not a picture', () => {
    const huge = { ...smallShot, frameSize: { width: 1e6, height: 1e6 } }
    expect(planFrame(huge, 1001, 1, allThere())).toMatchObject({ composite: null, problems: [{ missing: 'nothing' }] })
  })

  test('elements that show each other are told, and end', () => {
    const shows = (element: string) => ({
      inputs: tableOf<Input>([
        {
          id: 'x',
          kind: 'element',
          parent: null,
          rank: 'a0',
          parameters: parametersFor(inputDescriptions.element),
          element,
        },
      ]),
    })
    const round = withElement(withElement(smallShot, 'cg', shows('front')), 'front', shows('cg'))
    const { problems } = planFrame(round, 1001, 1, allThere())
    expect(problems.some(({ sentence }) => /shows itself/.test(sentence))).toBe(true)
  })

  test('whatever is edited, planning never throws', () => {
    let count = 0
    fc.assert(
      fc.property(
        fc.array(
          anyChange(() => `fresh-${count++}`),
          { maxLength: 12 },
        ),
        (edits) => {
          let shot = smallShot
          for (const edit of edits)
            try {
              shot = applyEdit(shot, edit).shot
            } catch {
              // Impossible on what the shot has become.
            }
          for (const frame of [900, 1001, 1009]) expect(planFrame(shot, frame, 2, allThere()).frame).toBe(frame)
        },
      ),
    )
  })
})

describe('remembering', () => {
  test('what was planned with a memory is what is planned without one, whatever is edited between', () => {
    let count = 0
    fc.assert(
      fc.property(
        fc.array(
          anyChange(() => `fresh-${count++}`),
          { maxLength: 12 },
        ),
        (edits) => {
          const memo = new PlanMemo()
          let shot = smallShot
          for (const edit of edits) {
            try {
              shot = applyEdit(shot, edit).shot
            } catch {
              continue
            }
            const [known, fresh] = [memo, new PlanMemo()].map((one) => planFrame(shot, 1003, 1, allThere(), one))
            expect(known.composite?.key).toBe(fresh.composite?.key)
            expect(known.problems).toEqual(fresh.problems)
          }
        },
      ),
    )
  })

  test('an element that did not change is the very step it was', () => {
    const memo = new PlanMemo()
    const [before, after] = [smallShot, edited(smallShot, setVeil(0.1))].map((shot) =>
      planFrame(shot, 1001, 1, allThere(), memo),
    )
    expect(after.elements.get('front')).toBe(before.elements.get('front'))
    expect(after.elements.get('cg')).not.toBe(before.elements.get('cg'))
  })
})

test('a blurred occlusion pass is open beyond its pixels, so that its edges do not darken the plate', async () => {
  const soft = newTreatment('soften', 'soft', { across: [4], down: [4] })
  const occluded = withElement(only('plate', 'shadow'), 'shadow', { blend: newBlend('occlusion') })
  const shot = treated(occluded, { kind: 'element', id: 'shadow' }, soft)
  // The matte is wholly open: blurring it must change nothing, at its edges neither.
  const open = async (request: FrameRequest) => {
    const frame = await loadMadeUp(request)
    if (request.source !== 'matte') return frame
    return {
      ...frame,
      planes: frame.planes.map((p) => ({ ...p, samples: new Uint16Array(p.samples.length).fill(0x3c00) })),
    }
  }
  const { composite, plate: bare } = plan(shot)
  const engine = localEngine(1, open)
  expect(await engine.light(composite, window)).toEqual(await engine.light(bare, window))
})

test('reveal shows the plate as it is treated', async () => {
  const bright = newTreatment('veil-and-gain', 'bright', { gain: [2, 2, 2] })
  const shot = treated(smallShot, { kind: 'element', id: 'plate' }, bright)
  const out = await localEngine(1).light(plan(shot).composite, { x: 25, y: 75, width: 1, height: 1 })
  const plain = await localEngine(1).light(plan().plate, { x: 25, y: 75, width: 1, height: 1 })
  for (let c = 0; c < 3; c++) expect(out[c]).toBeCloseTo(2 * plain[c], 6)
})

describe('time', () => {
  const timed = (timing: object) => withElement(smallShot, 'cg', { inputs: passInputs('cg', 'beauty', { timing }) })
  const path = (shot: Shot, frame: number) => {
    const step = plan(shot, frame).elements.get('cg')
    return step && framesOf([step]).map(({ request }) => request.path)
  }

  test('an input may be held at, or offset to, another frame', () => {
    expect(path(timed({ held: 1004 }), 1001)).toEqual(['cg.1004.exr'])
    expect(path(timed({ offset: 3 }), 1001)).toEqual(['cg.1004.exr'])
    expect(path(timed({ offset: 3 }), 1008)).toBeUndefined()
    expect(path(timed({ offset: 3, beyond: 'hold' }), 1008)).toEqual(['cg.1008.exr'])
  })

  test('another element as an input shows what it shows, at another time if so', async () => {
    const parameters = parametersFor(inputDescriptions.element)
    const inputs = tableOf<Input>([
      { id: 'x', kind: 'element', parent: null, rank: 'a0', parameters, element: 'cg', timing: { offset: 2 } },
    ])
    const shot = {
      ...smallShot,
      elements: {
        byId: { ...smallShot.elements.byId, copy: newElement('copy', 'Copy', 'a9', newBlend('over'), inputs) },
      },
    }
    expect(plan(shot, 1001).elements.get('copy')?.key).toBe(plan(shot, 1003).elements.get('cg')?.key)
  })
})

describe('input trees', () => {
  const parameters = parametersFor(inputDescriptions.pass)
  const part = (id: string, of: string, parent: string | null, given: object = {}): Input => ({
    id,
    kind: 'pass',
    parent,
    rank: `a${id.length}`,
    parameters: { ...parameters, ...given },
    source: 'cg',
    part: of,
  })
  const tree = (...inputs: Input[]) => withElement(only('plate', 'cg'), 'cg', { inputs: tableOf(inputs) })
  const pixels = async (shot: Shot) => {
    const step = plan(shot).elements.get('cg')
    if (!step) throw new Error('no element')
    return localEngine(1).light(step, { x: 40, y: 70, width: 8, height: 4 })
  }
  const plain = () => pixels(only('plate', 'cg'))

  test('a sum adds light; alpha is that of the part that is named, whose light does not count', async () => {
    const sum: Input = { id: 's', kind: 'sum', parent: null, rank: 'a0', parameters: {}, alpha: 'aa' }
    const [one, two] = [
      await plain(),
      await pixels(tree(sum, part('aa', 'x', 's'), part('b', 'x', 's'), part('ccc', 'x', 's'))),
    ]
    one.forEach((v, i) => expect(two[i]).toBeCloseTo(i % 4 === 3 ? v : 2 * v, 5))
  })

  test('a product multiplies light where it covers', async () => {
    const product: Input = { id: 'p', kind: 'product', parent: null, rank: 'a0', parameters: {} }
    const [one, two] = [await plain(), await pixels(tree(product, part('b', 'x', 'p'), part('cc', 'x', 'p')))]
    for (let i = 0; i < one.length; i += 4) {
      const a = one[i + 3]
      for (let c = 0; c < 3; c++) expect(two[i + c]).toBeCloseTo(a > 0 ? one[i + c] ** 2 / a : one[i + c] ** 2, 4)
      expect(two[i + 3]).toBe(a)
    }
  })

  test('each pass has its own exposure and colour', async () => {
    const [one, two] = [await plain(), await pixels(tree(part('b', 'x', null, { exposure: [1], colour: [1, 0.5, 0] })))]
    one.forEach((v, i) => expect(two[i]).toBeCloseTo([2 * v, v, 0, v][i % 4], 5))
  })

  test('a constant fills the frame, and no more', async () => {
    const constant: Input = {
      id: 'c',
      kind: 'constant',
      parent: null,
      rank: 'a0',
      parameters: { colour: [0.2, 0.4, 0.6], alpha: [0.5] },
    }
    const step = plan(tree(constant)).elements.get('cg')
    if (!step) throw new Error('no element')
    const out = await localEngine(1).light(step, { x: 299, y: 149, width: 2, height: 1 })
    expect([...out].map((v) => Number(v.toFixed(6)))).toEqual([0.1, 0.2, 0.3, 0.5, 0, 0, 0, 0])
  })
})

describe('opacity, groups', () => {
  const group = (opacity: number) => {
    const inside = edited(
      smallShot,
      {
        kind: 'add-element',
        element: newElement('group', 'Group', 'a5', newBlend('over'), groupInputs()),
        treatments: [],
        uses: [],
      },
      { kind: 'move-element', element: 'cg', parent: 'group', rank: 'a0' },
      { kind: 'move-element', element: 'front', parent: 'group', rank: 'a1' },
    )
    return withElement(inside, 'group', { parameters: { opacity: [opacity] } })
  }

  test('half an element is half its light and half its cover', async () => {
    const half = withElement(only('plate', 'cg'), 'cg', { parameters: { opacity: [0.5] } })
    const [all, none, some] = await Promise.all([light(only('plate', 'cg')), light(only('plate')), light(half)])
    some.forEach((v, i) => expect(v).toBeCloseTo((all[i] + none[i]) / 2, 5))
  })

  test('a group that passes through changes nothing', async () => {
    expect(await light(group(1))).toEqual(await light(smallShot))
  })

  test('an isolated group is one picture: at opacity 0 it is not there, at 0.5 half', async () => {
    const behind = await light(only('plate', 'shadow'))
    expect(await light(group(0))).toEqual(behind)
    const at = async (opacity: number) => (await light(group(opacity)))[(75 * 300 + 60) * 4]
    expect(await at(0.5)).toBeCloseTo((behind[(75 * 300 + 60) * 4] + (await at(0.999999))) / 2, 4)
  })
})

describe('limits', () => {
  const gained = newTreatment('veil-and-gain', 'gain', { gain: [3, 3, 3] })
  const matte = { kind: 'source', source: 'matte', part: null, channel: null, lies: 'frame' } as const
  const limited = (limit: ReturnType<typeof newLimit>) => treated(only('plate', 'cg'), cgElement, gained, { limit })

  test('at 0 the input’s bits stand, at 1 the treatment’s, between a mixture', async () => {
    const [none, all] = [await light(only('plate', 'cg')), await light(treated(only('plate', 'cg'), cgElement, gained))]
    const [zero, one, half] = await Promise.all(
      [0, 1, 0.5].map((amount) => light(limited(newLimit(null, { amount: [amount] })))),
    )
    expect(zero).toEqual(none)
    expect(one).toEqual(all)
    half.forEach((v, i) => expect(v).toBeCloseTo((none[i] + all[i]) / 2, 5))
  })

  test('a matte says where, inverted where not; beyond its pixels it is 0', async () => {
    const [none, all] = [await light(only('plate', 'cg')), await light(treated(only('plate', 'cg'), cgElement, gained))]
    const [inside, outside] = await Promise.all([
      light(limited(newLimit(matte))),
      light(limited({ ...newLimit(matte), inverted: true })),
    ])
    const planes = madeUpFrame({ source: 'matte', frame: null })
    const { x, y, width, height } = planes.dataWindow
    for (let py = 45; py < 110; py += 3)
      for (let px = 0; px < 100; px += 3) {
        const covered = px >= x && px < x + width && py >= y && py < y + height
        const m = !covered ? 0 : px < 40 ? 1 : px < 60 ? (60 - px) / 20 : 0
        const i = (py * 300 + px) * 4
        expect(inside[i]).toBeCloseTo(none[i] + (all[i] - none[i]) * m, 3)
        expect(outside[i]).toBeCloseTo(all[i] + (none[i] - all[i]) * m, 3)
      }
  })

  test('an element’s alpha limits too', async () => {
    const lens = treated(smallShot, { kind: 'element', id: 'plate' }, gained, {
      limit: newLimit({ kind: 'element', element: 'cg' }),
    })
    const far = { x: 200, y: 20, width: 4, height: 4 }
    const out = await localEngine(1).light(plan({ ...lens }).composite, far)
    expect(out).toEqual(await localEngine(1).light(plan().plate, far))
  })
})

describe('geometry', () => {
  const shape = { width: 20, height: 10 }
  const small: Shot = { ...only('plate', 'cg'), frameSize: shape }
  /** A CG file of one opaque pixel at 3, 2 of a given size. */
  const file = (width: number, height: number) => async (request: FrameRequest) => {
    const window = { x: 0, y: 0, width, height }
    const dot = request.source === 'cg'
    const planes = ['R', 'G', 'B', ...(dot ? ['A'] : [])].map((name) => ({
      name,
      type: 'float' as const,
      samples: Float32Array.from({ length: width * height }, (_, i) =>
        !dot || (i % width === 3 && i >= 2 * width && i < 3 * width) ? 1 : 0,
      ),
    }))
    return frameAtScale({ dataWindow: window, displayWindow: window, planes }, request)
  }
  const element = async (shot: Shot, width: number, height: number, scale: 1 | 2 = 1) => {
    const step = pictureOf(shot, 1001, scale).elements.get('cg')
    if (!step) throw new Error('no element')
    const window = { x: 0, y: 0, width: 20 / scale, height: 10 / scale }
    return {
      step,
      alpha: (await localEngine(1, file(width, height)).light(step, window)).filter((_, i) => i % 4 === 3),
    }
  }
  const centre = (alpha: Float32Array, width: number) => {
    const sum = alpha.reduce((a, v) => a + v, 0)
    const mean = (f: (i: number) => number) => alpha.reduce((a, v, i) => a + v * f(i), 0) / sum
    return [mean((i) => (i % width) + 0.5), mean((i) => Math.floor(i / width) + 0.5)]
  }

  test('a matte that is enlarged stays within 0 and 1: the filter’s overshoot would make bright rims', async () => {
    const edge = async (request: FrameRequest) => {
      const window = { x: 0, y: 0, width: 10, height: 5 }
      const samples = Float32Array.from({ length: 50 }, (_, i) => (i % 10 < 5 ? 1 : 0))
      const planes = Array.from({ length: 3 }, () => ({ name: 'Y', type: 'float' as const, samples }))
      return frameAtScale({ dataWindow: window, displayWindow: window, planes }, request)
    }
    const shadowed = { ...withSource(only('plate', 'shadow'), 'matte', { enlarge: 2 }), frameSize: shape }
    const step = pictureOf(shadowed, 1001).elements.get('shadow')
    if (!step) throw new Error('no element')
    const out = await localEngine(1, edge).light(step, { x: 0, y: 4, width: 20, height: 1 })
    const values = [...out].filter((_, i) => i % 4 === 0)
    expect(Math.min(...values)).toBeGreaterThanOrEqual(0)
    expect(Math.max(...values)).toBeLessThanOrEqual(1)
    expect(values.some((value) => value > 0.1 && value < 0.9)).toBe(true)
  })

  test('a half-size render is enlarged on its pixel grid: nothing shifts, at half scale nothing is sampled', async () => {
    const half = withSource(small, 'cg', { enlarge: 2 })
    const { alpha } = await element(half, 10, 5)
    const [x, y] = centre(alpha, 20)
    // The middle of pixel 3, 2 is 3.5, 2.5 of the half-size grid.
    expect([x, y]).toEqual([expect.closeTo(7, 4), expect.closeTo(5, 4)])
    expect((await element(half, 10, 5, 2)).step.op).toBe('frame')
  })

  test('pixels of another shape are squeezed about the middle of the frame, not the plate', async () => {
    const wide = withSource(small, 'cg', { pixelAspect: 2 })
    const { alpha } = await element(wide, 10, 10)
    expect(centre(alpha, 20)).toEqual([expect.closeTo(7, 3), expect.closeTo(2.5, 4)])
    expect(plan(withSource(small, 'plate', {})).plate.op).toBe('frame')
  })

  test('a lens map and an enlargement are one sampling', () => {
    const lens = { ...newTreatment('lens-map', 'lens'), sources: { map: 'matte' } }
    const shot = treated(withSource(small, 'cg', { enlarge: 2 }), cgElement, lens)
    let samplings = 0
    const visit = (step: ReturnType<typeof plan>['composite']): void => {
      if (step.op === 'resample') samplings++
      step.inputs.forEach(visit)
    }
    const step = plan(shot).elements.get('cg')
    if (step) visit(step)
    expect(samplings).toBe(1)
  })
})

test('anything on the way can be looked at by itself: a source’s channel, an element up to a treatment, a matte', () => {
  const planning = { shot: smallShot, scale: 1 as const, files: allThere(), memo: new PlanMemo() }
  const depth = nodeAt(planning, { kind: 'source', id: 'cg', part: 'beauty', channels: ['Z'] }, 1001)
  expect(depth?.op === 'frame' && depth.request).toMatchObject({ channels: ['Z'], takes: 'scalar' })
  const bright = { ...planning, shot: edited(smallShot, setVeil(0.1)) }
  const input = nodeAt(bright, { kind: 'element', id: 'cg', upTo: { input: true } }, 1001)
  const after = nodeAt(bright, { kind: 'element', id: 'cg', upTo: { use: 'match' } }, 1001)
  expect([input?.op, after?.op]).toEqual(['frame', 'colour'])
  expect(nodeAt(planning, { kind: 'matte', use: 'match' }, 1001)).toBeNull()
})
