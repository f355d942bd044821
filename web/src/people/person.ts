/** What the person at this browser is called, and their colour. Nobody is asked for proof; it stands beside their changes. */

import { labelColours, type LabelColour } from '../../../core/shot'

const nameKey = 'enkrasis-person'
const colourKey = 'enkrasis-person-colour'
const longest = 100

function remembered(key: string): string {
  try {
    return localStorage.getItem(key) ?? ''
  } catch {
    return ''
  }
}

function remember(key: string, value: string): void {
  try {
    localStorage.setItem(key, value)
  } catch {
    // Without a store it cannot be kept; changes stay without it.
  }
}

export const personName = (): string => remembered(nameKey)

/** @returns null where none was chosen */
export function personColour(): LabelColour | null {
  const kept = remembered(colourKey)
  return labelColours.find((colour) => colour === kept) ?? null
}

export function rememberPerson(name: string, colour: LabelColour | null): void {
  remember(nameKey, name.trim().slice(0, longest))
  remember(colourKey, colour ?? '')
}
