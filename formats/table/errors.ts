/** A table that cannot be used; every message is a sentence that names file and line where there is one. */

export class UnusableTableError extends Error {
  override readonly name = 'UnusableTableError'
  constructor(
    readonly file: string,
    readonly what: string,
  ) {
    super(`Reading the table ${file}: ${what}. Export it again.`)
  }
}
