import { newTreatment } from '../shot'
import { smallShot, treated } from '../test/small-shot'
import type { Judged } from './finding'
import { overscan } from './findings-in-pixels'

const { width, height } = smallShot.frameSize
const display = { x: 0, y: 0, width, height }
const judged = (shot: typeof smallShot, dataWindow: typeof display) =>
  overscan(
    {
      shot,
      source: shot.sources.byId.cg,
      header: { parts: [{ dataWindow, displayWindow: display }] },
    } as unknown as Judged,
    [],
  )
const barrel = { ...newTreatment('lens', 'lens', { k1: [-0.1] }) }
const bent = treated(smallShot, { kind: 'glass' }, barrel)

test('a render that ends at the frame is too tight for a barrel lens by its numbers, and one with overscan is not', () => {
  const [finding] = judged(bent, display)
  expect(finding).toMatchObject({ kind: 'overscan', severity: 'wrong' })
  expect(finding.what).toMatch(/^It is rendered too tight for its lens: \d+ px short on the left/)
  const wide = { x: -40, y: -40, width: width + 80, height: height + 80 }
  expect(judged(bent, wide)).toEqual([])
})

test('a lens that bends nothing asks for nothing more', () => {
  expect(judged(treated(smallShot, { kind: 'glass' }, newTreatment('lens', 'lens')), display)).toEqual([])
})
