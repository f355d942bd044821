import { localEngine } from '../../../core/test/local-engine'
import { frameSize, pictureOf, smallShot } from '../../../core/test/small-shot'
import { PictureMaker } from './picture-maker'

const step = (frame: number) => pictureOf(smallShot, frame).composite
const view = { exposure: 1, channel: 'all', encoding: 'srgb' } as const

test('a picture made once is there at once, for the same step, size and view only', async () => {
  const maker = new PictureMaker(localEngine(1))
  expect(maker.ready(step(1001), frameSize, view)).toBeNull()
  const made = await maker.all(step(1001), frameSize, view)
  expect(made).toHaveLength(frameSize.width * frameSize.height * 4)
  expect(maker.ready(step(1001), frameSize, view)).toBe(made)
  expect(await maker.all(step(1001), frameSize, view)).toBe(made)
  expect(maker.ready(step(1002), frameSize, view)).toBeNull()
  expect(maker.ready(step(1001), frameSize, { ...view, exposure: 2 })).toBeNull()
  expect(maker.ready(step(1001), { width: 10, height: 10 }, view)).toBeNull()
})

test('the pictures used longest ago make room for new ones', async () => {
  const bytes = frameSize.width * frameSize.height * 4
  const maker = new PictureMaker(localEngine(1), 2 * bytes)
  for (const frame of [1001, 1002, 1003]) await maker.all(step(frame), frameSize, view)
  expect([1001, 1002, 1003].map((frame) => maker.ready(step(frame), frameSize, view) !== null)).toEqual([
    false,
    true,
    true,
  ])
})
