import { localEngine } from '../test/local-engine'
import { allThere, pictureOf, smallShot, withSource } from '../test/small-shot'
import { linearFromSrgb } from '../kernels/srgb'
import { planFrame } from '../plan/plan'
import type { Claims } from '../shot'
import type { SourceFrame } from './source-frame'

/** What the claims of a source mean for the pixels the engine makes of it. */

const window = { x: 0, y: 0, width: 1, height: 1 }

/** One pixel of straight 0.5 0.25 1, alpha 0.5, in the type given. */
function onePixel(type: 'float' | 'uint', values: readonly number[]): SourceFrame {
  const array = (value: number) => (type === 'float' ? Float32Array.of(value) : Uint32Array.of(value))
  return {
    decoded: false,
    dataWindow: window,
    displayWindow: window,
    planes: ['R', 'G', 'B', 'A'].slice(0, values.length).map((name, i) => ({ name, type, samples: array(values[i]) })),
  }
}

const claiming = (claims: Partial<Claims>) =>
  withSource(smallShot, 'cg', { claims: { ...smallShot.sources.byId.cg.claims, ...claims }, framing: 'file' })

async function seen(claims: Partial<Claims>, frame: SourceFrame): Promise<number[]> {
  const step = planFrame(claiming(claims), 1001, 1, allThere()).elements.get('cg')
  if (!step) throw new Error('no element')
  return [...(await localEngine(1, async () => frame).light(step, window))]
}

test('premultiplied linear floats come in as they are', async () => {
  expect(await seen({}, onePixel('float', [0.5, -0.25, 3, 0.5]))).toEqual([0.5, -0.25, 3, 0.5])
})

test('straight colour is multiplied by its alpha', async () => {
  expect(await seen({ alpha: 'straight' }, onePixel('float', [0.5, 0.25, 1, 0.5]))).toEqual([0.25, 0.125, 0.5, 0.5])
})

test('sRGB code values become light, and alpha does not', async () => {
  const [r, , b, a] = await seen({ encoding: 'srgb' }, onePixel('float', [0.5, 0.25, 1, 0.5]))
  expect(r).toBeCloseTo(linearFromSrgb(0.5), 6)
  expect(b).toBe(1)
  expect(a).toBe(0.5)
})

test('a picture without alpha is opaque where it has pixels and empty elsewhere', async () => {
  const frame = onePixel('float', [0.5, 0.25, 1])
  expect((await seen({ alpha: 'none' }, frame))[3]).toBe(1)
})

test('unsigned integers count as their number', async () => {
  expect((await seen({}, onePixel('uint', [0, 1, 70000, 1])))[2]).toBe(70000)
})

test('claims are part of the key, so that a changed claim takes effect at once', () => {
  const keyOf = (claims: Partial<Claims>) => pictureOf(claiming(claims), 1001).composite.key
  expect(
    new Set([keyOf({}), keyOf({ encoding: 'srgb' }), keyOf({ alpha: 'straight' }), keyOf({ alpha: 'none' })]).size,
  ).toBe(4)
})
