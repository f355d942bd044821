import { execFile } from 'node:child_process'
import { existsSync, readFileSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'
import { promisify } from 'node:util'
import type { Shot } from '../core/shot'
import type { Matching } from '../core/witnesses'
import { readShotFile } from './shots/shot-store'
import { DataFolder, smallData } from './test/running-server'

/** The small demo shot matched by what was shot for reference, without the truth, and then compared with it. */

const data = new DataFolder()
afterAll(() => data.remove())
const truth = join(smallData(), 'truth')
const run = (...args: string[]) => promisify(execFile)('node', ['bin/enkrasis.mjs', ...args, '--threads', '1'])

async function proposed(file: string, accept: 'sure' | 'all', ...more: string[]) {
  const { stdout } = await run(
    ...['propose', file, '--accept', accept],
    ...['--out', data.file('matched.shot.json'), '--json', data.file('found.json'), ...more],
  )
  const matched = await readShotFile(data.file('matched.shot.json'))
  return { stdout, matched, found: JSON.parse(readFileSync(data.file('found.json'), 'utf8')) as Matching }
}
const valuesOf = ({ parts }: Matching, element: string, what: string) =>
  parts.find((one) => one.element === element && one.what === what)?.values ?? []
const original = data.file('quay-010.shot.json')

describe('with ball and chart', () => {
  let found: Awaited<ReturnType<typeof proposed>>
  beforeAll(async () => {
    found = await proposed(original, 'all')
  })

  test('veil and gain are near the truth, within what is stated', () => {
    const { cgGain, frames } = JSON.parse(readFileSync(join(truth, 'quay-010/truth.json'), 'utf8')) as {
      cgGain: number[]
      frames: { veil: number[] }[]
    }
    const veil = [0, 1, 2].map((c) => frames.reduce((sum, one) => sum + one.veil[c], 0) / frames.length)
    valuesOf(found.found, 'bell', 'veil').forEach(({ value, bar }, c) => {
      expect(bar).toBeLessThan(0.0012)
      expect(Math.abs(value - veil[c])).toBeLessThan(0.0015)
    })
    valuesOf(found.found, 'bell', 'gain').forEach(({ value }, c) => {
      expect(Math.abs(value / cgGain[c] - 1)).toBeLessThan(0.03)
    })
  })

  test('the composite that comes of it is near the picture that the camera would have taken', async () => {
    await run('score', data.file('matched.shot.json'), '--truth', truth, '--json', data.file('score.json'))
    const { overall } = JSON.parse(readFileSync(data.file('score.json'), 'utf8')) as {
      overall: { insideMedian: number; edgesMedian: number; edgeSpread: number }
    }
    expect(overall.insideMedian).toBeLessThan(1)
    expect(overall.edgesMedian).toBeLessThan(1)
    expect(Math.abs(overall.edgeSpread - 1)).toBeLessThan(0.1)
  })

  test('what it rests on is in the shot as witnesses, and what was before as a try', () => {
    const witnesses = Object.values(found.matched.witnesses.byId)
    expect(new Set(witnesses.flatMap(({ on }) => on ?? []))).toEqual(new Set(['ball', 'chart']))
    expect(witnesses.some(({ purpose }) => purpose === 'black')).toBe(true)
    const [kept] = Object.values(found.matched.tries.byId)
    expect(kept.name).toBe('before matching')
    expect(kept.treatments.byId.match.parameters.gain).toEqual([1, 1, 1])
  })

  test('light of the same render gets its gain and softness, but no veil', () => {
    const { treatments, uses } = found.matched
    const kinds = Object.values(uses.byId).filter(({ owner }) => owner.kind === 'element' && owner.id === 'reflection')
    const settings = kinds.map(({ treatment }) => treatments.byId[treatment])
    const matched = settings.find(({ kind }) => kind === 'veil-and-gain')
    expect(matched?.parameters.veil).toEqual([0, 0, 0])
    expect(matched?.parameters.gain[0]).toBeGreaterThan(1.2)
    expect(settings.some(({ kind }) => kind === 'soften')).toBe(true)
  })

  test('what is not sure is said with what would make it surer, and stays as it is unless all is accepted', async () => {
    expect(found.stdout).toMatch(/Bell shadow: shadow ratio .* Not sure: Shoot for more frames/)
    expect(found.matched.elements.byId.shadow.blend.parameters.ratio).not.toEqual([0.4, 0.4, 0.4])
    const { matched } = await proposed(original, 'sure')
    expect(matched.elements.byId.shadow.blend.parameters.ratio).toEqual([0.4, 0.4, 0.4])
    expect(matched.treatments.byId.match.parameters.gain).not.toEqual([1, 1, 1])
  })
})

const changed = async (name: string, change: (shot: Shot) => object) => {
  const file = data.file(name)
  writeFileSync(file, JSON.stringify({ ...(await readShotFile(original)), ...change(await readShotFile(original)) }))
  return file
}

test('what is set by hand is left, and said', async () => {
  const file = await changed('by-hand.shot.json', ({ treatments }) => {
    const { match } = treatments.byId
    const parameters = { ...match.parameters, veil: [0.01, 0, 0] }
    return { treatments: { byId: { ...treatments.byId, match: { ...match, parameters } } } }
  })
  const { matched, stdout } = await proposed(file, 'all')
  expect(stdout).toContain('Diving bell: gain is left as it is: it is set by hand.')
  expect(matched.treatments.byId.match.parameters).toMatchObject({ veil: [0.01, 0, 0], gain: [1, 1, 1] })
})

test('witnesses that were suggested go on where the reference objects end, and follow', async () => {
  const { matched } = await proposed(original, 'all')
  const suggested = Object.values(matched.witnesses.byId).filter(({ on }) => on === undefined)
  expect(suggested.length).toBeGreaterThan(0)
  for (const { adjusted, element } of suggested) {
    expect(element).toBe('bell')
    expect(adjusted.follows).toBeGreaterThan(1001)
  }
})

test('where nothing was shot for reference dark places and edges near by tell veil and softness, and the gain is left', async () => {
  const file = await changed('nothing.shot.json', () => ({ referenceObjects: { byId: {} } }))
  const { matched, stdout, found } = await proposed(file, 'all')
  expect(stdout).toMatch(/Diving bell: veil .* from dark places near by/)
  expect(stdout).toContain(
    'Diving bell: gain is left as it is: no ball or chart was shot in its place, and nothing else near by tells it.',
  )
  const { frames } = JSON.parse(readFileSync(join(truth, 'quay-010/truth.json'), 'utf8')) as {
    frames: { veil: number[] }[]
  }
  valuesOf(found, 'bell', 'veil').forEach(({ value, bar }, c) => {
    const veil = frames.reduce((sum, one) => sum + one.veil[c], 0) / frames.length
    expect(Math.abs(value - veil)).toBeLessThan(2 * bar)
    expect(bar).toBeLessThan(0.005)
  })
  expect(matched.treatments.byId.match.parameters.gain).toEqual([1, 1, 1])
})

test('the gain of another shot of the series is taken, not surely, and the composite is near the truth', async () => {
  const { matched: other } = await proposed(original, 'all')
  writeFileSync(data.file('other.shot.json'), JSON.stringify({ ...other, name: 'quay-011' }))
  const file = await changed('nothing.shot.json', () => ({ referenceObjects: { byId: {} } }))
  const { matched, stdout, found } = await proposed(file, 'all', '--gain-from', data.file('other.shot.json'))
  expect(stdout).toMatch(/Diving bell: gain .* from Diving bell in quay-011. Not sure: Shoot a grey ball/)
  expect(matched.treatments.byId.match.parameters.gain).toEqual(other.treatments.byId.match.parameters.gain)
  expect(valuesOf(found, 'reflection', 'gain')).toEqual(valuesOf(found, 'bell', 'gain'))
  await run('score', data.file('matched.shot.json'), '--truth', truth, '--json', data.file('score.json'))
  const { overall } = JSON.parse(readFileSync(data.file('score.json'), 'utf8')) as { overall: { insideMedian: number } }
  expect(overall.insideMedian).toBeLessThan(2)
  const asItCame = await proposed(file, 'all', '--gain-from', original)
  expect(asItCame.stdout).toContain('gain is left as it is: no gain is set for Diving bell in quay-010.')
})

test('photographs that are missing are named with their frame', async () => {
  const file = await changed('missing.shot.json', ({ sources }) => {
    const ball = { ...sources.byId['ball-plate'], path: 'reference/gone.####.exr' }
    return { sources: { byId: { ...sources.byId, 'ball-plate': ball } } }
  })
  await expect(proposed(file, 'all')).rejects.toMatchObject({ stderr: expect.stringContaining('gone.1001.exr') })
  expect(existsSync(file)).toBe(true)
})
