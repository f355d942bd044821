/** Names of delivered files: a pattern with words in braces, `{shot}_comp_{version}.{frame}`. */

export const patternWords = ['shot', 'version', 'frame', 'output'] as const
export type PatternWord = (typeof patternWords)[number]

const word = /\{([^{}]*)\}/g
const frameDigits = 4

/** @returns what is wrong with a pattern, in a sentence, or null */
export function patternFault(pattern: string, needsFrame: boolean): string | null {
  const found = [...pattern.matchAll(word)].map(([, name]) => name)
  const unknown = found.find((name) => !patternWords.some((known) => known === name))
  if (unknown !== undefined)
    return `The name "${pattern}" has {${unknown}} in it, which stands for nothing. Use ${patternWords.map((known) => `{${known}}`).join(', ')}.`
  const rest = pattern.replace(word, '')
  if (/[{}]/.test(rest)) return `The name "${pattern}" has a brace without its other half. Close it or leave it out.`
  // Slashes would lead out of the folder; the others are refused by file systems that the files may be copied to.
  const odd = /[/\\:*?"<>|\p{Cc}]/u.exec(rest)
  if (odd) return `The name "${pattern}" has "${odd[0]}" in it, which file names cannot have. Leave it out.`
  if (pattern.trim() === '' || /^\.|^\s|[.\s]$/.test(pattern))
    return `The name "${pattern}" is empty, or begins or ends with a dot or a space. Write a name, for example {shot}_{output}_{version}.{frame}.`
  if (needsFrame && !found.includes('frame'))
    return `The name "${pattern}" has no {frame} in it, so all frames would have one name. Add {frame}.`
  if (!needsFrame && found.includes('frame'))
    return `The name "${pattern}" has {frame} in it, but all frames go into one file. Leave {frame} out.`
  return null
}

/** What the words of a pattern stand for. */
export interface Named {
  readonly shot: string
  readonly version: number
  readonly output: string
  /** null for a file that holds all frames */
  readonly frame: number | null
}

/** @returns a file name without its extension */
export function nameFrom(pattern: string, { shot, version, output, frame }: Named): string {
  const meaning: Readonly<Record<string, string>> = {
    shot,
    version: versionName(version),
    output,
    frame: frame === null ? '' : frameName(frame),
  }
  return pattern.replace(word, (all, name: string) => meaning[name] ?? all)
}

export const versionName = (version: number) => `v${String(version).padStart(3, '0')}`

const frameName = (frame: number) => `${frame < 0 ? '-' : ''}${String(Math.abs(frame)).padStart(frameDigits, '0')}`
