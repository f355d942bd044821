/** What the picture is compared with, in words. */

import { selectElement } from '../store/selectors'
import type { RootState } from '../store/state'
import type { Other, Shown } from '../store/view-slice'

export function wordsOf(other: Other, element: string): string {
  switch (other.kind) {
    case 'plate':
      return 'the plate'
    case 'element':
      return `${element} alone`
    case 'untreated':
      return `${element} untreated`
    case 'frame':
      return `frame ${other.frame}`
    case 'try':
      return `try ${other.number}`
  }
}

export const otherText = (state: RootState): string =>
  wordsOf(state.view.other, selectElement(state)?.name ?? 'the element')

export function shownWords(shown: Shown, element: string, other: Other): string {
  switch (shown) {
    case 'composite':
      return 'The composite'
    case 'plate':
      return 'The plate alone'
    case 'element':
      return `${element} alone`
    case 'untreated':
      return `${element} untreated`
    case 'other': {
      const words = wordsOf(other, element)
      return words[0].toUpperCase() + words.slice(1)
    }
  }
}
