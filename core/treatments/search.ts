/** Finds treatments by what they should do: "softer", "less colour". */

import { treatmentKinds, treatments, type TreatmentKind } from '.'

const wordsIn = (text: string) =>
  text
    .toLowerCase()
    .split(/[^\p{L}\p{N}]+/u)
    .filter(Boolean)

/** How well a treatment answers: 4 by its very name, 3 by what it does, 2 by a part of its name, 1 by its help; 0: not at all. */
function rating(kind: TreatmentKind, wanted: readonly string[]): number {
  const { label, help, does } = treatments[kind]
  const all = (text: string) => {
    const words = wordsIn(text)
    return wanted.every((want) => words.some((word) => word.startsWith(want)))
  }
  if (wordsIn(label).join(' ') === wanted.join(' ')) return 4
  if (does.some(all)) return 3
  return all(label) ? 2 : all(`${label} ${help} ${does.join(' ')}`) ? 1 : 0
}

/**
 * @param text anything typed; nothing finds everything, in the order of the light path
 * @returns the best answers first
 */
export function findTreatments(text: string): readonly TreatmentKind[] {
  const wanted = wordsIn(text)
  if (wanted.length === 0) return treatmentKinds
  return treatmentKinds
    .map((kind) => ({ kind, rating: rating(kind, wanted) }))
    .filter((one) => one.rating > 0)
    .sort((a, b) => b.rating - a.rating)
    .map(({ kind }) => kind)
}
