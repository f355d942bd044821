/** What the pointer does on the picture. A tool begins a gesture where it is pressed; a gesture belongs to nobody else until it ends. */

import type { UnknownAction } from '@reduxjs/toolkit'
import type { Point, Region, ViewChanges, ViewState } from '../../store/view'
import type { Change, Shot } from '../../../../core/shot'
import type { Selected } from '../../store/shot-slice'
import type { Placement, Size } from '../picture/placement'

/** Where the pointer is. */
export interface Pointed {
  /** in the picture's place, screen pixels */
  readonly screen: Point
  /** on the picture, full-scale pixels; may lie outside */
  readonly point: Point
  /** the pixel under it; null outside the picture */
  readonly pixel: Point | null
  readonly shift: boolean
  /** Ctrl, or the command key */
  readonly control: boolean
}

/** What is seen at a pixel is to be selected: it takes the engine to tell what that is. */
export interface Pick {
  readonly pick: Point
}

export const isPick = (action: UnknownAction | readonly UnknownAction[] | Pick): action is Pick => 'pick' in action

export interface Gesture {
  /** the pointer has moved farther than a trembling hand @returns how the view changes at once */
  move(at: Pointed): ViewChanges | null
  /** what the gesture would do to the document, let go here */
  draft?(at: Pointed): Change | null
  /** the pointer was let go @param moved whether it ever moved @returns what comes of it */
  up(at: Pointed, moved: boolean): UnknownAction | readonly UnknownAction[] | Pick | null
  /** a region that is drawn while the gesture goes on */
  region?(): Region
}

/** What a tool may need to know where it is pressed. */
export interface PressedPicture {
  readonly view: ViewState
  readonly shot: Shot
  /** full-scale size */
  readonly frame: Size
  readonly placement: Placement
  /** the element that is selected first */
  readonly selected: string | null
  /** what is selected, of whatever kind */
  readonly drawn: Selected | null
}

export interface Tool {
  /** what it does, in words */
  readonly words: string
  readonly cursor: string
  down(at: Pointed, picture: PressedPicture): Gesture
}

/** Keys that are held while a handle is moved. */
export interface HandleKeys {
  readonly shift: boolean
  readonly control: boolean
  /** full-scale pixels within which a place is drawn to a line */
  readonly reach: number
}

/** Something on the picture that can be taken hold of, whichever tool is in hand: it changes the view, or the document. */
export type Handle = {
  readonly name: string
  /** printed beside it, where several look alike */
  readonly label?: string
  /** full-scale pixels */
  readonly at: Point
  /** what lies under it stays to be seen */
  readonly hollow?: true
  /** one of many */
  readonly small?: true
  /** it turns something, or bends it */
  readonly round?: true
  readonly chosen?: boolean
  /** what a press without a movement does */
  readonly press?: (keys: { readonly shift: boolean }) => UnknownAction
} & (
  | { readonly move: (to: Point) => ViewChanges; readonly edit?: undefined }
  | { readonly edit: (to: Point, keys: HandleKeys) => Change | null; readonly move?: undefined }
)
