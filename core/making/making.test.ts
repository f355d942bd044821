import type { LoadFrame } from '../engine/source-frame'
import { frameAtScale } from '../engine/source-frame'
import { absent } from '../plan/catalog'
import { PlanMemo } from '../plan/memo'
import { planFrame } from '../plan/plan'
import {
  applyEdit,
  matteBase,
  newBlend,
  newElement,
  newPaintedMatte,
  passInputs,
  usersOf,
  type Change,
  type CleanPlateRecipe,
  type Matte,
  type Shot,
  type SoftMatteRecipe,
  type Source,
} from '../shot'
import { CannotBeMadeError, inPlace, madeFrames, makeFrame, type Making } from '.'
import { localEngine } from '../test/local-engine'
import { allThere, smallShot } from '../test/small-shot'
import { walkingFigure } from '../test/walking-figure'

/** The small shot's plate is a wall that somebody walks along. */

const [width, height] = [120, 68]
const scene = walkingFigure(width, height, 3, { frames: 8, sigma: 0.004, lingers: 0.3 })
/** On every later frame the camera has moved by so much. */
const shake = (frame: number) => [Math.round(3 * Math.sin(frame)), Math.round(2 * Math.cos(frame))] as const

const load =
  (shaken: boolean): LoadFrame =>
  async (request) => {
    const window = { x: 0, y: 0, width, height }
    const f = (request.frame ?? 1001) - 1001
    const [dx, dy] = shaken && f > 0 ? shake(f) : [0, 0]
    const planes = [0, 1, 2].map((c) => ({
      name: 'RGB'[c],
      type: 'float' as const,
      samples: Float32Array.from({ length: width * height }, (_, i) => {
        const x = Math.min(width - 1, Math.max(0, (i % width) - dx))
        const y = Math.min(height - 1, Math.max(0, Math.floor(i / width) - dy))
        return scene.frames[f][(y * width + x) * 4 + c]
      }),
    }))
    return frameAtScale({ dataWindow: window, displayWindow: window, planes }, request)
  }

const base: Shot = { ...smallShot, frameSize: { width, height }, frames: { first: 1001, last: 1008 } }
const cleaned: CleanPlateRecipe = { kind: 'clean-plate', source: 'plate', part: null, from: 1001, to: 1008, step: 1 }
const newSource = (made: Source['made']): Source => ({
  id: 'made',
  name: 'Made',
  path: 'made/made.exr',
  frames: null,
  claims: { encoding: 'linear', primaries: 'rec709', alpha: 'premultiplied' },
  made,
})
const after = (shot: Shot, ...changes: readonly Change[]) =>
  changes.reduce((now, change) => applyEdit(now, change).shot, shot)

function making(shot: Shot, shaken = false, memo = new PlanMemo()): Making {
  const engine = localEngine(1, load(shaken))
  const files = allThere()
  return {
    shot,
    planning: (scale) => ({ shot, scale, files, memo }),
    light: (step, window) => engine.light(step, window),
    heavy: inPlace,
  }
}

/** Share of pixels away from the border whose error is below a level. */
function close(light: Float32Array, level: number, border = 1) {
  let [good, all] = [0, 0]
  for (let y = border; y < height - border; y++)
    for (let x = border; x < width - border; x++, all++) {
      const i = (y * width + x) * 4
      if ([0, 1, 2].every((c) => Math.abs(light[i + c] - scene.wall[i + c]) < level)) good++
    }
  return good / all
}

test('a clean plate of the plate’s frames', async () => {
  const { light, window, says } = await makeFrame(making(base), cleaned, 1)
  expect(window).toEqual({ x: 0, y: 0, width, height })
  expect(close(light, 0.008)).toBeGreaterThan(0.99)
  expect(says).toBe('Joined from 8 frames.')
})

test('every second frame, and frames that are not there are left out', async () => {
  const { says } = await makeFrame(making(base), { ...cleaned, step: 2 }, 1)
  expect(says).toBe('Joined from 4 frames.')
  const source = { ...base.sources.byId.plate, frames: { first: 1001, last: 1005 } }
  const short = { ...base, sources: { byId: { ...base.sources.byId, plate: source } } }
  expect((await makeFrame(making(short), cleaned, 1)).says).toBe('Joined from 5 frames.')
})

test('a shaking camera’s frames are laid over each other as a track moves', async () => {
  const points = Object.fromEntries(
    Array.from({ length: 8 }, (_, f) => {
      const [dx, dy] = f > 0 ? shake(f) : [0, 0]
      return [1001 + f, { x: 60.5 + dx, y: 30.5 + dy, byHand: true as const }]
    }),
  )
  const shot = { ...base, tracks: { byId: { corner: { ...base.tracks.byId.corner, points } } } }
  const pin = { tracks: ['corner'], frame: 1001, by: 'position' } as const
  const still = await makeFrame(making(shot, true), { ...cleaned, pin }, 1)
  const shaken = await makeFrame(making(shot, true), cleaned, 1)
  expect(close(still.light, 0.01, 4)).toBeGreaterThan(0.98)
  expect(close(shaken.light, 0.01, 4)).toBeLessThan(0.9)
})

test('what a matte covers is left out', async () => {
  const strokes = {
    byId: { one: { id: 'one', rank: 'a0', points: [20, 20, 40, 20], radius: 6, hardness: 1, how: 'add' } },
  }
  const shot = after(base, {
    kind: 'add-matte',
    matte: { ...newPaintedMatte(base), id: 'spot', strokes } as Matte,
  })
  const { light, says } = await makeFrame(making(shot), { ...cleaned, without: 'spot' }, 1)
  // It covers the place on all frames: nothing is known of it.
  expect(light[(20 * width + 30) * 4 + 3]).toBe(0)
  expect(says).toMatch(/^Joined from 8 frames\. \d+ pixels are covered on all of them and are empty: take more frames/)
})

test.each([
  ['a source that is gone', { ...cleaned, source: 'none' }, /source that is gone\. Choose another one on its card/],
  ['a matte that is gone', { ...cleaned, without: 'none' }, /matte of what is left out is gone/],
  [
    'a track that is gone',
    { ...cleaned, pin: { tracks: ['none'], frame: 1001, by: 'position' } } as CleanPlateRecipe,
    /cannot be laid over each other/,
  ],
])('%s is said', async (_name, recipe, sentence) => {
  await expect(makeFrame(making(base), recipe, 1)).rejects.toThrow(CannotBeMadeError)
  await expect(makeFrame(making(base), recipe, 1)).rejects.toThrow(sentence)
})

describe('a soft matte', () => {
  const outline = scene.covered[3]
  /** A square of the wall's middle. */
  const square: Matte = {
    ...matteBase(base, 'painted'),
    id: 'figure',
    strokes: {
      byId: { one: { id: 'one', rank: 'a0', points: [30, 36, 60, 36], radius: 9, hardness: 1, how: 'add' } },
    },
  } as Matte
  const shot = after(base, { kind: 'add-matte', matte: square })
  const recipe: SoftMatteRecipe = { kind: 'soft-matte', element: 'plate', matte: 'figure', inside: 4, outside: 4 }

  test('inside stand the picture’s own bits, outside nothing, between them a share', async () => {
    expect(outline.some((a) => a === 1)).toBe(true)
    const { light, says } = await makeFrame(making(shot), recipe, 1004)
    const at = (x: number, y: number) => [...light.subarray((y * width + x) * 4, (y * width + x) * 4 + 4)]
    const own = (x: number, y: number) => [...scene.frames[3].subarray((y * width + x) * 4, (y * width + x) * 4 + 4)]
    expect(at(45, 36)).toEqual(own(45, 36))
    expect(at(45, 10)).toEqual([0, 0, 0, 0])
    for (let y = 20; y < 52; y++) {
      const [r, , , a] = at(45, y)
      expect(a).toBeGreaterThanOrEqual(0)
      expect(a).toBeLessThanOrEqual(1)
      expect(r).toBeGreaterThanOrEqual(0)
    }
    expect(says).toMatch(/^\d+ % of the frame was unsure\.$/)
  })

  test('more that is unsure is told by another matte', async () => {
    const wide = after(shot, {
      kind: 'add-matte',
      matte: {
        ...square,
        id: 'hair',
        strokes: {
          byId: { one: { id: 'one', rank: 'a0', points: [45, 10, 46, 10], radius: 8, hardness: 1, how: 'add' } },
        },
      } as Matte,
    })
    const share = async (one: SoftMatteRecipe) =>
      Number(/^\d+/.exec((await makeFrame(making(wide), one, 1004)).says)?.[0])
    expect(await share({ ...recipe, band: 'hair' })).toBeGreaterThan(await share(recipe))
  })

  test.each([
    [{ ...recipe, inside: 40 }, /^Frame 1004: Nothing is surely inside\. Draw the outline larger/],
    [{ ...recipe, matte: 'none' }, /matte that it is made by is gone/],
    [{ ...recipe, element: 'none' }, /element that is gone/],
    [{ ...recipe, inside: 8, outside: 64 }, /Nothing is surely outside|% of the frame is unsure/],
  ])('what leaves nothing to go by is said (%#)', async (one, sentence) => {
    await expect(makeFrame(making(shot), one, 1004)).rejects.toThrow(sentence)
  })
})

test('a recipe is part of the document: it is checked, named by what it uses, and changed by an edit', () => {
  const shot = after(base, { kind: 'add-source', source: newSource({ ...cleaned, without: 'post' }) })
  expect(usersOf(shot, { kind: 'source', id: 'plate' })).toContain('Made')
  expect(usersOf(shot, { kind: 'matte', id: 'post' })).toContain('Made')
  const set = (made: unknown): Change => ({ kind: 'set-source', source: 'made', changes: { made } }) as Change
  expect(after(shot, set({ ...cleaned, step: 3 })).sources.byId.made.made).toMatchObject({ step: 3 })
  expect(() => after(shot, set({ ...cleaned, step: 0 }))).toThrow(/step/)
  expect(() => after(shot, set({ ...cleaned, from: 1009 }))).toThrow(/from a frame to a later one/)
  expect(() => after(shot, set({ kind: 'guess' }))).toThrow(/kind/)
  expect(() => after(shot, set({ ...cleaned, source: 'made' }))).toThrow(/made of itself/)
  expect([madeFrames(cleaned, shot), madeFrames({ kind: 'soft-matte' } as never, shot)]).toEqual([null, shot.frames])
})

test('before it is made an element of it shows nothing, and says what to do; the rest of the picture is made', () => {
  const shot = after(
    base,
    { kind: 'add-source', source: newSource(cleaned) },
    {
      kind: 'add-element',
      element: newElement('patch', 'Patch', 'a9', newBlend('over'), passInputs('made')),
      treatments: [],
      uses: [],
    },
  )
  const wanting = allThere(({ id }) => (id === 'made' ? absent : 'there'))
  const { composite, problems } = planFrame(shot, 1001, 1, wanting)
  expect(composite).not.toBeNull()
  expect(problems).toEqual([
    {
      at: { kind: 'source', id: 'made' },
      sentence: 'Made is not made yet.',
      remedy: 'Select it among the sources and make it.',
      missing: 'part',
    },
  ])
  expect(planFrame(shot, 1001, 1, allThere()).problems).toEqual([])
})
