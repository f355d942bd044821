import { newTreatment } from '../shot'
import { smallShot, treated } from '../test/small-shot'
import type { Judged } from './finding'
import { overscan } from './findings-in-pixels'
import type { SourceReport } from './report'

const { width, height } = smallShot.frameSize
const display = { x: 0, y: 0, width, height }
const judged = (shot: typeof smallShot, dataWindow: typeof display, all: readonly SourceReport[] = []) =>
  overscan(
    {
      shot,
      source: shot.sources.byId.cg,
      header: { parts: [{ dataWindow, displayWindow: display }] },
    } as unknown as Judged,
    all,
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

test.each([
  ['downwards', { top: -0.2, bottom: 1 }],
  ['upwards', { top: 0, bottom: 1.2 }],
])('a map whose green grows %s asks for what it names beyond the frame, at the upper edge', (grows, named) => {
  const mapped = treated(
    smallShot,
    { kind: 'glass' },
    { ...newTreatment('lens-map', 'map'), sources: { map: 'matte' } },
  )
  const matte = { ...mapped.sources.byId.matte, ...(grows === 'upwards' ? { greenUp: true as const } : {}) }
  const shot = { ...mapped, sources: { byId: { ...mapped.sources.byId, matte } } }
  const report = { source: 'matte', map: { names: { left: 0, right: 1, ...named }, holes: null, upsideDown: false } }
  const [finding, ...more] = judged(shot, display, [report as unknown as SourceReport])
  expect(more).toEqual([])
  expect(finding.what).toBe(
    `It is rendered too tight for its lens map: ${Math.ceil(0.2 * height)} px short at the upper edge`,
  )
})

test('a lens that bends nothing asks for nothing more', () => {
  expect(judged(treated(smallShot, { kind: 'glass' }, newTreatment('lens', 'lens')), display)).toEqual([])
})
