/** What the shot's glass does to elements, and its sensor to the picture where it is not the plate. */

import { type FrameRequest, type Scale } from '../graph/steps'
import { frameAtScale } from '../engine/source-frame'
import { newBlend, newElement, newTreatment, type Shot, type Use } from '../shot'
import { localEngine } from '../test/local-engine'
import { edited, light, only, plan, window } from '../test/planned'
import { allThere, frameSize, loadMadeUp, smallShot, treated, withElement, withSource } from '../test/small-shot'
import { planFrame } from './plan'
import { mostOff } from '../test/windows'

const glass: Use['owner'] = { kind: 'glass' }
const sensor: Use['owner'] = { kind: 'sensor' }
const soft = (id: string, sigma: number) => newTreatment('soften', id, { across: [sigma], down: [sigma] })
const onElement = (id: string): Use['owner'] => ({ kind: 'element', id })

describe('glass', () => {
  test('acts on every element as a treatment of its own would, and never on the plate', async () => {
    const shared = treated(smallShot, glass, soft('glass', 1.3))
    const each = ['shadow', 'cg', 'front'].reduce(
      (shot, id) => treated(shot, onElement(id), soft(`own-${id}`, 1.3)),
      smallShot,
    )
    expect(await light(shared)).toEqual(await light(each))
    expect(await light(treated(only('plate'), glass, soft('glass', 1.3)))).toEqual(await light(only('plate')))
  })

  test('leaves out an element that has the treatment itself, that was filmed, or that shows another one', async () => {
    const own = treated(only('plate', 'cg'), onElement('cg'), soft('own', 0.6))
    expect(await light(treated(own, glass, soft('glass', 3)))).toEqual(await light(own))
    const filmed = edited(only('plate', 'cg'), { kind: 'set-own-glass', element: 'cg', own: true })
    expect(await light(treated(filmed, glass, soft('glass', 3)))).toEqual(await light(only('plate', 'cg')))
    const inputs = {
      byId: { a: { id: 'a', kind: 'element', element: 'cg', parent: null, rank: 'a0', parameters: {} } },
    } as const
    const twice = (shot: Shot) =>
      edited(withElement(shot, 'cg', { visible: false }), {
        kind: 'add-element',
        element: newElement('copy', 'Copy', 'a9', newBlend('over'), inputs as never),
        treatments: [],
        uses: [],
      })
    expect(await light(twice(treated(only('plate', 'cg'), glass, soft('glass', 1.1))))).toEqual(
      await light(treated(only('plate', 'cg'), glass, soft('glass', 1.1))),
    )
  })

  test('lets no matte glow', async () => {
    const glow = newTreatment('glow', 'glow', { threshold: [0], width: [8], amount: [1, 1, 1] })
    expect(await light(treated(only('plate', 'shadow'), glass, glow))).toEqual(await light(only('plate', 'shadow')))
    expect(await light(treated(only('plate', 'cg'), glass, glow))).not.toEqual(await light(only('plate', 'cg')))
  })

  test('takes only what belongs there', () => {
    const use = { id: 'g', rank: 'a0', owner: glass, treatment: 'g', on: true, limit: null } as const
    expect(() => edited(smallShot, { kind: 'add-treatment', settings: newTreatment('grain', 'g'), use })).toThrow(
      'Grain does not belong to the glass.',
    )
  })
})

/** Everything even, so that the noise is all that differs: a plate of `level`, CG and matte as given. */
function even(level: number, cg: readonly [light: number, alpha: number], matte = 1) {
  return async (request: FrameRequest) => {
    const width = 256
    const flat = (names: readonly string[], value: (name: string) => number) => ({
      dataWindow: { x: 0, y: 0, width, height: width },
      displayWindow: { x: 0, y: 0, ...frameSize },
      planes: names.map((name) => ({
        name,
        type: 'float' as const,
        samples: new Float32Array(width * width).fill(value(name)),
      })),
    })
    const file =
      request.source === 'plate'
        ? flat(['R', 'G', 'B'], () => level)
        : request.source === 'matte'
          ? flat(['Y', 'Y', 'Y'].slice(0, request.takes === 'scalar' ? 1 : 3), () => matte)
          : flat(['R', 'G', 'B', 'A'], (name) => (name === 'A' ? cg[1] : cg[0]))
    return frameAtScale({ ...file, fileWindow: file.dataWindow }, request)
  }
}

const grain = newTreatment('grain', 'recording', { shot: [4, 4, 4], read: [10, 10, 10] })
/** its variance at a light, full scale */
const variance = (light: number) => 0.004 * light + 0.01 ** 2

async function noiseOf(shot: Shot, load: ReturnType<typeof even>, scale: Scale = 1) {
  const at = { x: 8, y: 8, width: 128 / scale, height: 128 / scale }
  const engine = localEngine(1, load)
  const take = async (one: Shot) => {
    const { composite } = planFrame(one, 1003, scale, allThere())
    if (!composite) throw new Error('nothing to show')
    return engine.light(composite, at)
  }
  const [clean, noisy] = [await take(shot), await take(treated(shot, sensor, grain))]
  const out = noisy.filter((_, i) => i % 4 === 1).map((v, i) => v - clean[4 * i + 1])
  const mean = out.reduce((sum, v) => sum + v, 0) / out.length
  return {
    light: clean[1],
    variance: out.reduce((sum, v) => sum + (v - mean) ** 2, 0) / out.length,
    changed: out.some((v) => v !== 0),
  }
}
/** of a variance of 16,384 normal numbers: four standard errors */
const within = (got: number, wanted: number) =>
  expect(Math.abs(got / wanted - 1)).toBeLessThan(4 * Math.sqrt(2 / 16384))

describe('sensor', () => {
  test('the plate keeps its bits, also where an element is empty', async () => {
    const bare = await light(only('plate'))
    expect(await light(treated(only('plate'), sensor, grain))).toEqual(bare)
    const picture = await light(treated(smallShot, sensor, grain))
    const clean = await light(smallShot)
    // Untouched: far from CG and matte.
    for (const [x, y] of [
      [3, 3],
      [250, 20],
      [280, 140],
    ])
      for (let c = 0; c < 4; c++) {
        const i = (y * window.width + x) * 4 + c
        expect(Object.is(picture[i], bare[i])).toBe(true)
      }
    expect(picture).not.toEqual(clean)
  })

  test('CG that covers wholly gets the grain of its light', async () => {
    const { light: at, variance: found } = await noiseOf(only('plate', 'cg'), even(0.1, [0.3, 1]))
    expect(at).toBeCloseTo(0.3, 5)
    within(found, variance(0.3))
  })

  test('half cover: what is missing beside the half of the plate’s own grain', async () => {
    const { light: at, variance: found } = await noiseOf(only('plate', 'cg'), even(0.2, [0.1, 0.5]))
    expect(at).toBeCloseTo(0.2, 5)
    within(found, variance(0.2) - 0.25 * variance(0.2))
  })

  test('a shadow takes grain away with the light: some of it comes back, and no more', async () => {
    const dark = withElement(only('plate', 'shadow'), 'shadow', {
      blend: newBlend('shadow', { ratio: [0.4, 0.4, 0.4] }),
    })
    const { light: at, variance: found } = await noiseOf(dark, even(0.3, [0, 0]))
    expect(at).toBeCloseTo(0.12, 5)
    within(found, variance(0.12) - 0.4 ** 2 * variance(0.3))
  })

  test('light without cover brings the grain of the light it adds', async () => {
    const { light: at, variance: found } = await noiseOf(only('plate', 'cg'), even(0.1, [0.4, 0]))
    expect(at).toBeCloseTo(0.5, 5)
    within(found, variance(0.5) - variance(0.1))
  })

  test('what stands in front shows the plate with its own grain and no more', async () => {
    const shot = only('plate', 'cg', 'front')
    const { changed } = await noiseOf(shot, even(0.1, [0.4, 1], 1))
    expect(changed).toBe(false)
  })

  test('at half scale the deviation is half, since four pixels are one', async () => {
    const { variance: found } = await noiseOf(only('plate', 'cg'), even(0.1, [0.3, 1]), 2)
    expect(Math.abs(found / (variance(0.3) / 4) - 1)).toBeLessThan(4 * Math.sqrt(2 / 4096))
  })

  test('in a second working space, and for files whose origin is elsewhere, the plate keeps its bits', async () => {
    const other = withSource({ ...only('plate', 'cg'), workingSpace: 'acescg' }, 'cg', { framing: 'file' })
    const [bare, picture] = [
      await light({ ...only('plate'), workingSpace: 'acescg' }),
      await light(treated(other, sensor, grain)),
    ]
    const i = (20 * window.width + 250) * 4
    expect(picture.slice(i, i + 4)).toEqual(bare.slice(i, i + 4))
    expect(picture).not.toEqual(await light(other))
  })

  test('softness stays where the picture is not the plate', async () => {
    const bare = await light(only('plate'))
    const picture = await light(treated(smallShot, sensor, soft('recorded', 1.5)))
    const clean = await light(smallShot)
    const isPlate = (i: number) => clean[i] === bare[i] && clean[i + 1] === bare[i + 1] && clean[i + 2] === bare[i + 2]
    expect(mostOff(picture, (i) => (i % 4 < 3 && isPlate(i - (i % 4)) ? bare[i] : undefined))).toBe(0)
    expect(picture).not.toEqual(clean)
  })
})

test('a source for comparing only is in no picture, and says so', () => {
  const { composite, problems } = planFrame(withSource(smallShot, 'cg', { forComparing: true }), 1003, 1, allThere())
  expect(composite?.key).toBe(plan(only('plate', 'shadow', 'front'), 1003, 'there').composite.key)
  expect(problems.map(({ sentence }) => sentence)).toEqual([
    'CG is made of CG, which is for comparing only: it is in no picture and no delivery.',
  ])
  const plateOnly = planFrame(withSource(smallShot, 'plate', { forComparing: true }), 1003, 1, allThere())
  expect(plateOnly.composite).toBeNull()
})

describe('reveal of another source', () => {
  const clean = {
    id: 'clean',
    name: 'Clean plate',
    path: 'plate.####.exr',
    frames: smallShot.frames,
    claims: { ...smallShot.sources.byId.plate.claims, encoding: 'srgb' },
  } as const
  const withClean = edited(smallShot, { kind: 'add-source', source: clean })

  test('shows its pixels where the matte is, and the picture elsewhere', async () => {
    const shot = edited(withClean, { kind: 'set-reveal', element: 'front', shows: { source: 'clean', part: null } })
    const load: typeof loadMadeUp = async (request, signal, part) =>
      loadMadeUp({ ...request, source: request.source === 'clean' ? 'plate' : request.source }, signal, part)
    const engine = localEngine(1, load)
    const [picture, plate, alone] = await Promise.all(
      [plan(shot).composite, plan(only('plate')).composite, plan(only('plate', 'shadow', 'cg')).composite].map((step) =>
        engine.light(step, window),
      ),
    )
    const source = await engine.light(
      plan(withSource(only('plate'), 'plate', { claims: clean.claims })).composite,
      window,
    )
    const at = (x: number, y: number) => (y * window.width + x) * 4
    expect(picture.slice(at(25, 80), at(26, 80))).toEqual(source.slice(at(25, 80), at(26, 80)))
    expect(picture.slice(at(25, 80), at(26, 80))).not.toEqual(plate.slice(at(25, 80), at(26, 80)))
    expect(picture.slice(at(100, 20), at(120, 20))).toEqual(alone.slice(at(100, 20), at(120, 20)))
  })

  test('a source that is gone, or for comparing only, is said, and nothing is revealed', () => {
    const shot = edited(withClean, { kind: 'set-reveal', element: 'front', shows: { source: 'clean', part: null } })
    const without = plan(only('plate', 'shadow', 'cg')).composite.key
    for (const broken of [
      edited(shot, { kind: 'remove-source', source: 'clean' }),
      edited(shot, { kind: 'set-source', source: 'clean', changes: { forComparing: true } }),
    ]) {
      const { composite, problems } = planFrame(broken, 1001, 1, allThere('a'))
      expect(composite?.key).toBe(without)
      expect(problems[0].sentence).toMatch(/^Front reveals .+, which shows nothing at frame 1001\.$/)
    }
    expect(() => edited(shot, { kind: 'set-reveal', element: 'cg', shows: null })).toThrow(
      'CG does not reveal anything',
    )
  })
})
