/**
 * The keyboard, as one table that the listener and the overlay both read (docs/decisions/0005-shortcuts.md). A shortcut either does
 * something once, or changes how one looks while it is held; tapped, a look stays until the next tap.
 */

import { find, newId, nextMarkerName, nextTryName, usesOf } from '../../../core/shot'
import { stepTry } from './card/step-try'
import { elementActs } from './column/element-acts'
import type { AppStore } from '../store'
import { removedPoints } from './mattes/removed-points'
import { closedActions } from './tools/outline-tool'
import {
  selectDocument,
  selectDrawn,
  selectElementId,
  selectHeld,
  selectHolding,
  selectMarkers,
  selectShapeInDocument,
  selectStops,
} from '../store/selectors'
import { shotActions } from '../store/shot-slice'
import type { RootState } from '../store/state'
import { playToggled, viewChanged, type How, type Scope, type ViewChanges, type ViewState } from '../store/view'

interface ShortcutBase {
  /** KeyboardEvent.code */
  readonly code: string
  /** KeyboardEvent.key, for signs that lie elsewhere on other keyboards */
  readonly sign?: string
  readonly command?: boolean
  readonly alt?: boolean
  /** undefined: with or without */
  readonly shift?: boolean
  /** how it is written */
  readonly name: string
  readonly words: string
}

export type Shortcut =
  | (ShortcutBase & { readonly look: ViewChanges })
  | (ShortcutBase & { readonly act: (state: RootState, dispatch: AppStore['dispatch'], shift: boolean) => void })

function stepBy(state: RootState, by: number): number {
  const frames = state.shot.shot?.frames
  return frames
    ? Math.min(frames.last, Math.max(frames.first, state.view.playing.frame + by))
    : state.view.playing.frame
}

const go = (by: (shift: boolean) => number) => (state: RootState, dispatch: AppStore['dispatch'], shift: boolean) =>
  void dispatch(viewChanged({ playing: { frame: stepBy(state, by(shift)) } }))

const change = (changes: (view: ViewState) => ViewChanges) => (state: RootState, dispatch: AppStore['dispatch']) =>
  void dispatch(viewChanged(changes(state.view)))

const scopes: readonly Scope[] = ['none', 'waveform', 'parade', 'histogram', 'vectorscope']

/** A line through the middle, drawn upwards: its right is the screen's right. */
export function middleSplit({ width, height }: { readonly width: number; readonly height: number }): How {
  return { way: 'split', from: { x: width / 2, y: height * 0.9 }, to: { x: width / 2, y: height * 0.1 } }
}

const toggleComparing = (way: 'split' | 'difference') => (state: RootState, dispatch: AppStore['dispatch']) => {
  const size = state.shot.shot?.frameSize ?? { width: 2, height: 2 }
  const next: How = way === 'split' ? middleSplit(size) : { way: 'difference', gain: 4 }
  dispatch(viewChanged({ comparing: { how: state.view.comparing.how.way === way ? { way: 'not' } : next } }))
}

function setRange(end: 'first' | 'last') {
  return (state: RootState, dispatch: AppStore['dispatch']) => {
    const all = state.shot.shot?.frames
    if (!all) return
    const { frame, range: before } = state.view.playing
    const range = { ...(before ?? all), [end]: frame }
    if (range.first <= range.last) dispatch(viewChanged({ playing: { range } }))
  }
}

function stepTries(state: RootState, dispatch: AppStore['dispatch'], shift: boolean): void {
  const shot = selectDocument(state)
  const id = selectElementId(state)
  const [settings] =
    shot && id !== null
      ? usesOf(shot, { kind: 'element', id }).flatMap(({ treatment }) => {
          const found = find(shot.treatments, treatment)
          return found?.tries ? [found] : []
        })
      : []
  const edit = settings && stepTry(settings, shift ? -1 : 1)
  if (edit) dispatch(shotActions.edited(edit))
}

function toggleMarker(state: RootState, dispatch: AppStore['dispatch']): void {
  const { frame } = state.view.playing
  const markers = selectMarkers(state)
  const here = markers.find((one) => one.frame === frame)
  if (here) {
    dispatch(shotActions.edited({ kind: 'remove-marker', marker: here.id }))
    return
  }
  const shot = selectDocument(state)
  if (!shot) return
  const marker = { id: newId(), name: nextMarkerName(shot), frame }
  dispatch(shotActions.edited({ kind: 'add-marker', marker }))
}

function closeOutline(state: RootState, dispatch: AppStore['dispatch']): void {
  const shot = selectDocument(state)
  if (shot) for (const action of closedActions(shot, state.view, selectDrawn(state))) dispatch(action as never)
}

function removeChosen(state: RootState, dispatch: AppStore['dispatch']): void {
  const now = selectShapeInDocument(state)
  const { points } = state.view.outlining
  if (now && points.length > 0) dispatch(shotActions.edited(removedPoints(now, points)))
  // A matte whose card is open is not an element that was selected before it.
  else if (!now) elementActs.remove(state, dispatch)
}

function holdStill(state: RootState, dispatch: AppStore['dispatch']): void {
  const held = selectHeld(state) ? null : selectHolding(state)
  dispatch(viewChanged({ framing: { held } }))
}

const goToStop = (way: 1 | -1) => (state: RootState, dispatch: AppStore['dispatch']) => {
  const now = state.view.playing.frame
  const stops = selectStops(state)
  const frame = way === 1 ? stops.find((one) => one > now) : stops.filter((one) => one < now).at(-1)
  if (frame !== undefined) dispatch(viewChanged({ playing: { frame: stepBy(state, frame - now) } }))
}

export const shortcuts: readonly Shortcut[] = [
  { code: 'KeyP', name: 'P', words: 'Look: the plate alone', look: { looking: { shown: 'plate' } } },
  { code: 'KeyE', name: 'E', words: 'Look: the selected element alone', look: { looking: { shown: 'element' } } },
  {
    code: 'KeyW',
    name: 'W',
    words: 'Look: the selected element without its treatments',
    look: { looking: { shown: 'untreated' } },
  },
  {
    code: 'KeyO',
    name: 'O',
    words: 'Look: the other, which the picture is compared with',
    look: { looking: { shown: 'other' } },
  },
  {
    code: 'KeyL',
    name: 'L',
    words: 'Look: paired loupe, picture and other side by side',
    look: { comparing: { loupe: true } },
  },
  {
    code: 'KeyG',
    name: 'G',
    words: 'Look: the plate ghosted over what is shown',
    look: { looking: { ghost: 0.5 } },
  },
  { code: 'KeyD', name: 'D', words: 'Look: crank the dark end', look: { looking: { crank: 'dark' } } },
  { code: 'KeyH', name: 'H', words: 'Look: crank the bright end (highlights)', look: { looking: { crank: 'bright' } } },
  { code: 'KeyV', name: 'V', words: 'Look: crank the colour (vivid)', look: { looking: { crank: 'vivid' } } },
  { code: 'Digit1', name: '1', words: 'Look: red only', look: { looking: { channel: 'red' } } },
  { code: 'Digit2', name: '2', words: 'Look: green only', look: { looking: { channel: 'green' } } },
  { code: 'Digit3', name: '3', words: 'Look: blue only', look: { looking: { channel: 'blue' } } },
  { code: 'Digit4', name: '4', words: 'Look: alpha', look: { looking: { channel: 'alpha' } } },
  { code: 'Digit5', name: '5', words: 'Look: luma', look: { looking: { channel: 'luma' } } },
  { code: 'Digit6', name: '6', words: 'Look: hue', look: { looking: { channel: 'hue' } } },
  { code: 'Digit7', name: '7', words: 'Look: saturation', look: { looking: { channel: 'saturation' } } },
  { code: 'Digit8', name: '8', words: 'Look: value', look: { looking: { channel: 'value' } } },
  {
    code: 'KeyM',
    name: 'M',
    words: 'Mark clipped, negative and not-a-number pixels',
    act: change(({ looking }) => ({ looking: { marks: !looking.marks } })),
  },
  {
    code: 'KeyI',
    name: 'I',
    words: 'Inspection board',
    act: change(({ looking }) => ({ looking: { board: !looking.board } })),
  },
  {
    code: 'KeyS',
    name: 'S',
    words: 'Scope under the picture: waveform, parade, histogram, vectorscope, none',
    act: change(({ looking }) => ({
      looking: { scope: scopes[(scopes.indexOf(looking.scope) + 1) % scopes.length] },
    })),
  },
  {
    code: 'KeyX',
    name: 'X',
    words: 'Split the picture along a line; the other is on its right',
    act: toggleComparing('split'),
  },
  {
    code: 'KeyR',
    name: 'R',
    words: 'Draw the line of the split on the picture (ruler)',
    act: change(({ screen }) => ({ screen: { tool: screen.tool === 'split' ? 'look' : 'split' } })),
  },
  {
    code: 'KeyA',
    name: 'A',
    words: 'Draw the only part of the picture that is made (area); a press makes all of it again',
    act: change(({ screen }) => ({ screen: { tool: screen.tool === 'area' ? 'look' : 'area' } })),
  },
  {
    code: 'KeyB',
    name: 'B',
    words: 'Handles on what is placed: move, turn, scale its box',
    act: change(({ screen }) => ({ screen: { tool: screen.tool === 'place' ? 'look' : 'place' } })),
  },
  {
    code: 'Escape',
    name: 'Esc',
    words: 'Put the tool away',
    act: change(() => ({ screen: { tool: 'look' } })),
  },
  { code: 'KeyF', name: 'F', words: 'Difference between picture and other', act: toggleComparing('difference') },
  {
    code: 'KeyT',
    name: 'T',
    shift: false,
    words: 'Keep this state of the shot as a try to compare with',
    act: ({ shot: { shot } }, dispatch) =>
      void (shot && dispatch(shotActions.edited({ kind: 'keep-try', id: newId(), name: nextTryName(shot) }))),
  },
  {
    code: 'KeyT',
    name: 'Shift T',
    shift: true,
    words: 'Set points to track, and put the tool away',
    act: change(({ screen }) => ({ screen: { tool: screen.tool === 'track' ? 'look' : 'track' } })),
  },
  {
    code: 'KeyU',
    name: 'U',
    shift: false,
    words: 'Draw an outline of a matte, and put the tool away (outline: O is taken)',
    act: change(({ screen }) => ({ screen: { tool: screen.tool === 'outline' ? 'look' : 'outline' } })),
  },
  {
    code: 'KeyU',
    name: 'Shift U',
    shift: true,
    words: 'Choose points of an outline, and put the tool away',
    act: change(({ screen }) => ({ screen: { tool: screen.tool === 'points' ? 'look' : 'points' } })),
  },
  {
    code: 'KeyU',
    name: 'Alt U',
    alt: true,
    words: 'Paint in a matte, and put the brush away',
    act: change(({ screen }) => ({ screen: { tool: screen.tool === 'brush' ? 'look' : 'brush' } })),
  },
  { code: 'Enter', name: 'Enter', words: 'Close the outline that is being drawn', act: closeOutline },
  {
    code: 'KeyY',
    name: 'Y',
    words: 'Look: without outlines and handles',
    look: { outlining: { hidden: true } },
  },
  {
    code: 'KeyZ',
    name: 'Z',
    command: false,
    words:
      'Hold the picture still on the selected track, or on what the selected thing moves with, and let it go (freeze)',
    act: holdStill,
  },
  {
    code: 'KeyN',
    name: 'N',
    words: 'The next try of the selected element’s treatment that has some; with Shift the one before',
    act: stepTries,
  },
  {
    code: 'KeyK',
    name: 'K',
    words: 'Put a marker on this frame, or take it away',
    act: toggleMarker,
  },
  {
    code: 'KeyQ',
    name: 'Q',
    words: 'Draw on this frame (a quick note); it is kept with the frame’s marker',
    act: change(({ screen }) => ({ screen: { tool: screen.tool === 'note' ? 'look' : 'note' } })),
  },
  { code: 'PageUp', name: 'Page up', words: 'The marker or keyframe before', act: goToStop(-1) },
  { code: 'PageDown', name: 'Page down', words: 'The next marker or keyframe', act: goToStop(1) },
  {
    code: 'Space',
    name: 'Space',
    words: 'Play, and pause',
    act: (_state, dispatch) => void dispatch(playToggled()),
  },
  { code: 'ArrowLeft', name: '←', words: 'A frame back; with Shift ten', act: go((shift) => (shift ? -10 : -1)) },
  { code: 'ArrowRight', name: '→', words: 'A frame on; with Shift ten', act: go((shift) => (shift ? 10 : 1)) },
  { code: 'Home', name: 'Home', shift: false, words: 'First frame', act: go(() => -1e9) },
  { code: 'End', name: 'End', shift: false, words: 'Last frame', act: go(() => 1e9) },
  { code: 'Home', name: 'Shift Home', shift: true, words: 'Play from this frame', act: setRange('first') },
  { code: 'End', name: 'Shift End', shift: true, words: 'Play up to this frame', act: setRange('last') },
  { code: 'Backslash', name: '\\', words: 'Play all frames', act: change(() => ({ playing: { range: null } })) },
  { code: 'Digit0', name: '0', words: 'Fit the picture', act: change(() => ({ framing: { zoom: null } })) },
  {
    code: 'KeyC',
    name: 'C',
    words: 'Look: the folded light path and card, over the picture',
    look: { screen: { peek: true } },
  },
  {
    code: 'KeyJ',
    name: 'J',
    words: 'More room for the rows of the tally, and less',
    act: change(({ screen }) => ({ screen: { tallyOpen: !screen.tallyOpen } })),
  },
  {
    code: 'Backquote',
    name: '`',
    words: 'The picture only, and back',
    act: change(({ screen }) => ({ screen: { pictureOnly: !screen.pictureOnly } })),
  },
  { code: 'KeyD', name: 'Ctrl D', command: true, words: 'Duplicate what is selected', act: elementActs.duplicate },
  { code: 'KeyG', name: 'Ctrl G', command: true, words: 'Group what is selected', act: elementActs.group },
  { code: 'KeyC', name: 'Ctrl C', command: true, words: 'Copy the selected elements', act: elementActs.copy },
  {
    code: 'KeyV',
    name: 'Ctrl V',
    command: true,
    words: 'Paste elements in front of the selected one',
    act: elementActs.paste,
  },
  {
    code: 'Delete',
    name: 'Delete',
    words: 'Remove the chosen points of an outline, else the selected elements',
    act: removeChosen,
  },
  {
    code: 'ArrowDown',
    name: 'Alt ↓',
    alt: true,
    words: 'The selected element one step nearer',
    act: elementActs.nearer,
  },
  {
    code: 'ArrowUp',
    name: 'Alt ↑',
    alt: true,
    words: 'The selected element one step farther',
    act: elementActs.farther,
  },
  {
    code: 'KeyZ',
    name: 'Ctrl Z',
    command: true,
    shift: false,
    words: 'Undo',
    act: (_state, dispatch) => void dispatch(shotActions.undone()),
  },
  {
    code: 'KeyZ',
    name: 'Ctrl Shift Z',
    command: true,
    shift: true,
    words: 'Redo',
    act: (_state, dispatch) => void dispatch(shotActions.redone()),
  },
  {
    code: 'KeyY',
    name: 'Ctrl Y',
    command: true,
    words: 'Redo',
    act: (_state, dispatch) => void dispatch(shotActions.redone()),
  },
  {
    code: 'Slash',
    sign: '?',
    name: '?',
    words: 'This list',
    act: change(({ screen }) => ({ screen: { shortcutsOpen: !screen.shortcutsOpen } })),
  },
]

/** What the pointer does, for the overlay. */
export const gestures: readonly (readonly [name: string, words: string])[] = [
  ['Click', 'Select what is seen there'],
  ['Ctrl click', 'Keep the values of a pixel'],
  ['Shift drag', 'Keep the values of a region; the scope shows it alone'],
  ['Drag', 'Move the picture'],
  ['Wheel', 'Zoom about the pointer'],
  ['Drag a number', 'Change it; with Shift finer. Click to type, arrow keys to step'],
  ['Drag a name', 'Change all channels together'],
  ['Drag the ends of the split', 'Draw its line anew'],
  [
    'Drag a placed element',
    'With its handles in hand: move it; with Shift along one axis, with Ctrl it snaps to nothing',
  ],
]

export function shortcutFor(
  event: Pick<KeyboardEvent, 'code' | 'key' | 'ctrlKey' | 'metaKey' | 'altKey' | 'shiftKey'>,
): Shortcut | undefined {
  const command = event.ctrlKey || event.metaKey
  return shortcuts.find(
    (shortcut) =>
      (shortcut.sign === undefined ? shortcut.code === event.code : shortcut.sign === event.key) &&
      (shortcut.command ?? false) === command &&
      (shortcut.alt ?? false) === event.altKey &&
      (shortcut.shift === undefined || shortcut.shift === event.shiftKey),
  )
}
