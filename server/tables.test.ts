import { execFileSync } from 'node:child_process'
import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { decode, encode } from '../core/colour'
import { frameStep, table, type FrameRequest } from '../core/graph/steps'
import { localEngine } from '../core/test/local-engine'
import { someFrame, surroundings } from '../core/test/steps'
import { treatments } from '../core/treatments'
import { bytesSource, readExr, writeExr } from '../formats/exr'
import { packing, unpacking } from './media/exr-blocks'
import { readSourceFrame } from './media/read-frame'

/** Tables through the engine beside OpenColorIO's own program. */

const folder = mkdtempSync(join(tmpdir(), 'enkrasis-tables-'))
const at = (name: string) => join(folder, name)
const place = { roots: [folder], folder }
const engine = localEngine(1, (request: FrameRequest) => readSourceFrame(place, request))
afterAll(() => {
  engine.close()
  rmSync(folder, { recursive: true, force: true })
})
const window = { x: 0, y: 0, width: 61, height: 17 }
const count = window.width * window.height
let seed = 7
/** Lehmer's generator: the same numbers on every run. */
const random = () => (seed = (seed * 48271) % 2147483647) / 2147483647

const planes = ['R', 'G', 'B'].map((name) => ({
  name,
  type: 'float' as const,
  samples: Float32Array.from({ length: count }, () => random() * 1.3 - 0.15),
}))
beforeAll(async () =>
  writeFileSync(
    at('in.exr'),
    await writeExr([{ dataWindow: window, displayWindow: window, planes }], { compression: 'zip', ...packing }),
  ),
)

const claims = { encoding: 'linear', primaries: 'rec709', alpha: 'none' } as const
const picture = someFrame({ path: 'in.exr', claims })
const tableFrame = (path: string, encoding: 'linear' | 'srgb' = 'linear') =>
  frameStep({ ...picture.request, path, takes: 'table', claims: { ...claims, encoding } }, 'once')

async function ours(path: string): Promise<Float32Array> {
  return engine.light(table(picture, tableFrame(path)), window)
}

async function theirs(path: string): Promise<Float32Array[]> {
  execFileSync('ocioconvert', ['--lut', at(path), at('in.exr'), at('out.exr')], { stdio: 'pipe' })
  const read = await readExr(bytesSource(readFileSync(at('out.exr')), 'out.exr'), { ...unpacking })
  return ['R', 'G', 'B'].map((name) => read.planes.find((plane) => plane.name === name)?.samples as Float32Array)
}

async function expectSame(path: string, within = 1e-5): Promise<void> {
  const [here, there] = [await ours(path), await theirs(path)]
  let most = 0
  for (let i = 0; i < count; i++)
    for (let c = 0; c < 3; c++) most = Math.max(most, Math.abs(here[i * 4 + c] - there[c][i]))
  expect(most).toBeLessThan(within)
}

const rows = (number: number, row: () => string) => Array.from({ length: number }, row).join('\n')
const three = () => `${random().toFixed(6)} ${random().toFixed(6)} ${random().toFixed(6)}`

test.each([2, 5, 17])('a random cube of %d is interpolated as by OpenColorIO, tetrahedral', async (size) => {
  writeFileSync(at(`c${size}.cube`), `LUT_3D_SIZE ${size}\n${rows(size ** 3, three)}\n`)
  // OpenColorIO holds its tables' places in floats of its own; its own precision is part of the difference.
  await expectSame(`c${size}.cube`)
})

test('a random axis, over a domain of its own', async () => {
  writeFileSync(at('axis.cube'), `LUT_1D_SIZE 33\n${rows(33, three)}\n`)
  await expectSame('axis.cube')
})

test('an ASC CDL, held to 0..1 on its way as ASC says', async () => {
  const cdl =
    '<SOPNode><Slope>1.2 0.9 1.1</Slope><Offset>0.02 -0.01 0</Offset><Power>1.1 0.9 1.3</Power></SOPNode><SatNode><Saturation>0.7</Saturation></SatNode>'
  // OpenColorIO does not hold .cc files to 0..1, so it reads the same numbers out of a CLF, which says that it should.
  writeFileSync(
    at('cdl.clf'),
    `<?xml version="1.0"?><ProcessList id="a" compCLFversion="3"><ASC_CDL inBitDepth="32f" outBitDepth="32f" style="Fwd">${cdl}</ASC_CDL></ProcessList>`,
  )
  await expectSame('cdl.clf')
  writeFileSync(at('shot.cc'), `<ColorCorrection id="a">${cdl}</ColorCorrection>`)
  expect([...(await ours('shot.cc'))]).toEqual([...(await ours('cdl.clf'))])
})

test('a CLF of several operations', async () => {
  writeFileSync(
    at('list.clf'),
    `<?xml version="1.0" encoding="UTF-8"?><ProcessList id="a" compCLFversion="3">
      <Matrix inBitDepth="32f" outBitDepth="32f"><Array dim="3 3">0.9 0.1 0 0.05 0.9 0.05 0 0.2 0.8</Array></Matrix>
      <Range inBitDepth="32f" outBitDepth="32f"><minInValue>0</minInValue><maxInValue>1</maxInValue><minOutValue>0.1</minOutValue><maxOutValue>0.9</maxOutValue></Range>
      <LUT1D inBitDepth="32f" outBitDepth="32f"><Array dim="5 1">0 0.1 0.4 0.8 1</Array></LUT1D>
      <Exponent inBitDepth="32f" outBitDepth="32f" style="basicFwd"><ExponentParams exponent="1.7"/></Exponent>
    </ProcessList>`,
  )
  await expectSame('list.clf', 2e-5)
})

test('a look table acts in the encoding that its source claims, and nothing but it changes', async () => {
  writeFileSync(at('same.cube'), 'LUT_1D_SIZE 2\n0 0 0\n1 1 1\n')
  writeFileSync(at('half.cube'), 'LUT_1D_SIZE 2\n0 0 0\n0.5 0.5 0.5\n')
  const through = async (path: string) => {
    const around = surroundings({ opaque: true, sources: { table: tableFrame(path, 'srgb') } })
    const look = treatments['look-table']
    if (look.side === 'mapping') throw new Error('A look moves nothing.')
    return engine.light(look.build(picture, {}, around), window)
  }
  const [same, half] = [await through('same.cube'), await through('half.cube')]
  for (let i = 0; i < count; i++) {
    const light = planes[1].samples[i]
    if (!(light > 0 && light < 1)) continue
    expect(same[i * 4 + 1]).toBeCloseTo(light, 4)
    expect(half[i * 4 + 1]).toBeCloseTo(decode('srgb', encode('srgb', light) / 2), 4)
  }
})

test('a table with a wrong count says so', async () => {
  writeFileSync(at('short.cube'), 'LUT_3D_SIZE 2\n0 0 0\n')
  await expect(ours('short.cube')).rejects.toThrow(
    'Reading the table short.cube: it should have 8 rows of numbers and has 1. Export it again.',
  )
})
