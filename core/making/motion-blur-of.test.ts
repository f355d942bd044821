import { frameAtScale } from '../engine/source-frame'
import type { LoadFrame } from '../engine/source-frame'
import { motionBlurred } from '../flow'
import type { Step } from '../graph/steps'
import { sourceNode } from '../plan/source-node'
import { PlanMemo } from '../plan/memo'
import { parseShot, usersOf, type MotionBlurRecipe, type Shot, type Source } from '../shot'
import { localEngine } from '../test/local-engine'
import { allThere, smallShot } from '../test/small-shot'
import { CannotBeMadeError, inPlace, madeFrames, makeFrame, type Making } from '.'

/** The CG is a textured disc that goes by 6 pixels a frame, and out of the frame on the left; its files reach beyond it. */

const display = { x: 0, y: 0, width: 120, height: 68 }
const file = { x: -40, y: 0, width: 160, height: 68 }
const recipe: MotionBlurRecipe = { kind: 'motion-blur', source: 'cg', part: null, angle: 180 }
const at = (frame: number) => 30 - 6 * (frame - 1001)

const load: LoadFrame = async (request) => {
  const middle = at(request.frame ?? 1001)
  const planes = [0, 1, 2, 3].map((c) => ({
    name: 'RGBA'[c],
    type: 'float' as const,
    samples: Float32Array.from({ length: file.width * file.height }, (_, i) => {
      const [x, y] = [file.x + (i % file.width) + 0.5 - middle, Math.floor(i / file.width) + 0.5 - 34]
      const a = Math.min(1, Math.max(0, 14 - Math.hypot(x, y)))
      return c === 3 ? a : a * (0.3 + 0.1 * Math.sin(x / 2) * Math.cos(y / 3))
    }),
  }))
  return frameAtScale({ dataWindow: file, displayWindow: display, planes }, request)
}
const shot: Shot = { ...smallShot, frameSize: { width: 120, height: 68 }, frames: { first: 1001, last: 1008 } }
function making(of: Shot = shot): Making {
  const engine = localEngine(1, load)
  const memo = new PlanMemo()
  return {
    shot: of,
    planning: (scale) => ({ shot: of, scale, files: allThere(), memo }),
    light: (step, window) => engine.light(step, window),
    heavy: inPlace,
  }
}

function stepAt(frame: number): Step {
  const step = sourceNode(making().planning(1), 'cg', null, undefined, frame)
  if (!step) throw new Error('The disc is not there.')
  return step
}

test('a frame is blurred by the frames around it, beyond the frame too, and its file lies in the frame', async () => {
  const { light, window, display: own } = await makeFrame(making(), recipe, 1005)
  expect(own).toEqual(display)
  expect([window.x, window.y, window.width]).toEqual([-96, -96, 120 + 192])
  const read = async (frame: number) => ({
    ...{ width: window.width, height: window.height },
    light: await localEngine(1, load).light(stepAt(frame), window),
  })
  const [before, picture, after] = await Promise.all([1004, 1005, 1006].map(read))
  expect(light).toEqual(motionBlurred({ picture, before, after }, 0.5))
  // The disc is partly out of the frame: what lies there is made as well.
  const alphaAt = (x: number, y: number) => light[4 * ((y - window.y) * window.width + x - window.x) + 3]
  expect(alphaAt(-3, 34)).toBeGreaterThan(0.9)
  // Its edge is spread over the three pixels that it goes while the shutter is open.
  expect(alphaAt(at(1005) + 13, 34)).toBeGreaterThan(0.05)
  expect(alphaAt(at(1005) + 13, 34)).toBeLessThan(0.95)
})

test('on the first frame it goes on as after it; where the render shows nothing it is empty, and says so', async () => {
  const first = await makeFrame(making(), recipe, 1001)
  expect(first.says).toBe('Blurred by its own motion, 180 degrees.')
  const none = await makeFrame(making(), recipe, 1020)
  expect(none.says).toBe('CG shows nothing at 1020.')
  expect(none.light.every((one) => one === 0)).toBe(true)
})

test('a source that is gone, and a still, are refused with what to do', async () => {
  await expect(makeFrame(making(), { ...recipe, source: 'nothing' }, 1002)).rejects.toThrow(CannotBeMadeError)
  const { cg } = shot.sources.byId
  const one: Shot = {
    ...shot,
    sources: { byId: { ...shot.sources.byId, cg: { ...cg, frames: { first: 1004, last: 1004 } } } },
  }
  await expect(makeFrame(making(one), recipe, 1004)).rejects.toThrow(
    /has one frame only, so nothing is known of its motion/,
  )
})

test('it is a sequence over the shot, kept in the document, and names the render that it is made of', () => {
  expect(madeFrames(recipe, shot)).toEqual(shot.frames)
  const made = {
    ...{ id: 'moving', name: 'Moving', path: 'made/moving/moving.####.exr', frames: shot.frames, made: recipe },
    claims: { encoding: 'linear', primaries: 'rec709', alpha: 'premultiplied' },
  } as Source
  const kept: Shot = { ...shot, sources: { byId: { ...shot.sources.byId, moving: made } } }
  expect(parseShot(JSON.parse(JSON.stringify(kept)), 'small.shot.json')).toEqual(kept)
  expect(usersOf(kept, { kind: 'source', id: 'cg' })).toContain('Moving')
  const wide = { ...made, made: { ...recipe, angle: 900 } }
  const wrong = { ...kept, sources: { byId: { ...kept.sources.byId, moving: wide } } }
  expect(() => parseShot(JSON.parse(JSON.stringify(wrong)), 'small.shot.json')).toThrow(/angle/)
})
