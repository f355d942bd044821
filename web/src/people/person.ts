/** What the person at this browser is called. Nobody is asked for proof; it stands beside their changes. */

const storageKey = 'enkrasis-person'
const longest = 100

export function personName(): string {
  try {
    return localStorage.getItem(storageKey) ?? ''
  } catch {
    return ''
  }
}

export function rememberPerson(name: string): void {
  try {
    localStorage.setItem(storageKey, name.trim().slice(0, longest))
  } catch {
    // Without a store the name cannot be kept; changes stay without one.
  }
}
