import { newPlacing, newTreatment } from '../../core/shot'
import { PlanMemo } from '../../core/plan/memo'
import { localEngine } from '../../core/test/local-engine'
import { allThere, smallShot, treated, withElement } from '../../core/test/small-shot'
import type { ShotsNow } from '../shots/shots-now'
import { HeldUpError } from '../work/kind'
import type { ComputedFiles } from './computed-files'
import { computedWork } from './computed-work'

/** What is in the way of keeping an element computed gets its sentence. */

const input = { shot: 'quay', element: 'cg' }
const soft = treated(smallShot, { kind: 'element', id: 'cg' }, newTreatment('soften', 's', { across: [2], down: [2] }))
const context = { signal: new AbortController().signal, attempt: '1', again: false, progress: () => undefined }

function workOn(shot: typeof smallShot, write: () => Promise<number>) {
  const now = { row: { folder: '/' }, shot, files: allThere(), memo: new PlanMemo() }
  const shots = { of: async () => now } as unknown as ShotsNow
  const files = { bytesOf: async () => null, write } as unknown as ComputedFiles
  return computedWork({ shots, files, engineFor: () => localEngine(1) })
}

test('a full disk holds the work up, and says what to do', async () => {
  const full = async () => Promise.reject(Object.assign(new Error('write'), { code: 'ENOSPC' }))
  const kept = workOn(soft, full).run(input, 1001, context)
  await expect(kept).rejects.toBeInstanceOf(HeldUpError)
  await expect(kept).rejects.toThrow('The disk is full: computed has no room for the next file. Make room')
})

test('an element that reaches far beyond the frame is refused by name and frame, before it is made', async () => {
  let written = 0
  const placing = newPlacing({ x: 0, y: 0, width: 100, height: 60 }, { scale: [60] })
  const kept = workOn(withElement(smallShot, 'cg', { placing }), async () => ++written).run(input, 1001, context)
  await expect(kept).rejects.toThrow(/^CG at frame 1001 is larger than 4 frames of the shot/)
  expect(written).toBe(0)
})

test('each frame gives keys at three scales, and what is written', async () => {
  const made = (await workOn(soft, async () => 10).run(input, 1001, context)) as { keys: string[]; bytes: number }
  expect(new Set(made.keys).size).toBe(3)
  expect(made.bytes).toBe(30)
})
