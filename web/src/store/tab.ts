/** Names this tab to the server, so that it can tell its edits from other tabs'. The same after a reload. */

const storageKey = 'enkrasis-tab'

function kept(): string | null {
  try {
    return sessionStorage.getItem(storageKey)
  } catch {
    return null
  }
}

function keep(name: string): void {
  try {
    sessionStorage.setItem(storageKey, name)
  } catch {
    // Without a store the name lasts until the page is left.
  }
}

let name = kept() ?? crypto.randomUUID()
keep(name)

export const tabName = (): string => name

/**
 * A tab that was duplicated has the name of the one it came from, which holds a lock on it; then it takes another.
 *
 * @returns when the name is settled
 */
export async function settleTabName(): Promise<void> {
  if (typeof navigator === 'undefined' || !('locks' in navigator)) return
  const lock = (wanted: string) =>
    new Promise<boolean>((resolve) => {
      navigator.locks
        .request(`${storageKey} ${wanted}`, { ifAvailable: true }, (lock) => {
          resolve(lock !== null)
          // Held as long as the page is there.
          return lock === null ? undefined : new Promise(() => undefined)
        })
        .catch(() => resolve(true))
    })
  if (await lock(name)) return
  name = crypto.randomUUID()
  keep(name)
  await lock(name)
}
