/** File names that are a sequence: grouped by what stands before and after the frame number. */

import type { FileGroup } from '../../core/check'

/** No more missing numbers than this are listed. */
const mostMissing = 20

interface Gathering {
  readonly before: string
  readonly after: string
  readonly digits: number
  readonly numbers: number[]
}

/** The last run of digits before the extension is the frame number; it stands alone, or after a dot, dash or underscore. */
const numbered = /^(.*?)(\d+)(\.[A-Za-z0-9]+)$/

/**
 * Numbers of the same length belong together, and so do longer ones once no zeros pad them (`998, 999, 1000`). A single
 * numbered file is a file, not a sequence.
 */
export function groupFiles(names: readonly string[]): FileGroup[] {
  const gathered = new Map<string, Gathering>()
  const single: FileGroup[] = []
  for (const name of names) {
    const match = numbered.exec(name)
    if (!match || match[2].length > 9) {
      single.push(oneFile(name))
      continue
    }
    const [, before, digits, after] = match
    const padded = digits.startsWith('0') && digits.length > 1
    const length = padded
      ? digits.length
      : Math.min(digits.length, gatheredLength(gathered, before, after, digits.length))
    const key = `${before}/${length}/${after}`
    let group = gathered.get(key)
    if (!group) gathered.set(key, (group = { before, after, digits: length, numbers: [] }))
    group.numbers.push(Number(digits))
  }
  const groups = [...gathered.values()].map(groupOf)
  return [...groups, ...single].sort((a, b) => (a.pattern < b.pattern ? -1 : 1))
}

/** The padding of a group whose numbers have outgrown it, or the number's own length. */
function gatheredLength(
  gathered: ReadonlyMap<string, Gathering>,
  before: string,
  after: string,
  length: number,
): number {
  for (let shorter = 1; shorter < length; shorter++) if (gathered.has(`${before}/${shorter}/${after}`)) return shorter
  return length
}

function oneFile(name: string): FileGroup {
  return { pattern: name, frames: null, count: 1, missing: [] }
}

function groupOf({ before, after, digits, numbers }: Gathering): FileGroup {
  if (numbers.length === 1) return oneFile(`${before}${String(numbers[0]).padStart(digits, '0')}${after}`)
  numbers.sort((a, b) => a - b)
  const [first, last] = [numbers[0], numbers[numbers.length - 1]]
  const missing: number[] = []
  for (let i = 1; i < numbers.length && missing.length < mostMissing; i++)
    for (let n = numbers[i - 1] + 1; n < numbers[i] && missing.length < mostMissing; n++) missing.push(n)
  return {
    pattern: `${before}${'#'.repeat(digits)}${after}`,
    frames: { first, last },
    count: numbers.length,
    missing,
  }
}
