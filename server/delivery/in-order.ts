/** Several things under way at once, their results in order: what makes a delivery a pipeline. */

/** Of a delivery: one is read, one computed, one packed and written. */
export const framesAtOnce = 3
/** Of frames of which only windows are read: little memory each, and mostly they wait for files and for one another's threads. */
export const windowsAtOnce = 6

/** How one of them ended. */
export type Ended<T, R> = { readonly item: T; readonly result: R } | { readonly item: T; readonly error: unknown }

/**
 * Begins the next item as soon as fewer than `atOnce` are begun and not yet handed out, so memory stays bounded however many
 * there are.
 */
export async function* inOrder<T, R>(
  items: Iterable<T>,
  atOnce: number,
  one: (item: T) => Promise<R>,
): AsyncGenerator<Ended<T, R>> {
  const underWay: Promise<Ended<T, R>>[] = []
  const begin = (item: T): Promise<Ended<T, R>> =>
    one(item).then(
      (result) => ({ item, result }),
      (error: unknown) => ({ item, error }),
    )
  for (const item of items) {
    underWay.push(begin(item))
    const [first] = underWay
    if (underWay.length === atOnce) {
      underWay.shift()
      yield await first
    }
  }
  for (const last of underWay) yield await last
}
