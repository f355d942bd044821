import { smallShot } from '../../../core/test/small-shot'
import { createStore } from '../store'
import { shotActions } from '../store/shot-slice'
import { viewOpened } from '../store/view'
import { shortcutFor, shortcuts, middleSplit } from './shortcuts'
import { shownWords, wordsOf } from './other-text'

const event = (code: string, given: Partial<Parameters<typeof shortcutFor>[0]> = {}) => ({
  code,
  key: code,
  ctrlKey: false,
  metaKey: false,
  altKey: false,
  shiftKey: false,
  ...given,
})

function open() {
  const store = createStore()
  store.dispatch(shotActions.opened({ id: 's', shot: smallShot, revision: 1, catalog: {} }))
  store.dispatch(viewOpened(1004))
  const press = (code: string, given = {}) => {
    const key = shortcutFor(event(code, given))
    if (!key || !('act' in key)) throw new Error(`${code} does nothing once.`)
    key.act(store.getState(), store.dispatch, event(code, given).shiftKey)
    return store.getState().view
  }
  return { store, press }
}

test('no two shortcuts are the same, and every one says what it does', () => {
  const names = shortcuts.map(
    ({ code, command = false, alt = false, shift, sign }) => `${sign ?? code} ${command} ${alt} ${String(shift)}`,
  )
  expect(new Set(names).size).toBe(shortcuts.length)
  for (const { words } of shortcuts) expect(words.length).toBeGreaterThan(3)
})

test('letters with Ctrl or Alt are the platform’s, but for undo and redo', () => {
  expect(shortcutFor(event('KeyP', { ctrlKey: true }))).toBeUndefined()
  expect(shortcutFor(event('KeyP', { altKey: true }))).toBeUndefined()
  expect(shortcutFor(event('KeyZ', { ctrlKey: true }))?.words).toBe('Undo')
  expect(shortcutFor(event('KeyZ', { metaKey: true, shiftKey: true }))?.words).toBe('Redo')
})

test('signs are found wherever they lie on the keyboard', () => {
  expect(shortcutFor(event('Minus', { key: '?', shiftKey: true }))?.words).toBe('This list')
  expect(shortcutFor(event('Slash', { key: '/' }))).toBeUndefined()
})

test('stepping stays inside the shot, with Shift by ten', () => {
  const { press } = open()
  expect(press('ArrowRight').playing.frame).toBe(1005)
  expect(press('ArrowRight', { shiftKey: true }).playing.frame).toBe(1010)
  expect(press('Home').playing.frame).toBe(1001)
  expect(press('ArrowLeft').playing.frame).toBe(1001)
})

test('the ends of the range that is played never cross', () => {
  const { press } = open()
  expect(press('Home', { shiftKey: true }).playing.range).toEqual({ first: 1004, last: 1010 })
  press('Home')
  expect(press('End', { shiftKey: true }).playing.range).toEqual({ first: 1004, last: 1010 })
  press('End')
  expect(press('End', { shiftKey: true }).playing.range).toEqual({ first: 1004, last: 1010 })
  expect(press('Backslash').playing.range).toBeNull()
})

test('scopes come one after the other, and go', () => {
  const { press } = open()
  expect(Array.from({ length: 5 }, () => press('KeyS').looking.scope)).toEqual([
    'waveform',
    'parade',
    'histogram',
    'vectorscope',
    'none',
  ])
})

test('split and difference take each other’s place, and go when pressed again', () => {
  const { press } = open()
  expect(press('KeyX').comparing.how).toEqual(middleSplit(smallShot.frameSize))
  expect(press('KeyF').comparing.how).toEqual({ way: 'difference', gain: 4 })
  expect(press('KeyF').comparing.how).toEqual({ way: 'not' })
})

test('what is looked at is said in words', () => {
  const names = {
    element: 'Bell',
    uses: [
      { id: 'match', name: 'Veil and gain', of: 'Bell', own: true },
      { id: 'soft', name: 'Soften', of: 'the glass', own: false },
    ],
    references: [],
    tries: [{ id: 'try-2', name: 'try 2' }],
  }
  expect(wordsOf({ kind: 'untreated' }, names)).toBe('Bell untreated')
  expect(wordsOf({ kind: 'without', use: 'match' }, names)).toBe('Bell without veil and gain')
  expect(wordsOf({ kind: 'without', use: 'soft' }, names)).toBe('the glass without soften')
  expect(wordsOf({ kind: 'frame', frame: 1007 }, names)).toBe('frame 1007')
  expect(shownWords('other', names, { kind: 'try', id: 'try-2' }, null)).toBe('Try 2')
  expect(shownWords('other', names, { kind: 'plate' }, null)).toBe('The plate')
})
