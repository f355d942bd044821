/** What the picture is compared with, in words. */

import { createSelector } from '@reduxjs/toolkit'
import { allOf, find, inOrder, nameOfUse, sourcesByName } from '../../../core/shot'
import type { Node } from '../../../core/plan/node'
import { treatments } from '../../../core/treatments'
import { selectDocument, selectElementIds } from '../store/selectors'
import type { RootState } from '../store/state'
import type { Other, Shown } from '../store/view'

interface Named {
  readonly id: string
  readonly name: string
}

/** Names of what can be compared: they do not change while a number is dragged. */
export interface Names {
  readonly element: string
  /** uses of treatments, and on what; `own`: on what is selected */
  readonly uses: readonly (Named & { readonly of: string; readonly own: boolean })[]
  readonly tries: readonly Named[]
  /** sources that are there to compare with */
  readonly references: readonly Named[]
}

export const selectNames = createSelector(
  [selectDocument, selectElementIds, (state: RootState) => state.shot.selection.primary],
  (shot, chosen, primary): Names => {
    const element = shot && chosen.length > 0 ? find(shot.elements, chosen[0]) : undefined
    const uses = shot ? allOf(shot.uses).sort((a, b) => (a.rank < b.rank ? -1 : 1)) : []
    return {
      element: chosen.length > 1 ? `${chosen.length} elements` : (element?.name ?? 'the element'),
      uses: uses.flatMap((use) => {
        const settings = shot && find(shot.treatments, use.treatment)
        const own = use.owner.kind === 'element' ? use.owner.id === element?.id : use.owner.kind === primary?.kind
        if (!shot || !settings) return []
        return [{ id: use.id, name: treatments[settings.kind].label, of: nameOfUse(shot, use), own }]
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
      return withoutWords(other.use, names)
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

function withoutWords(id: string, { uses }: Names): string {
  const use = uses.find((one) => one.id === id)
  return use ? `${use.of} without ${use.name.toLowerCase()}` : 'without what is gone'
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
    case 'straight':
      return 'Without its lens'
    case 'limit':
      return 'The limit’s matte alone'
    case 'matte':
      return 'The matte alone'
    case 'element':
      return 'input' in node.upTo
        ? `The input of ${names.element}`
        : `${names.element} up to ${nameIn(names.uses, node.upTo.use).toLowerCase()}`
  }
}
