/** What the picture is compared with, in words. */

import { createSelector } from '@reduxjs/toolkit'
import { treatments } from '../../../core/treatments'
import { selectDocument } from '../store/selectors'
import type { RootState } from '../store/state'
import type { Other, Shown } from '../store/view-slice'

interface Named {
  readonly id: string
  readonly name: string
}

/** Names of what can be compared: they do not change while a number is dragged. */
export interface Names {
  readonly element: string
  /** of the element */
  readonly treatments: readonly Named[]
  readonly tries: readonly Named[]
}

export const selectNames = createSelector(
  [selectDocument, (state: RootState) => state.shot.selected],
  (shot, selected): Names => {
    const element = shot?.elements.find(({ id }) => id === selected)
    return {
      element: element?.name ?? 'the element',
      treatments: (element?.treatments ?? []).map(({ id, kind }) => ({ id, name: treatments[kind].label })),
      tries: shot?.tries ?? [],
    }
  },
)

const nameIn = (all: readonly Named[], id: string) => all.find((one) => one.id === id)?.name ?? id

export function wordsOf(other: Other, names: Names): string {
  switch (other.kind) {
    case 'plate':
      return 'the plate'
    case 'element':
      return `${names.element} alone`
    case 'untreated':
      return `${names.element} untreated`
    case 'without':
      return `${names.element} without ${nameIn(names.treatments, other.treatment).toLowerCase()}`
    case 'frame':
      return `frame ${other.frame}`
    case 'try':
      return nameIn(names.tries, other.id)
  }
}

export const otherText = (state: RootState): string => wordsOf(state.view.other, selectNames(state))

export function shownWords(shown: Shown, names: Names, other: Other): string {
  switch (shown) {
    case 'composite':
      return 'The composite'
    case 'plate':
      return 'The plate alone'
    case 'element':
      return `${names.element} alone`
    case 'untreated':
      return `${names.element} untreated`
    case 'other': {
      const words = wordsOf(other, names)
      return words[0].toUpperCase() + words.slice(1)
    }
  }
}
