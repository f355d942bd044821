/** What stands in the way of a picture, with its place and its remedy. Planning gives problems; it never throws. */

export interface Problem {
  /** the thing where the remedy is */
  readonly at:
    { readonly kind: 'shot' } | { readonly kind: 'source' | 'element' | 'treatment' | 'matte'; readonly id: string }
  readonly sentence: string
  /** what to do, as a sentence */
  readonly remedy: string
  /** `nothing`: there is no picture without it; `part`: the picture is made without what it concerns. Neither is delivered */
  readonly missing: 'nothing' | 'part'
}

/** A picture that somebody waits for cannot be made as the document says. */
export class UnplannedError extends Error {
  override readonly name = 'UnplannedError'
}

/** @throws UnplannedError for the first problem: what is delivered is what the document says or nothing */
export function refuseProblems(problems: readonly Problem[]): void {
  const [first] = problems
  if (first) throw new UnplannedError(`${first.sentence} ${first.remedy}`)
}
