/**
 * The folders that media are read from: the store, where shot files lie and what is imported is laid, and any others,
 * each known by the name of its folder. In the browser they stand beside the folders of the store.
 */

import { existsSync } from 'node:fs'
import { basename, join, resolve } from 'node:path'
import { pathInside, type MediaPlace } from './read-frame'

export class MediaRoots {
  private readonly others: ReadonlyMap<string, string>

  /** @throws Error when two would have the same name */
  constructor(
    readonly store: string,
    others: readonly string[] = [],
  ) {
    const named = new Map<string, string>()
    for (const folder of others) {
      const name = basename(folder)
      if (named.has(name) || existsSync(join(store, name)))
        throw new Error(
          `Two folders of media are called ${name}: ${named.get(name) ?? join(store, name)} and ${folder}. Rename one of them.`,
        )
      named.set(name, resolve(folder))
    }
    this.others = named
  }

  /** Names of the roots beside the store. */
  get names(): readonly string[] {
    return [...this.others.keys()]
  }

  /** What may be read, with paths relative to `folder`. */
  place(folder = this.store): MediaPlace {
    return { roots: [this.store, ...this.others.values()], folder }
  }

  /** @returns the real path of what the browser names. @throws OutsideMediaError, MissingFileError */
  pathOf(path: string): Promise<string> {
    return pathInside(this.place(), this.absolute(path), path)
  }

  /** @param path as the browser names it: relative to the store, or beginning with the name of another root */
  absolute(path: string): string {
    const [first, ...rest] = path.split('/')
    const other = this.others.get(first)
    return other === undefined ? resolve(this.store, path) : resolve(other, ...rest)
  }
}

/** For the command line. @param roots the shot file's own folder when none are given */
export function placeOf(roots: readonly string[] | undefined, folder: string): MediaPlace {
  return { roots: (roots ?? [folder]).map((root) => resolve(root)), folder }
}
