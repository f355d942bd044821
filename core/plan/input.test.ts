import { localEngine } from '../test/local-engine'
import { withElement } from '../test/small-shot'
import { parametersFor, tableOf, type Input, type Shot } from '../shot'
import { inputDescriptions } from '../set/owners'
import { only, plan } from '../test/planned'
import { mostOff } from '../test/windows'

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
  const pixels = async (shot: Shot, x = 40) => {
    const step = plan(shot).elements.get('cg')
    if (!step) throw new Error('no element')
    return localEngine(1).light(step, { x, y: 70, width: 8, height: 4 })
  }
  const plain = (x?: number) => pixels(only('plate', 'cg'), x)

  test('a sum adds light; alpha is that of the part that is named, whose light does not count', async () => {
    const sum: Input = { id: 's', kind: 'sum', parent: null, rank: 'a0', parameters: {}, alpha: 'aa' }
    const [one, two] = [
      await plain(),
      await pixels(tree(sum, part('aa', 'x', 's'), part('b', 'x', 's'), part('ccc', 'x', 's'))),
    ]
    expect(mostOff(two, (i) => (i % 4 === 3 ? one[i] : 2 * one[i]))).toBeLessThan(5e-6)
  })

  test('a pass of one channel that is named as alpha is coverage, not a grey that covers everything', async () => {
    const sum: Input = { id: 's', kind: 'sum', parent: null, rank: 'a0', parameters: {}, alpha: 'aa' }
    const coverage = { ...part('aa', 'x', 's'), source: 'matte', part: null, channels: ['Y'] } as Input
    const [one, two] = [await plain(42), await pixels(tree(sum, coverage, part('b', 'x', 's')), 42)]
    const colours = (values: Float32Array) => values.filter((_, i) => i % 4 !== 3)
    expect([...colours(two)]).toEqual([...colours(one)])
    const alphas = two.filter((_, i) => i % 4 === 3)
    expect(alphas.every((a) => a >= 0 && a < 1)).toBe(true)
    expect(new Set(alphas).size).toBeGreaterThan(5)
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
    expect(mostOff(two, (i) => [2, 1, 0, 1][i % 4] * one[i])).toBeLessThan(5e-6)
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
