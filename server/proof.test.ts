import { execFile } from 'node:child_process'
import { copyFileSync, readFileSync, renameSync, writeFileSync } from 'node:fs'
import { promisify } from 'node:util'
import type { Shot } from '../core/shot'
import type { Proof } from '../core/witnesses'
import { readShotFile } from './shots/shot-store'
import { DataFolder } from './test/running-server'

/** The proof of the small demo shot: sound it stands out nowhere; what is put wrong is named on its frame, with its status. */

const data = new DataFolder()
afterAll(() => data.remove())

interface Ended {
  readonly status: number
  readonly stdout: string
  readonly proof: Proof
}

async function proven(file: string, ...args: string[]): Promise<Ended> {
  const json = data.file('proof.json')
  const call = ['bin/enkrasis.mjs', 'proof', file, '--json', json, '--threads', '1', ...args]
  const { status, stdout } = await promisify(execFile)('node', call).then(
    (ended) => ({ status: 0, stdout: ended.stdout }),
    (error: { code: number; stdout: string }) => ({ status: error.code, stdout: error.stdout }),
  )
  return { status, stdout, proof: JSON.parse(readFileSync(json, 'utf8')) as Proof }
}

const original = data.file('quay-010.shot.json')
const changed = async (name: string, change: (shot: Shot) => Shot) => {
  const file = data.file(name)
  writeFileSync(file, JSON.stringify(change(await readShotFile(original))))
  return file
}
/** At another value on one frame. */
const onFrame = (value: number, wrong: number, frame: number) => ({
  keyframes: {
    1001: { value, to: 'level' },
    [frame]: { value: wrong, to: 'level' },
    [frame + 1]: { value, to: 'level' },
  },
})
const withMatch = (shot: Shot, parameters: object): Shot => {
  const { match } = shot.treatments.byId
  const settings = { ...match, parameters: { ...match.parameters, ...parameters } } as typeof match
  return { ...shot, treatments: { byId: { ...shot.treatments.byId, match: settings } } }
}
const row = ({ proof }: Ended, name: string) => proof.rows.find((one) => one.name === name)

test('sound, nothing drifts; what no witness says anything of is wanting, and the status is 2', async () => {
  // With a veil: as it was rendered, the filter that bends it goes below zero beside its brightest places.
  const sound = await proven(await changed('sound.shot.json', (shot) => withMatch(shot, { veil: [0.02, 0.02, 0.02] })))
  expect(sound.proof.rows.flatMap(({ drifts }) => drifts)).toEqual([])
  expect([sound.status, sound.proof.outcome]).toEqual([2, 'not judged'])
  expect(sound.proof.wanting).toContain('Diving bell: no witness for sharpness is judged on 1001 to 1006.')
  expect(sound.stdout).toContain('Something is not judged yet.')
})

test('black that steps on one frame is found there, with how far, and the status is 1', async () => {
  const steps = (shot: Shot) => withMatch(shot, { veil: [0, 1, 2].map(() => onFrame(0.02, 0.026, 1004)) })
  const found = await proven(await changed('black.shot.json', steps))
  expect(row(found, 'Black of Diving bell')).toMatchObject({ drifts: [1004], worst: { frame: 1004 } })
  expect(row(found, 'Black of Diving bell')?.worst?.says).toMatch(/^\+0\.00[56]/)
  expect(found.status).toBe(1)
})

test('a colour cast on one frame is found there', async () => {
  const cast = (shot: Shot) => withMatch(shot, { gain: [onFrame(1.2, 1.248, 1003), 1.1, 0.95] })
  expect(row(await proven(await changed('cast.shot.json', cast)), 'Colour of Diving bell')?.drifts).toEqual([1003])
})

test('light below zero, and what is no number, are counted where they are', async () => {
  const below = (shot: Shot) => withMatch(shot, { veil: [onFrame(0.02, -0.1, 1002), 0.02, 0.02] })
  const found = await proven(await changed('below.shot.json', below))
  expect(row(found, 'Below zero')?.drifts).toEqual([1002])
  expect(row(found, 'Below zero')?.worst?.says).toMatch(/^\d+ pixels below zero where the plate is not$/)
  expect(row(found, 'No number')?.drifts).toEqual([])
})

describe('files', () => {
  const frame = (number: number) => data.file(`cg/quay-010_bell.${number}.exr`)

  test('a render that is repeated is told', async () => {
    renameSync(frame(1004), data.file('kept.exr'))
    copyFileSync(frame(1003), frame(1004))
    const found = await proven(original)
    renameSync(data.file('kept.exr'), frame(1004))
    expect(row(found, 'Repeated frames of Diving bell')?.drifts).toEqual([1004])
  })

  test('one that is missing is named with its frame, and every other frame is read all the same', async () => {
    renameSync(frame(1004), data.file('kept.exr'))
    const found = await proven(original)
    renameSync(data.file('kept.exr'), frame(1004))
    expect(row(found, 'Files')).toMatchObject({ drifts: [1004], frames: 6 })
    expect(row(found, 'Files')?.worst?.says).toContain('quay-010_bell.1004.exr')
    expect(row(found, 'Black of Diving bell')?.frames).toBe(5)
  })
})

test('a note that was drawn on a frame is in the proof, and over a picture of that frame on the page', async () => {
  const lines = { byId: { one: { id: 'one', points: [10, 20, 30.5, 40] } } }
  const noted = await changed('noted.shot.json', (shot) => ({
    ...shot,
    markers: { byId: { rim: { id: 'rim', name: 'Rim too light', frame: 1002, strokes: lines } } },
  }))
  const page = data.file('noted.html')
  const { proof } = await proven(noted, '--html', page)
  expect(proof.notes).toEqual([{ frame: 1002, text: 'Rim too light', drawing: [[10, 20, 30.5, 40]] }])
  const html = readFileSync(page, 'utf8')
  expect(html.includes('points="10 20 30.5 40"')).toBe(true)
  expect(html.includes('viewBox="0 0 640 360"')).toBe(true)
})

test('the page holds all of it: rows, pictures of the worst frames, ten ways of looking, and nothing from elsewhere', async () => {
  const page = data.file('proof.html')
  await proven(data.file('sound.shot.json'), '--html', page)
  const html = readFileSync(page, 'utf8')
  expect(html.includes('<h1>Proof of quay-010: Something is not judged yet</h1>')).toBe(true)
  expect(html.match(/<img/g)?.length).toBeGreaterThanOrEqual(12)
  expect(html.includes('dark end')).toBe(true)
  expect(/(src|href)="(?!data:)/.test(html)).toBe(false)
})
