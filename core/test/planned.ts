/** For the tests: planned pictures of the small shot, and shots made of it. */

import { applyEdit, tableOf, type Change, type Shot } from '../shot'
import { localEngine } from './local-engine'
import { allThere, frameSize, pictureOf, smallShot } from './small-shot'

export const plan = (shot = smallShot, frame = 1001, fingerprint = 'a') =>
  pictureOf(shot, frame, 1, allThere(fingerprint))
export const veil = { owner: { kind: 'treatment', id: 'match' } as const, parameter: 'veil', channel: 0 }
export const setVeil = (value: number, frame = 1001): Change => ({ kind: 'set-parameter', at: veil, frame, value })
export const edited = (shot: Shot, ...edits: readonly Change[]) =>
  edits.reduce((now, edit) => applyEdit(now, edit).shot, shot)
export const window = { x: 0, y: 0, ...frameSize }
export const light = (shot: Shot, frame = 1001) => localEngine(1).light(plan(shot, frame).composite, window)
export const cgElement = { kind: 'element', id: 'cg' } as const
export const only = (...ids: string[]): Shot => ({
  ...smallShot,
  elements: tableOf(ids.map((id) => smallShot.elements.byId[id])),
})
