/** Shot files that lie among the media: each is read when it is new or has changed, and not at every look at the list. */

import { fingerprintOf } from '../media/catalog'

export class AdoptedFiles {
  private readonly known = new Map<string, { readonly state: string | null; readonly complaint: string | null }>()

  /** @param adopt takes a file in @throws an error whose sentence is kept */
  constructor(private readonly adopt: (file: string) => Promise<unknown>) {}

  /** @returns sentences about files that cannot be taken in */
  async look(files: readonly string[]): Promise<string[]> {
    const complaints: string[] = []
    for (const file of files) {
      const state = await fingerprintOf(file)
      const before = this.known.get(file)
      const complaint = before?.state === state ? before.complaint : await this.take(file)
      this.known.set(file, { state, complaint })
      if (complaint !== null) complaints.push(complaint)
    }
    return complaints
  }

  private async take(file: string): Promise<string | null> {
    try {
      await this.adopt(file)
      return null
    } catch (error) {
      return error instanceof Error ? error.message : String(error)
    }
  }
}
