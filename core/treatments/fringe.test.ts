import { frameAtScale, type SourceFrame } from '../engine/source-frame'
import type { FrameRequest } from '../graph/steps'
import type { Window } from '../image/window'
import { planFrame } from '../plan/plan'
import { newTreatment, type Shot } from '../shot'
import { localEngine } from '../test/local-engine'
import { allThere, smallShot, treated, withElement } from '../test/small-shot'
import { lightIn, mostDifference, sameBits } from '../test/windows'

/** Red and blue of an element drawn larger and smaller than green, beside the same drawn so by a closed form. */

const { abs, cos, exp, hypot, sin } = Math
const size = { width: 300, height: 150 }
/** The element's pixels do not begin at 0, 0. */
const own: Window = { x: 20, y: 10, width: 250, height: 130 }

const coverage = (x: number, y: number) => 1 / (1 + exp((hypot(x - 160, y - 74) - 38) / 2))
const tone = { R: 0.3, G: 0.22, B: 0.4 } as Record<string, number>
const lit = (name: string, x: number, y: number) => tone[name] * (1 + 0.4 * sin(x / 7) * cos(y / 9))
const value = (name: string, x: number, y: number) => (name === 'A' ? coverage(x, y) : coverage(x, y) * lit(name, x, y))

const load =
  (of: (name: string, x: number, y: number) => number = value) =>
  async (request: FrameRequest): Promise<SourceFrame> => {
    const isPlate = request.source !== 'cg'
    const window = isPlate ? { x: 0, y: 0, ...size } : own
    const planes = (isPlate ? ['R', 'G', 'B'] : ['R', 'G', 'B', 'A']).map((name) => ({
      ...{ name, type: 'float' as const },
      samples: Float32Array.from({ length: window.width * window.height }, (_, i) =>
        isPlate ? 0.1 : of(name, window.x + (i % window.width) + 0.5, window.y + Math.floor(i / window.width) + 0.5),
      ),
    }))
    return frameAtScale({ dataWindow: window, displayWindow: { x: 0, y: 0, ...size }, planes }, request)
  }

const bell = { kind: 'element', id: 'cg' } as const
const withFringe = (red: number, blue: number, more: Partial<Record<string, number[]>> = {}, shot: Shot = smallShot) =>
  treated(shot, bell, newTreatment('fringe', 'fringe', { red: [red], blue: [blue], ...more }))

async function seen(
  shot: Shot,
  { scale = 1 as 1 | 2, of = value, at }: { scale?: 1 | 2; of?: typeof value; at?: Window } = {},
) {
  const plan = planFrame(shot, 1001, scale, allThere())
  const step = plan.elements.get('cg')
  if (!step) throw new Error('The element is not there.')
  const window = at ?? { x: 0, y: 0, width: size.width / scale, height: size.height / scale }
  return localEngine(1, load(of), 64).light(step, window)
}

/** How far a channel is at most from the closed form, drawn larger by a share, inside the frame. */
function off(found: Float32Array, c: number, share: number, [cx, cy] = [150, 75], scale = 1): number {
  const name = ['R', 'G', 'B', 'A'][c]
  let most = 0
  const [width, height] = [size.width / scale, size.height / scale]
  for (let y = 8; y < height - 8; y++)
    for (let x = 8; x < width - 8; x++) {
      const [u, v] = [(x + 0.5) * scale, (y + 0.5) * scale]
      const expected = value(name, cx + (u - cx) / (1 + share), cy + (v - cy) / (1 + share))
      most = Math.max(most, abs(found[(y * width + x) * 4 + c] - expected))
    }
  return most
}

test('red is larger and blue smaller by as much as is set, green and coverage keep every bit', async () => {
  const [plain, parted] = [await seen(smallShot), await seen(withFringe(1, -0.8))]
  expect(off(parted, 0, 0.01)).toBeLessThan(2e-3)
  expect(off(parted, 2, -0.008)).toBeLessThan(2e-3)
  // A tenth of that would be seen.
  expect(off(parted, 0, 0.0085)).toBeGreaterThan(3e-3)
  for (const c of [1, 3])
    expect(
      sameBits(
        plain.filter((_, i) => i % 4 === c),
        parted.filter((_, i) => i % 4 === c),
      ),
    ).toBe(true)
})

test('about another centre, at half scale and in another working space it is the same', async () => {
  const shot = withFringe(1, -0.8, { x: [-40], y: [20] })
  expect(off(await seen(shot), 0, 0.01, [110, 95])).toBeLessThan(2e-3)
  expect(off(await seen(shot, { scale: 2 }), 0, 0.01, [110, 95], 2)).toBeLessThan(6e-3)
  const grey = (_name: string, x: number, y: number) => value('A', x, y)
  const here = await seen(shot, { of: grey })
  const there = await seen({ ...shot, workingSpace: 'acescg' }, { of: grey })
  expect(
    mostDifference(
      here.filter((_, i) => i % 4 !== 0),
      there.filter((_, i) => i % 4 !== 0),
    ),
  ).toBeLessThan(0.03)
  expect(there.every(Number.isFinite)).toBe(true)
})

test('at 0 nothing is sampled anew: every bit stands', async () => {
  expect(sameBits(await seen(withFringe(0, 0)), await seen(smallShot))).toBe(true)
})

test('a transparent element stays empty, and light without coverage is moved as light is', async () => {
  const nothing = await seen(withFringe(1, 1), { of: () => 0 })
  expect(nothing.every((one) => one === 0)).toBe(true)
  const light = (name: string, x: number, y: number) => (name === 'A' ? 0 : value(name, x, y))
  const flare = await seen(withFringe(1, -0.8), { of: light })
  expect(off(flare, 0, 0.01)).toBeLessThan(2e-3)
  expect(flare.every((one, i) => i % 4 !== 3 || one === 0)).toBe(true)
})

test('any part is that part of the whole', async () => {
  const shot = withFringe(0.7, -0.3)
  const part = { x: 93, y: 41, width: 61, height: 37 }
  const whole = await seen(shot)
  expect(mostDifference(lightIn(whole, { x: 0, y: 0, ...size }, part), await seen(shot, { at: part }))).toBe(0)
})

test('behind a lens, and with what places the element, each channel is sampled once', async () => {
  const lens = newTreatment('lens', 'lens', { k1: [-0.1] })
  const placed = withElement(smallShot, 'cg', {})
  const both = treated(withFringe(0.6, -0.6, {}, placed), bell, lens)
  const step = planFrame(both, 1001, 1, allThere()).elements.get('cg')
  const samplings = new Set<string>()
  const visit = (one: NonNullable<typeof step>, above: number): number => {
    if (one.op === 'resample') samplings.add(one.key)
    const here = above + (one.op === 'resample' ? 1 : 0)
    return Math.max(here, ...one.inputs.map((input) => visit(input, here)))
  }
  expect(step && visit(step, 0)).toBe(1)
  expect(samplings.size).toBe(3)
  // In whichever order they stand.
  const other = treated(
    treated(placed, bell, lens),
    bell,
    newTreatment('fringe', 'fringe', { red: [0.6], blue: [-0.6] }),
  )
  expect(planFrame(other, 1001, 1, allThere()).elements.get('cg')?.key).toBe(step?.key)
})

test('one in the glass acts on every element but the plate, beside a lens of the element’s own', () => {
  const glass = treated(smallShot, { kind: 'glass' }, newTreatment('fringe', 'fringe', { red: [0.5], blue: [0] }))
  const plan = (shot: Shot) => planFrame(shot, 1001, 1, allThere())
  expect(plan(glass).plate?.key).toBe(plan(smallShot).plate?.key)
  expect(plan(glass).elements.get('cg')?.key).not.toBe(plan(smallShot).elements.get('cg')?.key)
  // A shadow is one channel: it goes with green.
  expect(plan(glass).elements.get('shadow')?.key).toBe(plan(smallShot).elements.get('shadow')?.key)
  const bent = treated(smallShot, bell, newTreatment('lens', 'lens', { k1: [-0.1] }))
  const bentGlass = treated(glass, bell, newTreatment('lens', 'lens', { k1: [-0.1] }))
  expect(plan(bentGlass).elements.get('cg')?.key).not.toBe(plan(bent).elements.get('cg')?.key)
})
