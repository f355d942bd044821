import { channelsFor, frameAtScale } from '../engine/source-frame'
import { type FrameRequest, type Scale } from '../graph/steps'
import { reduceWindow, type Window } from '../image/window'
import { halfTable } from '../kernels/half'
import { localEngine } from '../test/local-engine'
import { loadMadeUp, madeUpFrame, pictureOf, smallShot, treated, withElement } from '../test/small-shot'
import { inputDescriptions } from '../set/owners'
import {
  groupInputs,
  newBlend,
  newElement,
  newPlacing,
  newTreatment,
  parametersFor,
  tableOf,
  type ElementInput,
  type Shot,
} from '../shot'
import { edited, light, only, plan, window } from '../test/planned'
import { mostDifference, sameBits, mostOff } from '../test/windows'

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
    expect(mostOff(some, (i) => (all[i] + none[i]) / 2)).toBeLessThan(5e-6)
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

test('reveal shows the plate as it is treated', async () => {
  const bright = newTreatment('veil-and-gain', 'bright', { gain: [2, 2, 2] })
  const shot = treated(smallShot, { kind: 'element', id: 'plate' }, bright)
  const out = await localEngine(1).light(plan(shot).composite, { x: 25, y: 75, width: 1, height: 1 })
  const plain = await localEngine(1).light(plan().plate, { x: 25, y: 75, width: 1, height: 1 })
  for (let c = 0; c < 3; c++) expect(out[c]).toBeCloseTo(2 * plain[c], 6)
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

describe('a shadow pass in colour', () => {
  const tint = [1, 0.5, 0.25]
  /** The matte's grey, or each channel a part of it. */
  const passOf =
    (channels: readonly string[]) => async (request: FrameRequest, signal?: AbortSignal, part?: Window) => {
      if (request.source !== 'matte') return loadMadeUp(request, signal, part)
      const names = channelsFor(request, channels)
      const made = madeUpFrame(request)
      const tinted = names.map((name) => {
        const { samples } = made.planes[0]
        const share = tint['RGB'.indexOf(name)] ?? 1
        return { name, type: 'float' as const, samples: Float32Array.from(samples, (half) => halfTable[half] * share) }
      })
      return frameAtScale({ ...made, planes: tinted }, request)
    }
  const shot = only('plate', 'shadow')
  const seen = (channels: readonly string[], of = shot, scale: Scale = 1) =>
    localEngine(1, passOf(channels)).light(
      pictureOf(of, 1001, scale).composite,
      scale === 1 ? window : reduceWindow(window, scale),
    )

  test('takes of each channel what that channel says, one in grey as much of all', async () => {
    const [grey, colour, none] = await Promise.all([seen(['Y']), seen(['R', 'G', 'B']), light(only('plate'))])
    const ought = (i: number) => none[i] - tint[i % 4] * (none[i] - grey[i])
    expect(mostOff(colour, (i) => (i % 4 === 3 ? undefined : ought(i)))).toBeLessThan(5e-7)
    expect(mostOff(colour, (i) => (i % 4 === 3 ? none[i] : undefined))).toBe(0)
    expect(mostDifference(grey, colour)).toBeGreaterThan(0.01)
  })

  test('is coverage in every working space, never light of that space', async () => {
    const inSpace = (channels: readonly string[]) => seen(channels, { ...shot, workingSpace: 'acescg' })
    const [grey, colour] = await Promise.all([inSpace(['Y']), inSpace(['R', 'G', 'B'])])
    expect(mostOff(colour, (i) => (i % 4 === 0 ? grey[i] : undefined))).toBe(0)
  })

  test('at half scale is the mean of its pixels, channel by channel', async () => {
    const bare = only('plate')
    const [grey, colour, none] = await Promise.all([
      seen(['Y'], shot, 2),
      seen(['R', 'G', 'B'], shot, 2),
      seen(['Y'], bare, 2),
    ])
    const ought = (i: number) => none[i] - tint[i % 4] * (none[i] - grey[i])
    expect(mostOff(colour, (i) => (i % 4 === 3 ? undefined : ought(i)))).toBeLessThan(5e-7)
  })

  const most = (light: Float32Array) => light.reduce((a, b) => Math.max(a, b), -Infinity)
  const alone = async (of: Shot, channels = ['R', 'G', 'B']) => {
    const step = pictureOf(of, 1001).elements.get('shadow')
    if (!step) throw new Error('It shows nothing.')
    return localEngine(1, passOf(channels)).light(step, window)
  }

  test('covers as much as the most of its channels, and nothing beyond its window', async () => {
    const light = await alone(shot)
    const largest = (i: number) => Math.max(light[i - 3], light[i - 2], light[i - 1])
    expect(mostOff(light, (i) => (i % 4 === 3 ? largest(i) : undefined))).toBe(0)
    expect([...light.slice(0, 4)]).toEqual([0, 0, 0, 0])
    expect(most(light)).toBe(1)
  })

  test('that is moved by part of a pixel stays between nothing and all', async () => {
    const moved = withElement(shot, 'shadow', {
      placing: newPlacing({ x: 20, y: 60, width: 60, height: 50 }, { x: [0.4] }),
    })
    const light = (await alone(moved)).filter((_, i) => i % 4 < 3)
    expect(-most(light.map((value) => -value))).toBeGreaterThanOrEqual(0)
    expect(most(light)).toBeLessThanOrEqual(1)
  })

  test('made of another element is that element’s coverage, and none of its light', async () => {
    const parameters = parametersFor(inputDescriptions.element)
    const input: ElementInput = { id: 'whole', rank: 'a0', kind: 'element', parent: null, parameters, element: 'cg' }
    const cast = withElement(only('plate', 'shadow', 'cg'), 'shadow', { inputs: tableOf([input]) })
    const light = await alone(cast)
    expect(mostOff(light, (i) => light[i - (i % 4)])).toBe(0)
    expect(most(light)).toBe(1)
  })

  test('with coverage of its own is that coverage, and occlusion has its colours too', async () => {
    const made = await seen(['R', 'G', 'B', 'A'])
    expect(sameBits(made, await seen(['A']))).toBe(true)
    const occluded = withElement(shot, 'shadow', { blend: newBlend('occlusion') })
    const [grey, colour] = await Promise.all([seen(['Y'], occluded), seen(['R', 'G', 'B'], occluded)])
    // Where the pass says 1 it is open: only red says so.
    const at = (75 * window.width + 30) * 4
    expect(colour[at]).toBe(grey[at])
    expect(colour[at + 1]).toBeCloseTo(grey[at + 1] / 2, 6)
    expect(colour[at + 2]).toBeCloseTo(grey[at + 2] / 4, 6)
  })
})
