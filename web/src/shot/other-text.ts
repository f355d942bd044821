/** What the picture is compared with, in words. */

import { createSelector } from '@reduxjs/toolkit'
import { find, inOrder, sourcesByName, usesOf } from '../../../core/shot'
import type { Node } from '../../../core/plan/node'
import { treatments } from '../../../core/treatments'
import { selectDocument, selectElementId, selectElementIds } from '../store/selectors'
import type { RootState } from '../store/state'
import type { Other, Shown } from '../store/view'

interface Named {
  readonly id: string
  readonly name: string
}

/** Names of what can be compared: they do not change while a number is dragged. */
export interface Names {
  readonly element: string
  /** uses of treatments on the element */
  readonly uses: readonly Named[]
  readonly tries: readonly Named[]
  /** sources that are there to compare with */
  readonly references: readonly Named[]
}

export const selectNames = createSelector(
  [selectDocument, selectElementId, selectElementIds],
  (shot, selected, chosen): Names => {
    const element = shot && selected !== null ? find(shot.elements, selected) : undefined
    const uses = shot && element ? usesOf(shot, { kind: 'element', id: element.id }) : []
    return {
      element: chosen.length > 1 ? `${chosen.length} elements` : (element?.name ?? 'the element'),
      uses: uses.flatMap(({ id, treatment }) => {
        const settings = shot && find(shot.treatments, treatment)
        return settings ? [{ id, name: treatments[settings.kind].label }] : []
      }),
      tries: shot ? inOrder(shot.tries) : [],
      references: shot ? sourcesByName(shot).filter(({ forComparing }) => forComparing) : [],
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
      return `${names.element} without ${nameIn(names.uses, other.use).toLowerCase()}`
    case 'frame':
      return `frame ${other.frame}`
    case 'source':
      return nameIn(names.references, other.id)
    case 'revision':
      return `revision ${other.revision}`
    case 'try':
      return nameIn(names.tries, other.id)
  }
}

export const otherText = (state: RootState): string => wordsOf(state.view.comparing.other, selectNames(state))

export function shownWords(shown: Shown, names: Names, other: Other, node: Node | null): string {
  switch (shown) {
    case 'node':
      return nodeWords(node, names)
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

function nodeWords(node: Node | null, names: Names): string {
  if (!node) return 'Nothing by itself'
  switch (node.kind) {
    case 'elements':
      return `${node.ids.length} elements alone`
    case 'source':
      return node.part === null ? 'The source alone' : `The pass ${node.part.replace(/_/g, ' ')} alone`
    case 'matte':
      return 'The matte alone'
    case 'element':
      return 'input' in node.upTo
        ? `The input of ${names.element}`
        : `${names.element} up to ${nameIn(names.uses, node.upTo.use).toLowerCase()}`
  }
}
